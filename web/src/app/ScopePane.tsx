import { useState, type RefObject } from 'react'
import { Form } from 'react-bootstrap'
import { Link, useNavigate } from 'react-router'
import { useClients, useSeesAll } from '../api/queries'
import { Strand } from '../marks/Strand'
import { activities, pathOf, usePlace } from './place'

// matches reports whether every word typed begins some word of the text.
function matches(typed: string, text: string): boolean {
  const words = text.toLowerCase().split(/[^\p{L}\p{N}]+/u)
  return typed
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((t) => words.some((w) => w.startsWith(t)))
}

// ScopePane is the scope: all clients, a client, or a location; and the way to
// jump to any of them, or to an activity, by typing.
export function ScopePane({ find }: { find: RefObject<HTMLInputElement | null> }) {
  const { activity, scope } = usePlace()
  const clients = useClients().data ?? []
  const all = useSeesAll()
  const [typed, setTyped] = useState('')
  const navigate = useNavigate()

  const jumps = typed ? activities.filter((a) => matches(typed, a.title)) : []
  const shown = clients
    .map((c) => {
      const whole = matches(typed, c.name)
      return {
        ...c,
        whole,
        locations: whole ? c.locations : c.locations.filter((l) => matches(typed, `${l.label} ${l.locality} ${c.name}`)),
      }
    })
    .filter((c) => c.whole || c.locations.length > 0)
  const count = clients.reduce((n, c) => n + c.locations.length, 0)

  const leave = (to: string) => {
    setTyped('')
    find.current?.blur()
    navigate(to)
  }
  const first = () => {
    if (jumps[0]) return leave(pathOf(jumps[0].id, scope))
    const c = shown[0]
    if (!c) return
    leave(pathOf(activity, c.whole || !c.locations[0] ? { client: c.id } : { location: c.locations[0].id }))
  }

  return (
    <nav className="scope" aria-label="Scope">
      <Form
        className="find"
        onSubmit={(e) => {
          e.preventDefault()
          first()
        }}
      >
        <Form.Control
          ref={find}
          value={typed}
          placeholder="Find or jump"
          aria-label="Find a client or location, or jump to an activity"
          onChange={(e) => setTyped(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Escape') {
              setTyped('')
              e.currentTarget.blur()
            }
            if (e.key === 'ArrowDown') {
              e.preventDefault()
              e.currentTarget.closest('nav')?.querySelector<HTMLElement>('ul a')?.focus()
            }
          }}
        />
        {!typed && <kbd>/</kbd>}
      </Form>
      <ul>
        {jumps.map((a) => (
          <li key={a.id}>
            <Link to={pathOf(a.id, scope)} onClick={() => setTyped('')}>
              <span>{a.title}</span>
              <span className="second">{a.key}</span>
            </Link>
          </li>
        ))}
        {!typed && (
          <li>
            <Link to={pathOf(activity, {})} className={'all' + (!scope.client && !scope.location ? ' here' : '')}>
              <span>{all ? 'All clients' : 'All your clients'}</span>
              <span title={`${clients.length} clients, ${count} locations`}>
                {clients.length} · {count}
              </span>
            </Link>
          </li>
        )}
        {shown.map((c) => (
          <li className="client" key={c.id}>
            <Link to={pathOf(activity, { client: c.id })} className={scope.client === c.id ? 'here' : ''} onClick={() => setTyped('')}>
              <span title={c.name}>{c.name}</span>
            </Link>
            <ul>
              {c.locations.map((l) => (
                <li key={l.id}>
                  <Link
                    to={pathOf(activity, { location: l.id })}
                    className={scope.location === l.id ? 'here' : ''}
                    onClick={() => setTyped('')}
                  >
                    <span title={l.label}>{l.label}</span>
                    <Strand strand={l.strand} size="middle" />
                  </Link>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
      {typed && shown.length === 0 && jumps.length === 0 && <p className="nothing">Nothing is called that.</p>}
    </nav>
  )
}
