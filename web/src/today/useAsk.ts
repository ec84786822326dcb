import { api, told, type ListingRow } from '../api/client'
import { counted } from '../app/View'
import { useVerb } from '../kit/verb'

// What an owner is asked for about a matter, by its kind; of others they are asked on the listing's page.
const things: Partial<Record<string, 'code'>> = { code_due: 'code', code_late: 'code' }

// asksOwner reports whether the owner can be asked about a row.
export const asksOwner = (r: ListingRow) => !!r.task?.kind && r.task.kind in things

// How many are asked for at once; the server takes no more.
const most = 200

// useAsk asks the owners of rows, which are known when it is done: each owner gets one letter about all of theirs.
export function useAsk(rows: () => Promise<ListingRow[]>, then?: () => void) {
  return useVerb({
    does: async () => {
      const of = (await rows()).filter(asksOwner)
      if (of.length === 0) throw new Error('There is nothing here that an owner is asked for by letter.')
      if (of.length > most) throw new Error(`These are ${of.length} things; ask for ${most} at most.`)
      const items = of.map((r) => ({ location: r.location, directory: r.directory, task: things[r.task!.kind!]! }))
      return told(api.POST('/api/owner-asks', { body: { items } }))
    },
    changes: ['today', 'today-rest'],
    then,
    says: ({ asked, refused }) =>
      [
        asked > 0 && `${counted(asked, 'thing')} asked for; each owner gets one letter.`,
        refused.length > 0 && `${refused.length} cannot be: ${refused[0]!.says}`,
      ]
        .filter(Boolean)
        .join(' '),
    tells: true,
  })
}
