import { keepPreviousData, useQueries } from '@tanstack/react-query'
import { api, told, type Schemas } from '../api/client'
import type { Scope } from '../app/place'

// Order is by place, or what gains most first.
export type Order = 'place' | 'gain'
// How many locations a page holds.
export const page = 100

// coverageQuery asks for one page of a scope's locations.
const coverageQuery = (scope: Scope, order: Order, n: number) => ({
  queryKey: ['coverage', scope, order, n],
  queryFn: () =>
    told(
      api.GET('/api/coverage', {
        params: { query: { client: scope.client, location: scope.location, order, past: n * page, most: page } },
      }),
    ),
  placeholderData: keepPreviousData,
})

// usePages asks for the pages that are looked at, and the first, which counts.
export function usePages(scope: Scope, order: Order, wanted: number[]) {
  const numbers = [...new Set([0, ...wanted])]
  const answers = useQueries({ queries: numbers.map((n) => coverageQuery(scope, order, n)) })
  const rows = new Map<number, Schemas['CoverageRow']>()
  answers.forEach((a, i) => {
    if (!a.isPlaceholderData) a.data?.rows.forEach((r, j) => rows.set(numbers[i]! * page + j, r))
  })
  return { first: answers[0]?.data, error: answers.find((a) => a.error)?.error ?? null, rows }
}
