import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Modal } from 'react-bootstrap'
import { Link, useNavigate } from 'react-router'
import { api, told, type Rec, type Schemas } from '../api/client'
import { longDate, useZone } from '../app/clock'
import { pathOf } from '../app/place'
import { counted, Pending } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'

const at = (location: string) => ({ params: { path: { location } } })
const of = (client: string) => ({ params: { path: { client } } })

// useReturn brings back what was put away.
export function useReturn(says: (name: string) => string) {
  return useVerb({
    does: ({ id, client }: { id: string; client: boolean; name: string }) =>
      client
        ? told(api.POST('/api/clients/{client}/bring-back', of(id))).then(() => undefined)
        : told(api.POST('/api/locations/{location}/bring-back', at(id))).then(() => undefined),
    changes: 'all',
    says: (_, v) => says(v.name),
    tells: true,
  })
}

// LocationLeaves puts a location away, or deletes one with which nothing was begun.
export function LocationLeaves({ location, record, client }: { location: string; record: Rec; client: string }) {
  const navigate = useNavigate()
  const leave = () => navigate(pathOf('record', { client }))
  const put = useVerb({
    does: () => told(api.POST('/api/locations/{location}/put-away', at(location))),
    changes: 'all',
    then: leave,
    says: () => `${record.label} is put away.`,
    undo: async () => {
      await told(api.POST('/api/locations/{location}/bring-back', at(location)))
      return `${record.label} is back.`
    },
  })
  const remove = useVerb({
    does: () => told(api.DELETE('/api/locations/{location}', at(location))),
    changes: ['clients'],
    then: leave,
    says: () => `${record.label} is deleted.`,
    undo: async (was) => {
      const again = await told(api.POST('/api/clients/{client}/locations', { ...of(client), body: was }))
      navigate(pathOf('record', { location: again.id }))
      return `${record.label} is back.`
    },
  })
  return (
    <Leaves
      name={record.label}
      what="location"
      course={`/record/l/${location}/course`}
      ask={['leaving', location]}
      tell={() => told(api.GET('/api/locations/{location}/leaving', at(location)))}
      put={put}
      remove={remove}
    />
  )
}

// ClientLeaves puts a client away with all its locations, or deletes one that has nothing.
export function ClientLeaves({ client, name }: { client: string; name: string }) {
  const navigate = useNavigate()
  const put = useVerb({
    does: () => told(api.POST('/api/clients/{client}/put-away', of(client))),
    changes: 'all',
    then: () => navigate('/record'),
    says: () => `${name} is put away.`,
    undo: async () => {
      await told(api.POST('/api/clients/{client}/bring-back', of(client)))
      return `${name} is back.`
    },
  })
  const remove = useVerb({
    does: () => told(api.DELETE('/api/clients/{client}', of(client))),
    changes: ['clients'],
    then: () => navigate('/record'),
    says: () => `${name} is deleted.`,
  })
  return (
    <Leaves
      name={name}
      what="client"
      course={`/record/c/${client}/course`}
      ask={['leaving', client]}
      tell={() => told(api.GET('/api/clients/{client}/leaving', of(client)))}
      put={put}
      remove={remove}
    />
  )
}

type Act = ReturnType<typeof useVerb<unknown, void>>

function Leaves({
  name,
  what,
  course,
  ask,
  tell,
  put,
  remove,
}: {
  name: string
  what: 'location' | 'client'
  course: string
  ask: string[]
  tell: () => Promise<Schemas['Leaving']>
  put: Act
  remove: Act
}) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button variant="outline-secondary" onClick={() => setOpen(true)}>
        Put away
      </Button>
      <Modal show={open} onHide={() => setOpen(false)} centered>
        <Modal.Header closeButton>
          <Modal.Title as="h2">Put {name} away</Modal.Title>
        </Modal.Header>
        {open && <Means what={what} course={course} ask={ask} tell={tell} put={put} remove={remove} />}
      </Modal>
    </>
  )
}

// Means says what it means to put something away, before it is done.
function Means({
  what,
  course,
  ask,
  tell,
  put,
  remove,
}: Pick<Parameters<typeof Leaves>[0], 'what' | 'course' | 'ask' | 'tell' | 'put' | 'remove'>) {
  const leaving = useQuery({ queryKey: ask, queryFn: tell })
  if (!leaving.data) return <Pending error={leaving.error} />
  const { held, locations, begun, erase_days } = leaving.data
  const count = held.reduce((n, h) => n + h.count, 0)
  const nothing = !begun && (what === 'location' || locations === 0)
  return (
    <>
      <Modal.Body className="leaving">
        <p>
          {what === 'client' && locations > 0
            ? `It and its ${counted(locations, 'location')} are out of all lists and counts, and ask for nothing, until they are brought back.`
            : 'It is out of all lists and counts, and asks for nothing, until it is brought back.'}{' '}
          Nothing is lost: it stands under Record, in what is put away.
        </p>
        {count > 0 && (
          <p>
            <b>{count === 1 ? '1 listing is held and stays as it is' : `${count} listings are held and stay as they are`}</b>:{' '}
            {held.map((h) => (what === 'client' && h.count > 1 ? `${h.name} (${h.count})` : h.name)).join(', ')}. Customers go on finding{' '}
            {count === 1 ? 'it' : 'them'}, and nobody here is told when something goes wrong there. If it no longer does business,{' '}
            <Link to={course}>close it first</Link>: every directory is told, in an order that loses nothing.
          </p>
        )}
        {erase_days > 0 && (
          <p>
            After {erase_days} days its papers, its files that came in, and what is kept of its people (names, emails, ways to sign in) are
            erased for good. The log keeps one line.
          </p>
        )}
        <Failed error={put.error ?? remove.error} />
      </Modal.Body>
      <Modal.Footer>
        {nothing && (
          <Do verb={remove} of={undefined} variant="outline-secondary" className="me-auto" title="Nothing was begun with it">
            Delete for good
          </Do>
        )}
        <Do verb={put} of={undefined}>
          Put away
        </Do>
      </Modal.Footer>
    </>
  )
}

// IsAway says over a record that it is put away.
export function IsAway({ location, label, since }: { location: string; label: string; since: string }) {
  const back = useReturn((name) => `${name} is back.`)
  const zone = useZone()
  return (
    <div className="note" role="status">
      <p>
        {label} is put away since {longDate(new Date(since), zone)}: it is in no list and no count.{' '}
        <Do verb={back} of={{ id: location, client: false, name: label }} variant="link" className="p-0 align-baseline">
          Bring it back
        </Do>
      </p>
    </div>
  )
}
