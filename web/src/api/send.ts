import { heard } from './trouble'

// Types of a problem after which what was asked for may be asked for again: nothing of it was begun; it may have been begun;
// it is being done.
export const notBegun = 'urn:uvent:not-begun'
export const databaseAway = 'urn:uvent:database-away'
const underWay = 'urn:uvent:under-way'

// How long, in ms, it is waited before it is asked again, at first and at most; and how long for an answer from anybody at
// all, after which whoever asked is told.
const firstPause = 500
const longestPause = 5_000
const unheard = 8_000

// send asks the server. What changes something goes with a key of its own, so that it can be asked for again when its answer
// did not come, and is done once all the same.
export async function send(request: Request): Promise<Response> {
  if (request.method === 'GET') return fetch(request)
  const keyed = !isKeyless(new URL(request.url).pathname)
  if (keyed) request.headers.set('Idempotency-Key', unique())
  const since = Date.now()
  for (let pause = firstPause; ; pause = Math.min(2 * pause, longestPause)) {
    try {
      const answer = await fetch(request.clone())
      const { type, detail } = await problemOf(answer)
      const silent = answer.status === 502 || answer.status === 504 // a proxy that found nobody
      if (!(type === notBegun || (keyed && (type === databaseAway || type === underWay || silent)))) return answer
      if (silent && Date.now() - since > unheard) return answer
      heard(type === underWay ? undefined : silent ? 'uvent' : whose(detail))
    } catch (e) {
      if (!keyed || request.signal.aborted || Date.now() - since > unheard) throw e // whoever asked may not want it any more
      heard('uvent')
    }
    await new Promise((done) => setTimeout(done, pause))
  }
}

// Whoever signs in is nobody yet, of whom a key could be.
const isKeyless = (path: string) => /^\/api\/(session|joining|password-resets)\b/.test(path)

// whose trouble it is that the database is away for.
export const whose = (detail?: string) => (detail?.includes('disk') ? 'disk' : 'database')

async function problemOf(answer: Response): Promise<{ type?: string; detail?: string }> {
  if (!answer.headers.get('Content-Type')?.startsWith('application/problem+json')) return {}
  return (await answer.clone().json()) as { type?: string; detail?: string }
}

// unique is a key that was never chosen before. (Pages that come without TLS have no crypto.randomUUID.)
const unique = () => [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, '0')).join('')
