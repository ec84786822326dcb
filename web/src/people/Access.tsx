import { useQuery } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { dayTime, useZone } from '../app/clock'
import { counted, Pending } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'
import { browser } from './browser'

// Access is where somebody is signed in, and their keys, for an administrator to end.
export function Access({ person, onDone }: { person: Schemas['Person']; onDone: () => void }) {
  const zone = useZone()
  const at = { params: { path: { person: person.id } } }
  const found = useQuery({ queryKey: ['access', person.id], queryFn: () => told(api.GET('/api/people/{person}/access', at)) })
  const end = useVerb({
    does: () => told(api.DELETE('/api/people/{person}/access', at)),
    changes: ['access'],
    then: onDone,
    says: () => `${person.name} has to sign in again, and their keys have ended.`,
  })
  if (!found.data) return <Pending error={found.error} />
  const { sessions, keys } = found.data
  return (
    <>
      <p className="mb-1">
        {person.name} is signed in {sessions.length === 0 ? 'nowhere' : 'with ' + counted(sessions.length, 'browser')}, and has{' '}
        {keys.length === 0 ? 'no keys' : counted(keys.length, 'key')}.
      </p>
      <Failed error={end.error} />
      <ul className="made-links px-0">
        {sessions.map((s) => (
          <li key={s.id}>
            <span>
              {browser(s.agent)} from <span className="mono">{s.address}</span>
              <span className="second small">
                since {dayTime(new Date(s.began), zone)}; last seen {dayTime(new Date(s.seen), zone)}
              </span>
            </span>
          </li>
        ))}
        {keys.map((k) => (
          <li key={k.id}>
            <span>
              The key “{k.name}”<span className="second small">works until {dayTime(new Date(k.expires), zone)}</span>
            </span>
          </li>
        ))}
      </ul>
      <p className="d-flex gap-2 mb-0 pt-2 px-0">
        <Do verb={end} of={undefined} variant="outline-secondary" disabled={sessions.length + keys.length === 0}>
          End all of them
        </Do>
        <Button variant="link" onClick={onDone}>
          Leave it
        </Button>
      </p>
    </>
  )
}
