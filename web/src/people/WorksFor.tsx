import { useId, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useClients } from '../api/queries'
import { counted } from '../app/View'
import { Chosen } from '../kit/Chosen'
import { Do, Failed, useVerb } from '../kit/verb'

type Person = Schemas['Person']

// canBeLimited is whether somebody of a role can work for some clients alone.
export const canBeLimited = (role: string) => role === 'specialist' || role === 'helper'

// worksFor says for whom somebody works.
export function worksFor(role: string, clients: Schemas['ClientName'][] | undefined): string {
  if (role === 'client') return ''
  if (!clients) return 'all clients'
  if (clients.length === 0) return 'no client'
  if (clients.length <= 2) return clients.map((c) => c.name).join(', ')
  return `${clients[0]?.name} and ${counted(clients.length - 1, 'other')}`
}

// WhichClients chooses all clients, or some of them.
export function WhichClients({ value, onChange }: { value: string[] | undefined; onChange: (to: string[] | undefined) => void }) {
  const clients = useClients().data ?? []
  const id = useId()
  const some = value !== undefined
  return (
    <fieldset className="which-clients">
      <legend>Works for</legend>
      <Form.Check
        type="radio"
        id={id + 'all'}
        name={id}
        label="all clients, those to come as well"
        checked={!some}
        onChange={() => onChange(undefined)}
      />
      <Form.Check
        type="radio"
        id={id + 'some'}
        name={id}
        label="only some, and sees nothing of the others"
        checked={some}
        onChange={() => onChange([])}
      />
      {some && (
        <Chosen
          of="client"
          all={clients.map((c) => ({ id: c.id, label: c.name, more: counted(c.locations.length, 'location') }))}
          left={new Set(clients.filter((c) => !value.includes(c.id)).map((c) => c.id))}
          onChange={(left) => onChange(clients.filter((c) => !left.has(c.id)).map((c) => c.id))}
        />
      )}
    </fieldset>
  )
}

// Limits says for which clients somebody works.
export function Limits({ person: p, onDone }: { person: Person; onDone: () => void }) {
  const before = p.clients?.map((c) => c.id)
  const [clients, setClients] = useState(before)
  const put = (to: string[] | undefined) =>
    told(api.PUT('/api/people/{person}', { params: { path: { person: p.id } }, body: { role: p.role, clients: to } }))
  const save = useVerb({
    does: () => put(clients),
    changes: ['people'],
    then: onDone,
    says: (now) => `${now.name} works for ${worksFor(now.role, now.clients)} now.`,
    undo: async () => {
      await put(before)
      return `${p.name} works for ${worksFor(p.role, p.clients)} again.`
    },
    tells: true,
  })
  return (
    <>
      <p className="mb-1">What {p.name} does not work for is not there for them: not in lists, not in letters, not in calendars.</p>
      <Failed error={save.error} />
      <WhichClients value={clients} onChange={setClients} />
      <p className="d-flex gap-2 mb-0 pt-2 px-0">
        <Do verb={save} of={undefined} running="Saving" disabled={clients?.length === 0}>
          Save
        </Do>
        <Button variant="link" onClick={onDone}>
          Leave it
        </Button>
        {clients?.length === 0 && <span className="second align-self-center">Choose at least one client, or all of them.</span>}
      </p>
    </>
  )
}
