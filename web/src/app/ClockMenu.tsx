import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Dropdown, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useSession } from '../api/queries'
import { dayTime, useNow, useZone } from './clock'
import { useSay } from './say'

// ClockMenu shows the job's time. A demo's clock can be moved: what falls due
// on the way happens.
export function ClockMenu() {
  const session = useSession().data
  const now = useNow(1_000)
  const zone = useZone()
  const queries = useQueryClient()
  const say = useSay()
  const [moving, setMoving] = useState(false)
  const [wrong, setWrong] = useState('')
  const [to, setTo] = useState('')
  const text = dayTime(now, zone)
  if (!session?.demo) {
    return (
      <span className="btn clock" title={`Your time, ${zone}`}>
        {text}
      </span>
    )
  }
  const move = async (body: Schemas['ClockMove']) => {
    setMoving(true)
    setWrong('')
    try {
      const clock = await told(api.POST('/api/clock/moves', { body }))
      await queries.invalidateQueries()
      say(`It is ${dayTime(new Date(clock.now), zone)} now.`)
      setTo('')
    } catch (e) {
      setWrong((e as Error).message)
    }
    setMoving(false)
  }
  return (
    <Dropdown align="end" autoClose="outside">
      <Dropdown.Toggle className="clock" variant="link" title="Move the demo’s clock">
        {moving ? 'moving…' : text}
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <Dropdown.Header>The demo’s clock, shared with the outside</Dropdown.Header>
        <Dropdown.Item as="button" disabled={moving} onClick={() => move({ by: 'next_event' })}>
          Move to the next event
        </Dropdown.Item>
        <Dropdown.Item as="button" disabled={moving} onClick={() => move({ by: 'day' })}>
          Move by a day
        </Dropdown.Item>
        <Form
          className="px-3 py-2"
          onSubmit={(e) => {
            e.preventDefault()
            move({ to: zoned(to, zone).toISOString() })
          }}
        >
          <Form.Label htmlFor="clock-to">Move to</Form.Label>
          <div className="d-flex gap-2">
            <Form.Control id="clock-to" type="datetime-local" required value={to} onChange={(e) => setTo(e.target.value)} />
            <Button type="submit" variant="outline-secondary" disabled={moving}>
              Move
            </Button>
          </div>
          {wrong && (
            <p className="text-danger mb-0 mt-2" role="alert">
              {wrong}
            </p>
          )}
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
