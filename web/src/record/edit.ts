import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { api, told, type Rec, type Schemas } from '../api/client'
import { useDraft } from './draft'
import { factAt, withFact } from './held'

// Edit is what is being typed, and the saved record that it started from.
export type Edit = {
  version: number
  base: Rec
  record: Rec
  merged?: { by: string; conflicts: Schemas['Conflict'][] } // somebody saved meanwhile
}

// useEdit keeps an edit of a location's record. When somebody saves it meanwhile,
// what both changed is put together; facts that both changed wait to be decided.
export function useEdit(location: Schemas['Location']) {
  const { draft, keep, drop } = useDraft<Edit>('location ' + location.id)
  const queries = useQueryClient()
  const latest = useRef(draft)
  useEffect(() => {
    latest.current = draft
  })
  const merge = useMutation({
    mutationFn: async (edit: Edit) => ({
      edit,
      answer: await told(
        api.POST('/api/locations/{location}/merge', {
          params: { path: { location: location.id } },
          body: { base: edit.base, record: edit.record },
        }),
      ),
    }),
    onSuccess: ({ edit, answer }) => {
      queries.setQueryData(['location', location.id], answer.location)
      if (latest.current !== edit) {
        if (latest.current) merge.mutate(latest.current) // more was typed meanwhile
        return
      }
      const open = edit.merged?.conflicts ?? []
      keep({
        version: answer.location.version,
        base: answer.location.record,
        record: answer.record,
        merged: {
          by: answer.by,
          conflicts: [...open.filter((o) => !answer.conflicts.some((c) => c.path === o.path)), ...answer.conflicts],
        },
      })
    },
  })
  const { mutate } = merge
  const stale = !!draft && draft.version !== location.version
  useEffect(() => {
    if (stale && latest.current) mutate(latest.current)
  }, [stale, location.version, mutate])
  const set = (record: Rec) =>
    keep({ version: draft?.version ?? location.version, base: draft?.base ?? location.record, record, merged: draft?.merged })
  // decide settles a fact that both changed.
  const decide = (path: string, theirs: boolean) => {
    if (!draft?.merged) return
    keep({
      ...draft,
      record: theirs ? { ...draft.record, ...withFact(draft.record, path, factAt(draft.base, path)) } : draft.record,
      merged: { ...draft.merged, conflicts: draft.merged.conflicts.filter((c) => c.path !== path) },
    })
  }
  const noted = () => draft && keep({ ...draft, merged: undefined })
  return {
    edit: draft,
    record: draft?.record ?? location.record,
    merging: stale || merge.isPending,
    error: merge.error,
    set,
    drop,
    decide,
    noted,
  }
}
