import { use } from 'react'
import { factAt, HeldContext, unsaid, withFact } from './held'

// Origin says whether a fact is the client's or the location's own, and lets one
// go back to the client's.
export function Origin({ path }: { path: string }) {
  const held = use(HeldContext)
  if (!held?.shared || !held.inheritable.includes(path) || unsaid(factAt(held.shared, path))) return null
  const { record, shared } = held
  if (!record.own.includes(path)) {
    return (
      <span className="origin" title="The client says this for all its locations. Type here, and this location has its own.">
        from the client
      </span>
    )
  }
  return (
    <span className="origin own">
      its own{' '}
      <button
        type="button"
        title={words(factAt(shared, path))}
        onClick={() => held.set({ ...withFact(record, path, factAt(shared, path)), own: record.own.filter((p) => p !== path) })}
      >
        take the client’s
      </button>
    </span>
  )
}

const words = (v: unknown) =>
  typeof v === 'string' ? v : Array.isArray(v) && v.every((e) => typeof e === 'string') ? v.join(', ') : undefined
