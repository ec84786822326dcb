import { useSyncExternalStore } from 'react'

// Trouble is that requests are not answered: since when, and by whom. The disk is that of the database, and full.
type Away = 'uvent' | 'database' | 'disk'
export type Trouble = { since: number; of: Away }

let trouble: Trouble | undefined
const watchers = new Set<() => void>()

// heard takes in what a request came to: an answer, or none of whom.
export function heard(of?: Away) {
  if (of === trouble?.of) return
  trouble = of && { since: trouble?.since ?? Date.now(), of }
  for (const tell of watchers) tell()
}

const watch = (tell: () => void) => {
  watchers.add(tell)
  return () => void watchers.delete(tell)
}

// useTrouble is the trouble that there is now.
export const useTrouble = () => useSyncExternalStore(watch, () => trouble)
