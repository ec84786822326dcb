import { useCallback, useState } from 'react'
import type { Rec } from '../api/client'

export type Draft = { version: number; record: Rec; at: number }

// useDraft keeps a record as it is being typed, in the browser, so that closing
// the tab loses nothing. version is the saved record it started from.
export function useDraft(key: string) {
  const [draft, setDraft] = useState<Draft | undefined>(() => {
    const kept = localStorage.getItem('draft ' + key)
    return kept ? (JSON.parse(kept) as Draft) : undefined
  })
  const keep = useCallback(
    (version: number, record: Rec) => {
      const next = { version, record, at: Date.now() }
      localStorage.setItem('draft ' + key, JSON.stringify(next))
      setDraft(next)
    },
    [key],
  )
  const drop = useCallback(() => {
    localStorage.removeItem('draft ' + key)
    setDraft(undefined)
  }, [key])
  return { draft, keep, drop }
}
