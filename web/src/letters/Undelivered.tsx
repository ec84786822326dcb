import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { dayTime, useZone } from '../app/clock'
import { Needs } from '../app/Needs'
import { pathOf } from '../app/place'
import { counted } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'

type Letter = Schemas['WrittenLetter']

export const came: Record<Letter['state'], string> = {
  queued: 'on its way',
  taken: 'sent',
  refused: 'refused',
  bounced: 'came back',
  given_up: 'taken by nobody',
}

// Undelivered lists the letters of a client, or of all, that did not arrive: whoever waits for their answer
// waits in vain. `all` has the rest of the letters stand below.
export function Undelivered({ client, all }: { client?: string; all?: boolean }) {
  const list = useQuery({
    queryKey: ['letters', 'troubled', client],
    queryFn: () => told(api.GET('/api/letters', { params: { query: { troubled: true, client } } })),
  })
  const letters = list.data?.letters ?? []
  if (letters.length === 0) return null
  return (
    <section aria-label="Letters that did not arrive">
      <div className="group-head">
        <h2>Letters that did not arrive</h2>
        <span>
          {letters.length}
          {list.data?.next ? ' and more' : ''}
        </span>
        {!all && (
          <Link className="ms-auto" to="/letters">
            All letters
          </Link>
        )}
      </div>
      <ul className="rows letters">
        {letters.map((l) => (
          <Row key={l.id} letter={l} />
        ))}
      </ul>
    </section>
  )
}

function Row({ letter: l }: { letter: Letter }) {
  const zone = useZone()
  const [to, setTo] = useState(l.to)
  const path = { params: { path: { letter: l.id } } }
  const changes = ['letters']
  const again = useVerb({
    does: (to: string) => told(api.POST('/api/letters/{letter}/again', { ...path, body: { to } })),
    changes,
    says: (_, to) => `It is on its way to ${to}.`,
  })
  const put = (aside: boolean) => told(api.PUT('/api/letters/{letter}/aside', { ...path, body: { aside } }))
  const aside = useVerb({
    does: () => put(true),
    changes,
    says: () => 'The letter is put aside.',
    undo: async () => {
      await put(false)
      return 'The letter is back.'
    },
  })
  return (
    <li>
      <div>
        <b>{l.subject}</b>{' '}
        <span className="second">
          to <span className="mono">{l.to}</span>, {dayTime(new Date(l.at), zone)}
          {l.client_name && `; ${l.client_name}`}
          {l.location && l.label && (
            <>
              , <Link to={pathOf('record', { location: l.location })}>{l.label}</Link>
            </>
          )}
        </span>
        <p className="said-text">
          It {l.state === 'bounced' ? 'came back' : l.state === 'refused' ? 'was refused' : `was tried ${counted(l.tries, 'time')}`}:{' '}
          {l.says}
        </p>
        <Failed error={again.error ?? aside.error} />
      </div>
      <Needs what="send" shared>
        <div className="d-flex gap-2 align-items-center">
          <Form.Control
            type="email"
            aria-label={`Address for “${l.subject}”`}
            value={to}
            className="address"
            maxLength={300}
            onChange={(e) => setTo(e.target.value)}
          />
          <Do verb={again} of={to} variant="outline-secondary" className="text-nowrap" disabled={!to.trim() || aside.isPending}>
            Send again
          </Do>
          <Do verb={aside} of={undefined} variant="link" className="text-nowrap">
            Put aside
          </Do>
        </div>
      </Needs>
    </li>
  )
}
