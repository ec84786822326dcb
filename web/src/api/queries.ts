import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/react-query'
import type { Scope } from '../app/place'
import { api, told, type Listing, type Schemas } from './client'

const query = (scope: Scope) => ({ params: { query: { client: scope.client, location: scope.location } } })

export const useSession = () =>
  useQuery({ queryKey: ['session'], queryFn: () => told(api.GET('/api/session')), retry: false, staleTime: Infinity })

export const useClients = () => useQuery({ queryKey: ['clients'], queryFn: () => told(api.GET('/api/clients')) })

export const useClient = (id: string | undefined) =>
  useQuery({
    queryKey: ['client', id],
    queryFn: () => told(api.GET('/api/clients/{client}', { params: { path: { client: id! } } })),
    enabled: !!id,
  })

// FoldFilter is which rows of Today are shown.
export type FoldFilter = { group: Schemas['TaskGroup']; directory?: string; with?: string; search?: string }

// useFolds reads what is done once in a scope, a page at a time.
export const useFolds = (scope: Scope, f: FoldFilter) =>
  useInfiniteQuery({
    queryKey: ['today', scope, 'folds', f],
    queryFn: ({ pageParam }) =>
      told(
        api.GET('/api/today/folds', {
          params: { query: { client: scope.client, location: scope.location, ...f, past: pageParam || undefined } },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
  })

// folded reads the tasks of one row, past some.
export const folded = (scope: Scope, f: FoldFilter, fold: string, past: number) =>
  told(api.GET('/api/today/folded', { params: { query: { client: scope.client, location: scope.location, ...f, fold, past } } }))

// useFolded reads the tasks of one row, a page at a time.
export const useFolded = (scope: Scope, f: FoldFilter, fold: string) =>
  useInfiniteQuery({
    queryKey: ['today', scope, 'folded', f, fold],
    queryFn: ({ pageParam }) => folded(scope, f, fold, pageParam),
    initialPageParam: 0,
    getNextPageParam: (last, _, past) => (last.length === 50 ? past + last.length : undefined),
  })

// useMatters reads what a listing wanted of people and wants now.
export const useMatters = (location: string, directory: string) =>
  useQuery({
    queryKey: ['today', 'matters', location, directory],
    queryFn: () => told(api.GET('/api/listings/{location}/{directory}/matters', { params: { path: { location, directory } } })),
  })

// useBegun lists the listings of a scope that were begun.
export const useBegun = (scope: Scope) =>
  useQuery({
    queryKey: ['listings', scope],
    queryFn: () => told(api.GET('/api/listings', { params: { query: { client: scope.client, location: scope.location, begun: true } } })),
  })

// useCounts counts a scope's locations and listings.
export const useCounts = (scope: Scope) =>
  useQuery({
    queryKey: ['counts', scope],
    queryFn: () => told(api.GET('/api/coverage', { params: { query: { client: scope.client, location: scope.location, most: 1 } } })),
  })

export const useDirectoryCounts = (scope: Scope) =>
  useQuery({ queryKey: ['directory-counts', scope], queryFn: () => told(api.GET('/api/directory-counts', query(scope))) })

export const useSpecialDates = (scope: Scope) =>
  useQuery({ queryKey: ['special-dates', scope], queryFn: () => told(api.GET('/api/special-dates', query(scope))) })

export const useListing = (location: string, directory: string) =>
  useQuery({
    queryKey: ['listing', location, directory],
    queryFn: () => told(api.GET('/api/listings/{location}/{directory}', { params: { path: { location, directory } } })),
  })

export const usePeople = () => useQuery({ queryKey: ['people'], queryFn: () => told(api.GET('/api/people')) })

export const useCases = (scope: Scope) =>
  useQuery({ queryKey: ['cases', scope.client, scope.location], queryFn: () => told(api.GET('/api/cases', query(scope))) })

export const useCase = (location: string, directory: string, id: string) =>
  useQuery({
    queryKey: ['case', location, directory, id],
    queryFn: () =>
      told(api.GET('/api/listings/{location}/{directory}/cases/{case}', { params: { path: { location, directory, case: id } } })),
  })

// useSeesAll is whether one sees all clients, and so what they share.
export const useSeesAll = () => useSession().data?.limited === false

export const useNotices = () => useQuery({ queryKey: ['notices'], queryFn: () => told(api.GET('/api/notices')), enabled: useSeesAll() })

export const useRisks = (location: string) =>
  useQuery({
    queryKey: ['risks', location],
    queryFn: () => told(api.GET('/api/locations/{location}/risks', { params: { path: { location } } })),
  })

// useSpoken asks the directory itself. What happened last is in the key: after it, it is
// asked anew.
export const useSpoken = (l: Listing) =>
  useQuery({
    queryKey: ['spoken', l.row.location, l.row.directory, l.history.length],
    queryFn: () =>
      told(
        api.GET('/api/listings/{location}/{directory}/posts', {
          params: { path: { location: l.row.location, directory: l.row.directory } },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  })

export const useLocationRecord = (id: string | undefined) =>
  useQuery({
    queryKey: ['location', id],
    queryFn: () => told(api.GET('/api/locations/{location}', { params: { path: { location: id! } } })),
    enabled: !!id,
  })

export const useDirectories = () =>
  useQuery({ queryKey: ['directories'], queryFn: () => told(api.GET('/api/directories')), staleTime: Infinity })

export const useFacts = () => useQuery({ queryKey: ['facts'], queryFn: () => told(api.GET('/api/facts')), staleTime: Infinity })

export const useMap = () => useQuery({ queryKey: ['map'], queryFn: () => told(api.GET('/api/map')), staleTime: Infinity })

export const useRegions = () =>
  useQuery({
    queryKey: ['regions'],
    queryFn: () => told(api.GET('/api/regions')),
    refetchInterval: (q) => q.state.data?.some((r) => r.state === 'reading') && 1500, // it changes by itself
  })

export const useAccounts = () => useQuery({ queryKey: ['accounts'], queryFn: () => told(api.GET('/api/accounts')), enabled: useSeesAll() })

// How often, in ms, it is looked how directories answer: nobody tells of that.
const connectionsLooked = 5_000

export const useConnections = () =>
  useQuery({
    queryKey: ['connections'],
    queryFn: () => told(api.GET('/api/connections')),
    enabled: useSeesAll(),
    refetchInterval: connectionsLooked,
  })

// useCoverageNames lists locations by name, as many as one page holds.
export const useCoverageNames = () =>
  useQuery({
    queryKey: ['coverage-names'],
    queryFn: async () => (await told(api.GET('/api/coverage', { params: { query: { most: 200 } } }))).rows,
  })

// useRulebookProblems are what is wrong with rulebooks that are not in force.
export const useRulebookProblems = () =>
  useQuery({ queryKey: ['rulebook-problems'], queryFn: () => told(api.GET('/api/rulebook-problems')) })

// DifferenceFilter is which of a scope's differences are shown.
export type DifferenceFilter = {
  standing?: Schemas['Difference']['standing']
  directory?: string
  fact?: string
  search?: string
  most?: number
}

// useDifferences reads where pages of a scope do not mean what the record says.
export const useDifferences = (scope: Scope, f: DifferenceFilter, on = true) =>
  useQuery({
    queryKey: ['differences', scope, f],
    queryFn: () => told(api.GET('/api/differences', { params: { query: { client: scope.client, location: scope.location, ...f } } })),
    placeholderData: keepPreviousData,
    enabled: on,
  })
