// listenForChanges calls back for each change that anybody makes, until it is
// stopped. Of all tabs only one at a time holds a stream open and passes on what
// it hears: a browser keeps so few connections to one server that many tabs
// would otherwise leave none to load with.
export function listenForChanges(changed: () => void): () => void {
  const channel = new BroadcastChannel('uvent changes')
  channel.onmessage = changed
  let source: EventSource | undefined
  const stopped = new AbortController()
  const hold = () => {
    if (stopped.signal.aborted) return Promise.resolve()
    source = new EventSource('/api/changes')
    source.onopen = () => changed() // what changed before it was open, nobody has told
    source.onmessage = () => {
      channel.postMessage('')
      changed()
    }
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
