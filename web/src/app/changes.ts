import type { Query } from '@tanstack/react-query'

// Change is what the server tells of a change: which location it is about (none: more than one, or
// none), and whether it is one of its listings and nothing of its record; that the clock moved; that
// rulebooks changed, or what is known of the country.
export type Change = { location?: string; listing?: boolean; clock?: boolean; books?: boolean; regions?: boolean }

// listenForChanges calls back for each change that anybody makes, until it is
// stopped. Of all tabs only one at a time holds a stream open and passes on what
// it hears: a browser keeps so few connections to one server that many tabs
// would otherwise leave none to load with.
export function listenForChanges(changed: (c: Change) => void): () => void {
  const channel = new BroadcastChannel('uvent changes')
  channel.onmessage = (e) => changed(e.data as Change)
  let source: EventSource | undefined
  const stopped = new AbortController()
  const tell = (change: Change) => {
    channel.postMessage(change)
    changed(change)
  }
  const hold = () => {
    if (stopped.signal.aborted) return Promise.resolve()
    const listen = () => {
      if (stopped.signal.aborted) return
      source = new EventSource('/api/changes')
      source.onopen = () => changed({}) // what changed before it was open, nobody has told
      source.onmessage = (e) => tell(JSON.parse(e.data as string) as Change)
      source.onerror = (e) => {
        if ((e.target as EventSource).readyState !== EventSource.CLOSED) return // it tries again by itself
        tell({}) // it was refused: one may be signed out
        setTimeout(listen, refusedPause)
      }
    }
    listen()
    return new Promise<void>((release) => stopped.signal.addEventListener('abort', () => release()))
  }
  navigator.locks.request('uvent changes', { signal: stopped.signal }, hold).catch(() => {}) // stopped while waiting
  const stop = () => {
    stopped.abort()
    source?.close()
    channel.close()
  }
  // A page that the browser keeps for the way back holds no stream, and is
  // loaded anew when it is shown again.
  const shown = (e: PageTransitionEvent) => e.persisted && window.location.reload()
  window.addEventListener('pagehide', stop)
  window.addEventListener('pageshow', shown)
  return () => {
    window.removeEventListener('pagehide', stop)
    window.removeEventListener('pageshow', shown)
    stop()
  }
}

// How long it is waited, in ms, before a stream that was refused is asked for again.
const refusedPause = 15_000

// How long a burst of changes may go on without a pause, and how long a pause ends it, in ms.
const pause = 60
const atMost = 400

// joined passes changes on in bursts: as soon as there is a pause, and no later than a while after
// the first, however many still come.
export function joined(pass: (burst: Change[]) => void): { add: (c: Change) => void; stop: () => void } {
  let burst: Change[] = []
  let began = 0
  let timer: number | undefined
  const flush = () => {
    const done = burst
    burst = []
    pass(done)
  }
  return {
    add: (c) => {
      if (burst.length === 0) began = Date.now()
      burst.push(c)
      clearTimeout(timer)
      timer = window.setTimeout(flush, Math.min(pause, Math.max(0, began + atMost - Date.now())))
    },
    stop: () => clearTimeout(timer),
  }
}

// lasting are queries of what no change touches but one of the rulebooks.
const lasting = ['facts', 'prose', 'rulebook-check', 'contract']

// country are queries of what only regions and rulebooks touch.
const country = ['map', 'area']

// ofOne are queries of one location, whose id follows their name.
const ofOne = [
  'listing',
  'location',
  'worksheet',
  'case',
  'risks',
  'spoken',
  'plans',
  'history',
  'intake',
  'remarks',
  'copies',
  'fit',
  'own',
  'preview',
  'own-try',
  'worth',
]

// touched says which queries a burst of changes is about. Where listings alone have changed, those of
// other locations are as they were; a record may matter to others too, which have the same phone or
// are neighbours.
export function touched(burst: Change[]): (q: Query) => boolean {
  const all = burst.some((c) => !c.location || !c.listing)
  const books = burst.some((c) => c.books)
  const regions = burst.some((c) => c.regions)
  const locations = new Set(burst.map((c) => c.location))
  return ({ queryKey: key }) => {
    if (country.includes(String(key[0]))) return books || regions
    if (lasting.includes(String(key[0]))) return books
    const scope = key.find((part): part is { location?: string } => typeof part === 'object' && part !== null)
    const about = ofOne.includes(String(key[0])) ? String(key[1]) : scope?.location
    return all || !about || locations.has(about)
  }
}
