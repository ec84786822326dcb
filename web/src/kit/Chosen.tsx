import { Button } from 'react-bootstrap'
import { useState } from 'react'
import { counted } from '../app/View'

// Choosable is what can be chosen, with what else tells it from others.
export type Choosable = { id: string; label: string; more: string }

// Chosen lets many things be chosen at once: all that there are, or all that a few letters
// find.
export function Chosen({
  of,
  all,
  left,
  onChange,
}: {
  of: string // what one is called
  all: Choosable[]
  left: ReadonlySet<string>
  onChange: (left: ReadonlySet<string>) => void
}) {
  const [find, setFind] = useState('')
  const shown = all.filter((l) => (l.more + ' ' + l.label).toLowerCase().includes(find.toLowerCase()))
  const chosen = all.length - left.size
  const toggle = (ids: string[], on: boolean) => {
    const next = new Set(left)
    for (const id of ids) {
      if (on) next.delete(id)
      else next.add(id)
    }
    onChange(next)
  }
  const ids = shown.map((l) => l.id)
  return (
    <fieldset className="chosen">
      <legend>
        {chosen} of {counted(all.length, of)}
      </legend>
      <p>
        <input
          type="search"
          className="form-control form-control-sm"
          aria-label="Find among them"
          placeholder="Find among them"
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
        <Button variant="link" className="p-0" onClick={() => toggle(ids, true)}>
          Choose {find ? `the ${shown.length}` : `all ${all.length}`}
        </Button>
        <Button variant="link" className="p-0" disabled={chosen === 0} onClick={() => toggle(ids, false)}>
          None
        </Button>
      </p>
      <ul>
        {shown.map((l) => (
          <li key={l.id}>
            <label>
              <input
                type="checkbox"
                className="form-check-input"
                checked={!left.has(l.id)}
                onChange={(e) => toggle([l.id], e.target.checked)}
              />{' '}
              {l.label} <span className="second">{l.more}</span>
            </label>
          </li>
        ))}
      </ul>
    </fieldset>
  )
}
