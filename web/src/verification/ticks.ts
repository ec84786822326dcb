import { useMutation, useMutationState, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, told, type Schemas } from '../api/client'

type Sheet = Schemas['Worksheet']
type Value = Schemas['Ticks']['values'][number]

// Change is that a value was given, or is not any more; or where the page there is.
type Change = { value: Value; page?: undefined } | { page: string; value?: undefined }

// ticked is a worksheet with one more value given, or taken back.
function ticked(sheet: Sheet, { value }: Change): Sheet {
  return { ...sheet, lines: sheet.lines.map((x) => (x.value.key === value?.key ? { ...x, given: value.given } : x)) }
}

// numbering counts what one window sends of a worksheet, so that the server knows what came late.
function numbering(): () => { window: string; number: number } {
  const window = crypto.randomUUID()
  let number = 0
  return () => ({ window, number: ++number })
}

// useTicks keeps ticks of a worksheet one after the other. They are shown before they are kept, and
// reach the server also when the page is left meanwhile.
export function useTicks(location: string, directory: string) {
  const key = ['worksheet', location, directory]
  const queries = useQueryClient()
  const [staying] = useState(() => new AbortController())
  const [next] = useState(numbering)
  const put = (changes: Change[], how: { signal?: AbortSignal; keepalive?: boolean }) => {
    const values = new Map(changes.flatMap((c) => (c.value ? [[c.value.key, c.value] as const] : []))) // the last of each
    const body = { ...next(), values: [...values.values()], page: changes.filter((c) => c.page !== undefined).at(-1)?.page }
    return told(
      api.POST('/api/listings/{location}/{directory}/worksheet/ticks', { params: { path: { location, directory } }, body, ...how }),
    )
  }
  const tick = useMutation({
    mutationKey: key,
    scope: { id: key.join('/') }, // a tick and its taking back reach the server in their order
    mutationFn: (change: Change) => put([change], { signal: staying.signal }),
    // What is being read may be older than the tick.
    onSuccess: async (_, change) => {
      await queries.cancelQueries({ queryKey: key })
      queries.setQueryData<Sheet>(key, (old) => old && ticked(old, change))
    },
    onSettled: () => {
      if (queries.isMutating({ mutationKey: key }) === 1) void queries.invalidateQueries({ queryKey: key }) // the last one
    },
  })
  // Whatever is read meanwhile, ticks that are under way are shown.
  const underWay = useMutationState({
    filters: { mutationKey: key, status: 'pending' },
    select: (m) => m.state.variables as Change,
  })
  useEffect(() => {
    const flush = () => {
      const left = queries.getMutationCache().findAll({ mutationKey: key, status: 'pending' })
      if (left.length === 0) return
      staying.abort() // those that wait are not begun; of what is on its way the server knows that it was given up
      const changes = left.map((m) => m.state.variables as Change)
      void put(changes, { keepalive: true }).catch(() => {}) // nobody is left to be told
    }
    window.addEventListener('pagehide', flush)
    return () => window.removeEventListener('pagehide', flush)
  })
  return { tick: tick.mutate, error: tick.error, shown: (sheet: Sheet) => underWay.reduce(ticked, sheet) }
}
