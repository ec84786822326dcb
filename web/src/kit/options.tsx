import type { Schemas } from '../api/client'

// Options are what a field can be chosen from, by key and title.
export function Options({ of }: { of: Schemas['Column'][] }) {
  return of.map((o) => (
    <option key={o.key} value={o.key}>
      {o.title}
    </option>
  ))
}

// LocationOptions are all locations, under their clients; the clients too, where one can be chosen.
export function LocationOptions({ of, clients }: { of: Schemas['Client'][]; clients?: boolean }) {
  return of.map((c) => (
    <optgroup key={c.id} label={c.name}>
      {clients && <option value={c.id}>{c.name}</option>}
      {c.locations.map((l) => (
        <option key={l.id} value={l.id}>
          {l.label}
        </option>
      ))}
    </optgroup>
  ))
}
