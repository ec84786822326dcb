import type { ListingRow } from '../api/client'
import { folded, type FoldFilter } from '../api/queries'
import type { Scope } from '../app/place'
import type { Fold } from './acts'

// How many tasks of a row are dealt with at once; the server takes no more.
const most = 500

// keyOf tells one of a row from the others.
export const keyOf = (r: ListingRow) => r.location + ' ' + r.directory

// Out are those of each row that are left out of it, by the row's id.
export type Out = Readonly<Record<string, readonly string[]>>

// chosenOf are all that some rows stand for, but what is left out: of one with many, those that the server tells.
export async function chosenOf(scope: Scope, filter: FoldFilter, folds: Fold[], out: Out): Promise<ListingRow[]> {
  const all: ListingRow[] = []
  for (const f of folds) {
    if (f.count === 1) {
      all.push(f.first)
      continue
    }
    for (let past = 0; past < f.count;) {
      const rows = await folded(scope, filter, f.id, past)
      if (rows.length === 0) break
      past += rows.length
      all.push(...rows.filter((r) => !out[f.id]?.includes(keyOf(r))))
    }
  }
  if (all.length > most) throw new Error(`These are ${all.length} matters; choose ${most} at most.`)
  return all
}
