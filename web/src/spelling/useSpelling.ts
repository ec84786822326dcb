import { keepPreviousData, useQuery } from '@tanstack/react-query'
import type { Misspelt, Question } from './check'

let worker: Worker | undefined
let next = 0
const waiting = new Map<number, (found: Misspelt[]) => void>()

function ask(question: Omit<Question, 'id'>): Promise<Misspelt[]> {
  worker ??= start()
  const id = next++
  return new Promise((resolve) => {
    waiting.set(id, resolve)
    worker!.postMessage({ ...question, id })
  })
}

function start() {
  const w = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })
  w.onmessage = (e: MessageEvent<{ id: number; findings: Misspelt[] }>) => {
    waiting.get(e.data.id)?.(e.data.findings)
    waiting.delete(e.data.id)
  }
  return w
}

// useSpelling finds the misspelt words of a text.
export function useSpelling(text: string, country: string, known: string[]) {
  return (
    useQuery({
      queryKey: ['spelling', text, country, known],
      queryFn: () => ask({ text, country, known }),
      enabled: text !== '',
      placeholderData: keepPreviousData,
      staleTime: Infinity,
    }).data ?? []
  )
}
