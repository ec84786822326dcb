import { useState } from 'react'
import { Dropdown, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useSession } from '../api/queries'
import { clockTime, day, dayTime, longDate, useNow, useZone } from './clock'
import { Send } from '../kit/form'
import { Failed, useVerb } from '../kit/verb'

// ClockMenu shows the job's time. A demo's clock can be moved: what falls due
// on the way happens.
export function ClockMenu() {
  const session = useSession().data
  const now = useNow(1_000)
  const zone = useZone()
  const [to, setTo] = useState('')
  const date = `${day(now, zone).slice(0, 3)} ${longDate(now, zone)}`
  const face = (
    <>
      <span className="date">{date} </span>
      {clockTime(now, zone)}
    </>
  )
  const move = useVerb({
    does: (body: Schemas['ClockMove']) => told(api.POST('/api/clock/moves', { body })),
    changes: 'all',
    then: () => setTo(''),
    says: (clock) => `It is ${dayTime(new Date(clock.now), zone)} now.`,
  })
  if (!session?.demo || session.limited || !session.may.includes('send')) {
    return (
      <span className="btn clock" title={`${date}, your time, ${zone}`}>
        {face}
      </span>
    )
  }
  return (
    <Dropdown align="end" autoClose="outside">
      <Dropdown.Toggle className="clock" variant="link" title={`${date}. Move the demo’s clock`}>
        {move.isPending ? 'moving…' : face}
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <Dropdown.Header>The demo’s clock, shared with the outside</Dropdown.Header>
        <Dropdown.Item as="button" disabled={move.isPending} onClick={() => move.mutate({ by: 'next_event' })}>
          Move to the next event
        </Dropdown.Item>
        <Dropdown.Item as="button" disabled={move.isPending} onClick={() => move.mutate({ by: 'day' })}>
          Move by a day
        </Dropdown.Item>
        <Form
          className="px-3 py-2"
          onSubmit={(e) => {
            e.preventDefault()
            move.mutate({ to: zoned(to, zone).toISOString() })
          }}
        >
          <Form.Label htmlFor="clock-to">Move to</Form.Label>
          <div className="d-flex gap-2">
            <Form.Control id="clock-to" type="datetime-local" required value={to} onChange={(e) => setTo(e.target.value)} />
            <Send verb={move} variant="outline-secondary">
              Move
            </Send>
          </div>
          <Failed error={move.error} />
        </Form>
        <Dropdown.Divider />
        <Dropdown.Item href={session.outside} target="_blank" rel="noreferrer">
          Open the outside
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  )
}

// zoned reads a wall-clock time in a zone.
function zoned(local: string, zone: string): Date {
  const guess = new Date(local + 'Z')
  const shown = new Date(
    new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short', timeStyle: 'medium' }).format(guess).replace(' ', 'T') + 'Z',
  )
  return new Date(guess.getTime() - (shown.getTime() - guess.getTime()))
}
