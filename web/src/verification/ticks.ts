import { useMutation, useMutationState, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, told, type Schemas } from '../api/client'

type Sheet = Schemas['Worksheet']

// Tick is that a value was given, or is not any more; or, without a key, where the page there is.
type Tick = { key: string; text: string; given: boolean; page?: string }

// ticked is a worksheet with one more value given, or taken back.
function ticked(sheet: Sheet, tick: Tick): Sheet {
  return { ...sheet, lines: sheet.lines.map((x) => (x.value.key === tick.key ? { ...x, given: tick.given } : x)) }
}

// useTicks keeps ticks of a worksheet one after the other. They are shown before they are kept, and
// reach the server also when the page is left meanwhile.
export function useTicks(location: string, directory: string) {
  const key = ['worksheet', location, directory]
  const queries = useQueryClient()
  const [staying] = useState(() => new AbortController())
  const put = (body: Tick, how: { signal?: AbortSignal; keepalive?: boolean }) =>
    told(api.POST('/api/listings/{location}/{directory}/worksheet/ticks', { params: { path: { location, directory } }, body, ...how }))
  const tick = useMutation({
    mutationKey: key,
    scope: { id: key.join('/') }, // a tick and its taking back reach the server in their order
    mutationFn: (body: Tick) => put(body, { signal: staying.signal }),
    // What is being read may be older than the tick.
    onSuccess: async (_, body) => {
      await queries.cancelQueries({ queryKey: key })
      queries.setQueryData<Sheet>(key, (old) => old && ticked(old, body))
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
    const flush = () => {
      const left = queries.getMutationCache().findAll({ mutationKey: key, status: 'pending' })
      const last = new Map(left.map((m) => m.state.variables as Tick).map((t) => [t.key, t]))
      staying.abort() // what is on its way could arrive after what follows
      for (const t of last.values()) void put(t, { keepalive: true }).catch(() => {}) // nobody is left to be told
    }
    window.addEventListener('pagehide', flush)
    return () => window.removeEventListener('pagehide', flush)
  })
  return { tick: tick.mutate, error: tick.error, shown: (sheet: Sheet) => underWay.reduce(ticked, sheet) }
}
