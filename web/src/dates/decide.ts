import { api, told, type Schemas } from '../api/client'
import { counted } from '../app/View'
import { useVerb, type Verb } from '../kit/verb'
import type { Sitting } from '../record/parts/week'

export type DateRow = Schemas['SpecialDate']

// What holds on a date: the usual hours, these ones, or none of it: closed.
type Decided = { usual?: boolean; sittings?: Sitting[] }

export type Decision = { dates: DateRow[]; what: Decided }
export type Decide = Verb<{ changes: string[]; saved: number }, Decision>

export const keyOf = (d: DateRow) => d.from + d.to

// undecided are the locations at which nothing is said of a date.
export const undecided = (d: DateRow) => d.places.filter((p) => !p.decided)

// useDecide writes decisions into the records that say nothing yet, and offers to undo it.
export function useDecide(done: () => void): Decide {
  return useVerb({
    does: decide,
    changes: 'all',
    then: done,
    says: ({ saved }, { dates }) => `${counted(dates.length, 'date')} decided in ${counted(saved, 'record')}.`,
    undo: async ({ changes }) => {
      for (const change of [...changes].reverse()) {
        await told(api.POST('/api/record-changes/{change}/undo', { params: { path: { change } } }))
      }
      return 'The records are as they were before.'
    },
  })
}

// decide decides dates that are open at the same locations together.
async function decide({ dates, what }: Decision) {
  const groups = new Map<string, { locations: string[]; dates: Schemas['Span'][] }>()
  for (const d of dates) {
    const locations = undecided(d).map((p) => p.location)
    const key = locations.join()
    const group = groups.get(key) ?? { locations, dates: [] }
    group.dates.push({ from: d.from, to: d.to })
    groups.set(key, group)
  }
  const changes: string[] = []
  let saved = 0
  for (const g of groups.values()) {
    const body = { ...g, usual: what.usual ?? false, sittings: what.sittings ?? [] }
    const out = await told(api.POST('/api/special-dates', { body }))
    changes.push(out.change)
    saved += out.saved
  }
  return { changes, saved }
}
