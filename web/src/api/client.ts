import createClient from 'openapi-fetch'
import type { components, paths } from './schema.gen'
import { databaseAway, notBegun, send, whose } from './send'
import { heard } from './trouble'

// The server's interface, typed from its contract.
export const api = createClient<paths>({ fetch: send })

export type Schemas = components['schemas']
export type Listing = Schemas['Listing']
export type ListingRow = Schemas['ListingRow']
export type Rec = Schemas['Record']
export type FieldProblem = Schemas['FieldProblem']

// Refusal is a request that was not done, in words for the person who asked.
export class Refusal extends Error {
  readonly status: number
  readonly fields: FieldProblem[]
  readonly type: string

  constructor(status: number, detail: string, fields: FieldProblem[] = [], type = 'about:blank') {
    super(detail)
    this.status = status
    this.fields = fields
    this.type = type
  }
}

// isAway is whether a request was refused because the database does not answer at the moment.
export const isAway = (e: unknown) => e instanceof Refusal && (e.type === notBegun || e.type === databaseAway)

const unreachable = 'Uvent does not answer. Check that it runs; nothing you typed is lost.'

// told gives an answer's data, or throws a Refusal.
export async function told<T>(request: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer: { data?: T; error?: unknown; response: Response }
  try {
    answer = await request
  } catch (e) {
    if (e instanceof DOMException && e.name === 'AbortError') throw e // nobody wants it any more
    heard('uvent')
    throw new Refusal(0, unreachable)
  }
  if (answer.response.ok) {
    heard()
    return answer.data as T
  }
  const p = (answer.error ?? {}) as Partial<Schemas['Problem']>
  const refusal = new Refusal(answer.response.status, p.detail ?? unreachable, p.fields, p.type)
  heard(isAway(refusal) ? whose(refusal.message) : undefined)
  throw refusal
}
