import { keepPreviousData, useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, use } from 'react'
import { api, told, type Schemas } from '../api/client'
import { useVerb, type Verb } from '../kit/verb'

export type Import = Schemas['Import']
export type Row = Schemas['ImportRow']
export type Alike = Schemas['Alike']
export type Edit = Schemas['ImportEdit']
export type Show = '' | 'decide' | 'waits' | 'without' | 'guessed' | 'fine' | 'out' | 'skipped'

const path = (id: string) => ({ params: { path: { import: id } } })

// underWay are the states in which a file changes by itself.
export const underWay = (i: { state: Import['state'] }) => i.state === 'reading' || i.state === 'bringing' || i.state === 'taking_back'

export const useImport = (id: string) =>
  useQuery({
    queryKey: ['import', id],
    queryFn: () => told(api.GET('/api/imports/{import}', path(id))),
    refetchInterval: (q) => (q.state.data && underWay(q.state.data) ? 1500 : false),
  })

export const useAlike = (id: string) =>
  useQuery({ queryKey: ['import', id, 'alike'], queryFn: () => told(api.GET('/api/imports/{import}/alike', path(id))) })

export const useRows = (id: string, show: Show, search: string) =>
  useInfiniteQuery({
    queryKey: ['import', id, 'rows', show, search],
    queryFn: ({ pageParam }) =>
      told(
        api.GET('/api/imports/{import}/rows', {
          params: {
            path: { import: id },
            query: {
              show: show === '' || show === 'skipped' ? undefined : show,
              search: search || undefined,
              behind: pageParam || undefined,
            },
          },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (last) => last.next || undefined,
    placeholderData: keepPreviousData,
    enabled: show !== 'skipped',
  })

export const useImports = (client: string | undefined) =>
  useInfiniteQuery({
    queryKey: ['imports', client],
    queryFn: ({ pageParam }) => told(api.GET('/api/imports', { params: { query: { client, behind: pageParam || undefined } } })),
    initialPageParam: '',
    getNextPageParam: (last) => (last.length === 50 ? last[last.length - 1]?.id : undefined),
  })

// useEdits are what can be said of a file, each kept by the server at once.
export function useEdits(id: string) {
  const queries = useQueryClient()
  const then = (i: Import) => queries.setQueryData(['import', id], i)
  const back = () => told(api.DELETE('/api/imports/{import}/edits/last', path(id)))
  const edit = useVerb({
    does: (e: Edit) => told(api.POST('/api/imports/{import}/edits', { ...path(id), body: e })),
    changes: ['import'],
    then,
    tells: true,
    says: () => 'Kept.',
    undo: async () => {
      then(await back())
      return 'The last change is undone.'
    },
  })
  const undo = useVerb({
    does: back,
    changes: ['import'],
    then,
    says: () => 'The last change is undone.',
    tells: true,
  })
  const bringIn = useVerb({ does: () => told(api.POST('/api/imports/{import}/apply', path(id))), changes: ['import', 'clients'], then })
  const takeBack = useVerb({
    does: () => told(api.POST('/api/imports/{import}/take-back', path(id))),
    changes: ['import', 'clients'],
    then,
  })
  return { edit, undo, bringIn, takeBack }
}

export const Bench = createContext<
  { import: Import; edit: Verb<Import, Edit>; titles: Record<string, string>; alike: Alike[] } | undefined
>(undefined)

// useBench is the file that is worked on.
export const useBench = () => use(Bench)!

// comesIn is how many rows add or change a location.
export const comesIn = (i: Import) => (i.counts.by.new ?? 0) + (i.counts.by.changed ?? 0)

// inPlace are the facts that say which business a row is of, and where.
export const inPlace = ['name', 'label', 'client', 'street', 'unit', 'locality', 'region', 'postal_code', 'store_code']

// columnsOf are the facts about which there is a question, or that were read as something else: what needs
// somebody first.
export function columnsOf(alike: Alike[]): string[] {
  const worth: Record<string, number> = {}
  for (const a of alike) {
    if (inPlace.includes(a.key)) continue
    const each = a.waits ? 1e6 : a.why ? 1e4 : a.sure ? 1 : 1e3
    worth[a.key] = (worth[a.key] ?? 0) + each * a.cells
  }
  return Object.keys(worth).sort((a, b) => worth[b]! - worth[a]!)
}
