import { useCallback, useEffect, useRef, useState } from 'react'
import { api } from '../api/client'

// A draft as it is kept: nothing in value means that it was dropped at that moment.
type Kept<T> = { at: number; value?: T }

const parse = <T>(text: string | null | undefined): Kept<T> | undefined => (text ? (JSON.parse(text) as Kept<T>) : undefined)

const slot = (subject: string) => 'draft ' + subject

// useDraft keeps what is being typed: at once in the browser, so that neither a
// closed tab nor a stopped server loses it, and a moment later on the server, so
// that it is there on another machine too. Of the two the later one holds.
export function useDraft<T>(subject: string) {
  const [kept, setKept] = useState(() => parse<T>(localStorage.getItem(slot(subject))))
  const timer = useRef<number>(undefined)
  const push = useCallback(
    (next: Kept<T>) => {
      clearTimeout(timer.current)
      timer.current = window.setTimeout(
        () => {
          const params = { params: { path: { subject } } }
          const sent =
            next.value === undefined
              ? api.DELETE('/api/drafts/{subject}', params)
              : api.PUT('/api/drafts/{subject}', { ...params, body: { body: JSON.stringify(next) } })
          sent
            .then(({ response }) => {
              // What the server has forgotten too need not be remembered as dropped.
              if (response.ok && next.value === undefined && parse<T>(localStorage.getItem(slot(subject)))?.at === next.at)
                localStorage.removeItem(slot(subject))
            })
            .catch(() => {}) // the browser has it
        },
        next.value === undefined ? 0 : 600,
      )
    },
    [subject],
  )
  const put = useCallback(
    (value?: T) => {
      const next = { at: Date.now(), value }
      localStorage.setItem(slot(subject), JSON.stringify(next))
      setKept(next)
      push(next)
    },
    [subject, push],
  )
  useEffect(() => {
    let gone = false
    api
      .GET('/api/drafts/{subject}', { params: { path: { subject } } })
      .then(({ data }) => {
        const theirs = parse<T>(data?.body)
        const mine = parse<T>(localStorage.getItem(slot(subject)))
        if (gone || !data) return
        if (theirs && theirs.at > (mine?.at ?? 0)) {
          localStorage.setItem(slot(subject), JSON.stringify(theirs))
          setKept(theirs)
        } else if (mine && mine.at > (theirs?.at ?? 0)) push(mine)
      })
      .catch(() => {})
    return () => {
      gone = true
    }
  }, [subject, push])
  const drop = useCallback(() => put(), [put])
  return { draft: kept?.value, keep: put as (value: T) => void, drop }
}
