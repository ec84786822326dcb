import createClient from 'openapi-fetch'
import type { components, paths } from './schema.gen'

// The server's interface, typed from its contract.
export const api = createClient<paths>()

export type Schemas = components['schemas']
export type Listing = Schemas['Listing']
export type ListingRow = Schemas['ListingRow']
export type Rec = Schemas['Record']
export type FieldProblem = Schemas['FieldProblem']

// Refusal is a request that was not done, in words for the person who asked.
export class Refusal extends Error {
  readonly status: number
  readonly fields: FieldProblem[]

  constructor(status: number, detail: string, fields: FieldProblem[] = []) {
    super(detail)
    this.status = status
    this.fields = fields
  }
}

const unreachable = 'Uvent does not answer. Check that it runs; nothing you typed is lost.'

// told gives an answer's data, or throws a Refusal.
export async function told<T>(request: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer: { data?: T; error?: unknown; response: Response }
  try {
    answer = await request
  } catch {
    throw new Refusal(0, unreachable)
  }
  if (answer.response.ok) return answer.data as T
  const p = (answer.error ?? {}) as Partial<Schemas['Problem']>
  throw new Refusal(answer.response.status, p.detail ?? unreachable, p.fields)
}
