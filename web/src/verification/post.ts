import { useState } from 'react'
import type { Schemas } from '../api/client'

export type Post = Schemas['Post']

// postKinds are the kinds of what can be said, in words.
export const postKinds: Record<Post['kind'], string> = { post: 'Post', event: 'Event', offer: 'Offer' }

// useKept holds what is being written until it is said, also when the tab is closed.
export function useKept(key: string, start: Post) {
  const [value, set] = useState<Post>(() => {
    try {
      return { ...start, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<Post>) }
    } catch {
      return start
    }
  })
  return [
    value,
    (next: Post | undefined) => {
      if (next) localStorage.setItem(key, JSON.stringify(next))
      else localStorage.removeItem(key)
      set(next ?? start)
    },
  ] as const
}

// asSent is a post with what is asked of its kind, and nothing else of what was typed.
export function asSent({ kind, title, text, button, link, percent, until, radius_kilometres }: Post): Post {
  return {
    kind,
    title,
    text,
    button,
    link: button ? link : undefined,
    percent: kind === 'offer' ? percent : undefined,
    until: kind === 'post' ? undefined : until || undefined,
    radius_kilometres,
  }
}
