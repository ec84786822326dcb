import { folded, type FoldFilter } from '../api/queries'
import type { Scope } from '../app/place'
import type { Fold } from './acts'

// How many tasks of a row are dealt with at once; the server takes no more.
const most = 500

// mattersOf are the matters of some rows: of one with many, those that the server tells.
export async function mattersOf(scope: Scope, filter: FoldFilter, folds: Fold[]): Promise<string[]> {
  const out: string[] = []
  for (const f of folds) {
    if (f.count === 1) {
      if (f.first.task?.matter) out.push(f.first.task.matter.id)
      continue
    }
    for (let past = 0; past < f.count;) {
      const rows = await folded(scope, filter, f.id, past)
      if (rows.length === 0) break
      past += rows.length
      out.push(...rows.flatMap((r) => (r.task?.matter ? [r.task.matter.id] : [])))
    }
  }
  if (out.length > most) throw new Error(`These are ${out.length} matters; choose ${most} at most.`)
  return out
}
