import { createContext, use } from 'react'
import type { FieldProblem, Rec } from '../api/client'

// Held is the record that a form is about, and what is known around it.
export type Held = {
  record: Rec
  problems: FieldProblem[]
  set: (part: Partial<Rec>) => void
  inheritable: string[]
  shared?: Rec // what the client says for all its locations; missing in the client's own form
  location?: string // its id; missing while it is not saved yet
  client: string // id; empty while it is not saved yet
}

export const HeldContext = createContext<Held | undefined>(undefined)

// useHeld is the record in whose form a field stands.
export function useHeld(): Held {
  const held = use(HeldContext)
  if (!held) throw new Error('a field of a record stands outside its form')
  return held
}

// Whose are photos or papers of a location, or those that a client has for all of them.
export type Whose = { client?: string; location?: string }

// useWhose is whose photos and papers a form is about: the location's or, in the
// client's own form, the client's; nothing while it is not saved yet.
export function useWhose(): Whose | undefined {
  const { client, location, shared } = useHeld()
  if (shared) return location ? { location } : undefined
  return client ? { client } : undefined
}

// factAt is the fact at a path.
export const factAt = (r: Rec, path: string) =>
  path.split('.').reduce<unknown>((group, key) => (group as Record<string, unknown> | undefined)?.[key], r)

// withFact is a record with another fact at a path.
export function withFact(r: Rec, path: string, value: unknown): Partial<Rec> {
  const [head = '', key] = path.split('.')
  if (!key) return { [head]: value }
  return { [head]: { ...(factAt(r, head) as object), [key]: value } }
}

// unsaid tells a fact on which nothing is said; an empty list says nothing.
export function unsaid(v: unknown): boolean {
  if (Array.isArray(v)) return v.length === 0
  if (v !== null && typeof v === 'object') return Object.values(v).every(unsaid)
  return !v
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

// withOwn lays what was typed over a record. A fact that now differs from what
// the client says becomes the location's own; one typed back is the client's again.
export function withOwn(r: Rec, part: Partial<Rec>, inheritable: string[], shared?: Rec): Rec {
  const next = { ...r, ...part }
  if (!shared) return next
  const own = new Set(next.own)
  for (const path of inheritable) {
    const value = factAt(next, path)
    if (same(value, factAt(r, path)) || unsaid(factAt(shared, path))) continue
    if (same(value, factAt(shared, path))) own.delete(path)
    else own.add(path)
  }
  return { ...next, own: inheritable.filter((p) => own.has(p)) }
}
