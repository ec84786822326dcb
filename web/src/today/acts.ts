import type { ListingRow, Schemas } from '../api/client'
import { casePath, listingPath, pathOf, type Scope } from '../app/place'
import { counted } from '../app/View'

export type Fold = Schemas['Fold']

const words: Record<Schemas['Task']['act'], string> = {
  search: 'Search',
  decide: 'Claim or create',
  verify: 'Choose a way',
  enter_code: 'Enter code',
  ask_again: 'Ask again',
  look_again: 'Look again',
  open: 'Open the listing',
  give: 'Bring it there',
  begin: 'Begin',
  argue: 'See the case',
  hold: 'Say',
  follow: 'Tell them',
  leave: 'Leave it there',
}

// actOf is what one task's button says, and where it leads.
export function actOf(row: ListingRow): { says: string; to: string } {
  const t = row.task!
  const listing = listingPath(row.location, row.directory)
  const to = {
    begin: pathOf('verification', { location: row.location }) + '?round=search',
    follow: pathOf('record', { location: row.location }) + '/course',
    argue: row.case ? casePath(row.location, row.directory, row.case) : listing,
    give: listing + '?look=worksheet',
    hold: listing + '?look=fit',
  }
  return { says: words[t.act], to: t.act in to ? to[t.act as keyof typeof to] : listing }
}

// foldActOf is where all of a row are done together; none where they are done one by one.
export function foldActOf(f: Fold, scope: Scope): { says: string; to: string } | undefined {
  switch (f.first.task?.kind) {
    case 'to_search':
    case 'several':
      return { says: 'Search them', to: pathOf('verification', scope) + '?round=search' }
    case 'to_verify':
      return { says: 'Verify them', to: pathOf('verification', scope) + '?round=verify' }
    case 'stale':
      return { says: 'Send them', to: pathOf('verification', scope) + '?round=send' }
    case 'to_hand_in':
      return { says: 'Make the file', to: pathOf('directories', scope) + '?directory=' + f.first.directory }
  }
}

// forWhom names the client of a row, always, and what of theirs.
export function forWhom(f: Fold): { who: string; more: string } {
  if (f.count === 1) return { who: f.first.client_name, more: ', ' + f.first.label }
  if (f.clients > 1) return { who: f.first.client_name, more: ' and ' + counted(f.clients - 1, 'more', 'more') }
  return { who: f.first.client_name, more: f.locations === 1 ? ', ' + f.first.label : ', ' + counted(f.locations, 'place') }
}

// lostOf is what waiting means for all of a row, where that is the same for each.
export function lostOf(f: Fold): string {
  switch (f.first.task?.kind) {
    case 'to_search':
    case 'several':
      return 'Nothing is known of them there yet.'
    case 'to_verify':
      return 'Nothing shows until they are.'
    case 'to_hand_in':
    case 'stale':
      return f.first.task.says
    default:
      return ''
  }
}

// minutesOf are what rows take a specialist, in minutes.
export const minutesOf = (rows: Fold[]) => rows.reduce((n, r) => n + r.minutes, 0)

// taking says how long so many minutes of work are.
export const taking = (minutes: number) =>
  minutes < 90 ? counted(Math.max(1, Math.round(minutes)), 'minute') : `about ${counted(Math.round(minutes / 60), 'hour')}`
