import { useMutation, useMutationState, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, Refusal, told, type Schemas } from '../api/client'

type Sheet = Schemas['Worksheet']
type Value = Schemas['Ticks']['values'][number]

// Change is that a value was given, or is not any more; or where the page there is.
type Change = { value: Value; page?: undefined } | { page: string; value?: undefined }

// Tick is a change, numbered by the window that made it: the server passes over what it hears again, or
// after what came later.
type Tick = Change & { window: string; number: number }

// ticked is a worksheet with one more value given, or taken back.
function ticked(sheet: Sheet, { value }: Change): Sheet {
  return { ...sheet, lines: sheet.lines.map((x) => (x.value.key === value?.key ? { ...x, given: value.given } : x)) }
}

// kept are the ticks of a worksheet that nobody has said to have arrived, in the tab’s own memory: a page
// that is left may end before it can send them, and the next one does.
const kept = {
  read: (key: string): Tick[] => JSON.parse(sessionStorage.getItem(key) ?? '[]') as Tick[],
  write: (key: string, ticks: Tick[]) =>
    ticks.length > 0 ? sessionStorage.setItem(key, JSON.stringify(ticks)) : sessionStorage.removeItem(key),
  add: (key: string, tick: Tick) => kept.write(key, [...kept.read(key), tick]),
  drop: (key: string, { window, number }: Tick) =>
    kept.write(
      key,
      kept.read(key).filter((t) => t.window !== window || t.number > number),
    ),
}

// numbering counts the ticks that one window makes.
function numbering(): () => { window: string; number: number } {
  const window = crypto.randomUUID()
  let number = 0
  return () => ({ window, number: ++number })
}

// together are several ticks of one window as one request.
function together(ticks: Tick[]): Schemas['Ticks'] {
  const values = new Map(ticks.flatMap((t) => (t.value ? [[t.value.key, t.value] as const] : []))) // the last of each
  const last = ticks.at(-1)!
  return {
    window: last.window,
    number: last.number,
    values: [...values.values()],
    page: ticks.filter((t) => t.page !== undefined).at(-1)?.page,
  }
}

// useTicks keeps ticks of a worksheet one after the other. They are shown before they are kept, and
// reach the server also when the page is left meanwhile.
export function useTicks(location: string, directory: string) {
  const key = ['worksheet', location, directory]
  const memory = key.join('/')
  const queries = useQueryClient()
  const [staying] = useState(() => new AbortController())
  const [next] = useState(numbering)
  const put = (ticks: Tick[], how: { signal?: AbortSignal; keepalive?: boolean }) =>
    told(
      api.POST('/api/listings/{location}/{directory}/worksheet/ticks', {
        params: { path: { location, directory } },
        body: together(ticks),
        ...how,
      }),
    )
  const { mutate, error } = useMutation({
    mutationKey: key,
    scope: { id: memory }, // a tick and its taking back reach the server in their order
    mutationFn: (tick: Tick) => put([tick], { signal: staying.signal }),
    // What is being read may be older than the tick.
    onSuccess: async (_, tick) => {
      kept.drop(memory, tick)
      await queries.cancelQueries({ queryKey: key })
      queries.setQueryData<Sheet>(key, (old) => old && ticked(old, tick))
    },
    onError: (e, tick) => {
      if (e instanceof Refusal && e.status >= 400 && e.status < 500) kept.drop(memory, tick) // it is never taken
    },
    onSettled: () => {
      if (queries.isMutating({ mutationKey: key }) === 1) void queries.invalidateQueries({ queryKey: key }) // the last one
    },
  })
  // Whatever is read meanwhile, ticks that are under way are shown.
  const underWay = useMutationState({
    filters: { mutationKey: key, status: 'pending' },
    select: (m) => m.state.variables as Tick,
  })
  useEffect(() => {
    const begun = queries.getMutationCache().findAll({ mutationKey: memory.split('/') })
    const ours = new Set(begun.map((m) => m.state.variables as Tick).map((t) => t.window + t.number))
    for (const tick of kept.read(memory)) if (!ours.has(tick.window + tick.number)) mutate(tick)
  }, [memory, mutate, queries])
  useEffect(() => {
    const flush = () => {
      const left = queries.getMutationCache().findAll({ mutationKey: key, status: 'pending' })
      if (left.length === 0) return
      staying.abort() // those that wait are not begun
      const ticks = left.map((m) => m.state.variables as Tick)
      for (const from of new Set(ticks.map((t) => t.window))) {
        const its = ticks.filter((t) => t.window === from)
        void put(its, { keepalive: true }).catch(() => {}) // nobody is left to be told
      }
    }
    window.addEventListener('pagehide', flush)
    return () => window.removeEventListener('pagehide', flush)
  })
  const tick = (change: Change) => {
    const numbered = { ...change, ...next() }
    kept.add(memory, numbered)
    mutate(numbered)
  }
  return { tick, error, shown: (sheet: Sheet) => underWay.reduce(ticked, sheet) }
}
