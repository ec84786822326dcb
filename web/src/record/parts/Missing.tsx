import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../../api/client'
import { useClient } from '../../api/queries'
import { dayTime, spanWords, useNow, useZone } from '../../app/clock'
import { useCopy } from '../../app/copy'
import { Do, Failed, useVerb } from '../../kit/verb'
import { useHeld } from '../held'

export const useIntake = (location: string | undefined) =>
  useQuery({
    queryKey: ['intake', location],
    queryFn: () => told(api.GET('/api/locations/{location}/intake', { params: { path: { location: location! } } })),
    enabled: !!location,
  }).data

// Missing is what the record is still in want of, and how to ask the owner for it.
export function Missing({ location }: { location: string }) {
  const intake = useIntake(location)
  const { client } = useHeld()
  const owner = useClient(client).data
  const [left, setLeft] = useState<string[]>([])
  const [reading, setReading] = useState(false)
  const now = useNow()
  const zone = useZone()
  const copy = useCopy()
  const wants = (intake?.missing ?? []).filter((w) => w.from === 'owner' && !left.includes(w.id)).map((w) => w.id)
  const params = { path: { location } }
  const letter = useQuery({
    queryKey: ['letter', location, wants],
    queryFn: () => told(api.POST('/api/locations/{location}/intake/letter', { params, body: { wants } })),
    enabled: reading,
    placeholderData: (before) => before,
  }).data
  const ask = useVerb({
    does: () => told(api.POST('/api/locations/{location}/intake/ask', { params, body: { wants } })),
    changes: ['intake'],
    then: () => setReading(false),
    says: () => `The list is on its way to ${letter?.to}.`,
  })
  if (!intake) return <p className="loading">Loading</p>
  const groups = [
    ['owner', owner?.owner_name ? `${owner.owner_name} has these` : 'The owner has these'],
    ['us', 'We can fill these in'],
  ] as const
  return (
    <>
      {intake.missing.length === 0 && (
        <div className="empty">
          <h2>Nothing is missing</h2>
          <p>Every fact, photo and paper that directories ask for or gain from is there.</p>
        </div>
      )}
      {groups.map(([from, title]) => {
        const list = intake.missing.filter((w) => w.from === from)
        return (
          list.length > 0 && (
            <section className="sheet" key={from}>
              <div className="sheet-head">
                <h2>{title}</h2>
                {from === 'owner' && (
                  <span className="second">
                    {intake.sent && `asked by ${intake.sent.actor} on ${dayTime(new Date(intake.sent.at), zone)} `}
                    <Button variant="outline-secondary" size="sm" disabled={wants.length === 0} onClick={() => setReading(!reading)}>
                      {reading ? 'Close the letter' : `Ask for ${wants.length}`}
                    </Button>
                  </span>
                )}
              </div>
              {from === 'owner' && reading && letter && (
                <div className="letter">
                  <p>
                    <b>To</b> {letter.to || 'nobody yet: the client has no owner’s email'}
                    <br />
                    <b>Subject</b> {letter.subject}
                  </p>
                  <pre>{letter.body}</pre>
                  <Failed error={ask.error} />
                  <Do verb={ask} of={undefined} running="Sending" disabled={!letter.to}>
                    Send to {owner?.owner_name || 'the owner'}
                  </Do>{' '}
                  <Button variant="outline-secondary" onClick={() => void copy('The letter', letter.body)}>
                    Copy
                  </Button>
                </div>
              )}
              <table className="grid wants">
                <tbody>
                  {list.map((w) => (
                    <tr key={w.id}>
                      <td>
                        {from === 'owner' && (
                          <Form.Check
                            id={'want-' + w.id}
                            aria-label={`Ask for ${w.title}`}
                            checked={!left.includes(w.id)}
                            onChange={(e) => setLeft(e.target.checked ? left.filter((l) => l !== w.id) : [...left, w.id])}
                          />
                        )}
                      </td>
                      <th scope="row">
                        <Link to={{ hash: w.part }} replace>
                          {w.title}
                        </Link>
                        <span>
                          {w.blocks.length > 0 && <b>blocks {w.blocks.join(', ')}</b>}
                          {w.blocks.length > 0 && w.opens && ' · '}
                          {w.opens}
                        </span>
                      </th>
                      <td>
                        <Takes want={w} now={now} />
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          )
        )
      })}
    </>
  )
}

// Takes says how long a thing takes to get; where a fee makes it faster, both ways side by side.
function Takes({ want: w, now }: { want: Schemas['Want']; now: Date }) {
  const date = (d: string) => spanWords({ from: d, to: d }, now)
  if (!w.by) return <>{w.minutes} min</>
  if (!w.for_a_fee) return <>by {date(w.by)}</>
  return (
    <dl className="two-ways">
      <dt>free</dt>
      <dd>
        {w.takes}, by {date(w.by)}
      </dd>
      <dt>for a fee</dt>
      <dd>
        {w.fee_takes}, by {date(w.for_a_fee)}
      </dd>
    </dl>
  )
}

// WaysOpen says which ways to verify the location's phones, emails and post open.
export function WaysOpen({ location }: { location: string }) {
  const ways = useIntake(location)?.ways ?? []
  return (
    <section className="sheet">
      <h2>What its phones, email and post can do</h2>
      <ul className="plain-list">
        {ways.flatMap((d) =>
          d.ways.map((w) => (
            <li key={d.directory + w.method}>
              <b>
                {d.name}: {w.title.toLowerCase()}
              </b>
              <span>
                {w.open ? 'Open. ' : 'Not open. '}
                {w.says}
              </span>
            </li>
          )),
        )}
      </ul>
    </section>
  )
}
