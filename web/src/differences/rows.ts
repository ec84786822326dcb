import type { Schemas } from '../api/client'

export type Difference = Schemas['Difference']

// Row is one difference: a value that one location shows wrongly, on all the pages that have it from the same source.
export type Row = {
  id: string
  first: Difference // the source's page, or else the first that showed it
  pages: Difference[] // each behind the one that it has the value from
  people: number
  once: number
}

const value = (d: Difference) => d.seen.toLowerCase().replace(/\s+/g, ' ')

// rowsOf puts the pages together that show one wrong value from one source.
export function rowsOf(list: Difference[]): Row[] {
  const rows = new Map<string, Row>()
  for (const d of list) {
    const id = [d.location, d.fact, d.source, value(d)].join(' ')
    const row = rows.get(id)
    if (row) {
      row.pages.push(d)
      row.people += d.people
      row.once += d.once
    } else rows.set(id, { id, first: d, pages: [d], people: d.people, once: d.once })
  }
  for (const row of rows.values()) {
    row.pages.sort((a, b) => depth(a) - depth(b) || (a.since ?? '').localeCompare(b.since ?? ''))
    row.first = row.pages[0]!
  }
  return [...rows.values()]
}

const depth = (d: Difference) => (d.parent === '' ? 0 : d.parent === d.source ? 1 : 2)

// By is what rows are put together by.
export type By = 'source' | 'fact' | 'place' | 'directory' | 'cost'

export const bys: { id: By; title: string }[] = [
  { id: 'source', title: 'Source' },
  { id: 'fact', title: 'Fact' },
  { id: 'place', title: 'Place' },
  { id: 'directory', title: 'Directory' },
  { id: 'cost', title: 'Cost alone' },
]

export type Group = { id: string; title: string; says: string; rows: Row[]; people: number }

// groupsOf puts rows into groups, the dearest group first; the order of rows in each stays.
export function groupsOf(rows: Row[], by: By): Group[] {
  const groups = new Map<string, Group>()
  for (const row of rows) {
    const [id, title] = nameOf(row, by)
    const group = groups.get(id) ?? { id, title, says: '', rows: [], people: 0 }
    group.rows.push(row)
    group.people += row.people
    groups.set(id, group)
  }
  for (const g of groups.values()) g.says = by === 'source' ? saysOf(g) : ''
  if (by === 'cost') return [...groups.values()]
  return [...groups.values()].sort((a, b) => b.people - a.people)
}

function nameOf(row: Row, by: By): [string, string] {
  const d = row.first
  switch (by) {
    case 'source':
      return [d.source, d.source_name]
    case 'fact':
      return [d.fact, d.title]
    case 'place':
      return [d.location, `${d.label}, ${d.client_name}`]
    case 'directory':
      return [d.directory, d.directory_name]
    case 'cost':
      return [row.id, '']
  }
}

function saysOf(g: Group): string {
  if (g.id === 'ourselves') return 'in the record, not sent'
  const copies = new Set(g.rows.flatMap((r) => r.pages.filter((p) => p.parent !== '').map((p) => p.directory_name)))
  const unseen = g.rows.some((r) => r.first.unseen)
  if (copies.size === 0) return ''
  return `${[...copies].join(', ')} ${copies.size === 1 ? 'has' : 'have'} it from there${unseen ? ', by what copies from what' : ''}`
}

// sendable are the pages of a row on which a correction can be sent by a program: the source, and those that would not
// correct themselves.
export const sendable = (row: Row) => row.pages.filter((p) => p.worked === 'connected' && p.held && !p.follows && p.cannot === '')

// byHand are those that people mend, in other ways.
export const byHand = (row: Row) => row.pages.filter((p) => p.worked !== 'connected' && !p.follows && p.cannot === '')

// notOurs are those that are not ours: nothing can be sent there before they are.
export const notOurs = (row: Row) => row.pages.filter((p) => p.worked === 'connected' && !p.held && !p.follows && p.cannot === '')

export const following = (row: Row) => row.pages.filter((p) => p.follows)
