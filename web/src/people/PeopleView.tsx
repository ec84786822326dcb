import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useClients, usePeople, useSession } from '../api/queries'
import { useCopy } from '../app/copy'
import { dayTime, useZone } from '../app/clock'
import { useSay } from '../app/say'
import { counted, Pending, ViewHead } from '../app/View'
import { Failed } from '../verification/Failed'

type Role = Schemas['Person']['role']

const roles: [Role, string][] = [
  ['administrator', 'does everything, and says who else may'],
  ['specialist', 'edits and sends'],
  ['helper', 'edits, and sends nothing'],
  ['client', 'sees its own locations, and confirms'],
]

// PeopleView is about who may sign in, and what each may do.
export function PeopleView() {
  const found = usePeople()
  const session = useSession().data
  const admin = session?.may.includes('administer') ?? false
  const queries = useQueryClient()
  const say = useSay()
  const zone = useZone()
  const [leaving, setLeaving] = useState<string>()
  const again = () => queries.invalidateQueries({ queryKey: ['people'] })
  const role = useMutation({
    mutationFn: ({ id, to }: { id: string; to: Role }) =>
      told(api.PUT('/api/people/{person}', { params: { path: { person: id } }, body: { role: to } })),
    onSuccess: (p) => {
      void again()
      say(`${p.name} is ${p.role} now.`)
    },
    onError: (e) => {
      void again()
      say(e.message)
    },
  })
  const uninvite = useMutation({
    mutationFn: (id: string) => told(api.DELETE('/api/invitations/{invitation}', { params: { path: { invitation: id } } })),
    onSuccess: () => {
      void again()
      say('The invitation is taken back.')
    },
  })
  if (!found.data) return <Pending error={found.error} />
  const here = found.data.people.filter((p) => !p.ended)
  const gone = found.data.people.filter((p) => p.ended)
  return (
    <>
      <ViewHead
        title="People"
        says={`${counted(here.length, 'person', 'people')} may sign in${found.data.invitations.length > 0 ? `, ${found.data.invitations.length} invited` : ''}.`}
      />
      <table className="grid mb-3">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Signs in with</th>
            <th scope="col">Role</th>
            <th scope="col">Second factor</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          {here.map((p) =>
            leaving === p.id ? (
              <tr key={p.id}>
                <td colSpan={5}>
                  <TakeOver
                    person={p}
                    others={here.filter((o) => o.id !== p.id && o.role !== 'client')}
                    onDone={() => setLeaving(undefined)}
                  />
                </td>
              </tr>
            ) : (
              <tr key={p.id}>
                <th scope="row">
                  {p.name} {p.you && <span className="second">you</span>}
                </th>
                <td className="mono">{p.email}</td>
                <td>
                  {p.role === 'client' ? (
                    <>client, of {p.client_name}</>
                  ) : admin ? (
                    <Form.Select
                      size="sm"
                      className="w-auto"
                      aria-label={`Role of ${p.name}`}
                      value={p.role}
                      disabled={role.isPending}
                      onChange={(e) => role.mutate({ id: p.id, to: e.target.value as Role })}
                    >
                      {roles.slice(0, 3).map(([id, does]) => (
                        <option key={id} value={id}>
                          {id}: {does}
                        </option>
                      ))}
                    </Form.Select>
                  ) : (
                    p.role
                  )}
                </td>
                <td>{p.second_factor ? 'set' : 'none'}</td>
                <td className="text-end">
                  {admin && !p.you && (
                    <Button variant="link" size="sm" className="p-0" onClick={() => setLeaving(p.id)}>
                      Take over
                    </Button>
                  )}
                </td>
              </tr>
            ),
          )}
        </tbody>
      </table>
      {found.data.invitations.length > 0 && (
        <section className="sheet">
          <h2>Invited</h2>
          <Failed error={uninvite.error} />
          <ul className="made-links">
            {found.data.invitations.map((i) => (
              <li key={i.id}>
                <span>
                  <span className="mono">{i.email}</span>, {i.role}
                  {i.client_name && ` of ${i.client_name}`}
                  <span className="second small">
                    by {i.invited_by}; until {dayTime(new Date(i.expires), zone)}
                  </span>
                </span>
                {admin && (
                  <Button variant="link" size="sm" className="p-0 text-nowrap" onClick={() => uninvite.mutate(i.id)}>
                    Take back
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      {admin && <Invite onDone={again} />}
      {gone.length > 0 && <p className="second">Gone: {gone.map((p) => p.name).join(', ')}.</p>}
    </>
  )
}

function Invite({ onDone }: { onDone: () => Promise<void> }) {
  const clients = useClients()
  const say = useSay()
  const copy = useCopy()
  const [email, setEmail] = useState('')
  const [role, setRole] = useState<Role>('specialist')
  const [client, setClient] = useState('')
  const invite = useMutation({
    mutationFn: () =>
      told(api.POST('/api/invitations', { body: { email, role, client: role === 'client' ? client || undefined : undefined } })),
    onSuccess: (i) => {
      setEmail('')
      void onDone()
      say(`${i.email} has been written to.`)
    },
  })
  return (
    <section className="sheet">
      <h2>Invite somebody</h2>
      <Failed error={invite.error} />
      <form
        className="invite"
        onSubmit={(e) => {
          e.preventDefault()
          invite.mutate()
        }}
      >
        <Form.Group controlId="invite-email">
          <Form.Label>Email</Form.Label>
          <Form.Control type="email" required maxLength={200} value={email} onChange={(e) => setEmail(e.target.value)} />
        </Form.Group>
        <Form.Group controlId="invite-role">
          <Form.Label>Role</Form.Label>
          <Form.Select value={role} onChange={(e) => setRole(e.target.value as Role)}>
            {roles.map(([id, does]) => (
              <option key={id} value={id}>
                {id}: {does}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        {role === 'client' && (
          <Form.Group controlId="invite-client">
            <Form.Label>Of which client</Form.Label>
            <Form.Select required value={client} onChange={(e) => setClient(e.target.value)}>
              <option value="">Choose</option>
              {clients.data?.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.name}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
        )}
        <Button type="submit" variant="outline-secondary" disabled={invite.isPending}>
          {invite.isPending ? 'Sending' : 'Send invitation'}
        </Button>
      </form>
      {invite.data?.address && (
        <p>
          Or give them this address, which is told once: <span className="mono text-break">{invite.data.address}</span>{' '}
          <Button variant="link" className="p-0" onClick={() => void copy('The address', invite.data.address!)}>
            Copy
          </Button>
        </p>
      )}
    </section>
  )
}

function TakeOver({ person, others, onDone }: { person: Schemas['Person']; others: Schemas['Person'][]; onDone: () => void }) {
  const queries = useQueryClient()
  const say = useSay()
  const [to, setTo] = useState(others[0]?.id ?? '')
  const take = useMutation({
    mutationFn: () => told(api.POST('/api/people/{person}/takeover', { params: { path: { person: person.id } }, body: { to } })),
    onSuccess: (n) => {
      onDone()
      void queries.invalidateQueries()
      say(`${person.name} can no longer sign in; ${counted(n.accounts, 'account')} and ${counted(n.drafts, 'draft')} were taken over.`)
    },
  })
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        take.mutate()
      }}
    >
      <p className="mb-1">
        {person.name} will no longer be able to sign in, and their keys end. The accounts on directories that they hold and what they left
        unsaved go to:
      </p>
      <Failed error={take.error} />
      <span className="d-flex gap-2">
        <Form.Select className="w-auto" aria-label="Who takes over" value={to} onChange={(e) => setTo(e.target.value)}>
          {others.map((o) => (
            <option key={o.id} value={o.id}>
              {o.name}
            </option>
          ))}
        </Form.Select>
        <Button type="submit" variant="outline-secondary" disabled={take.isPending || !to}>
          Take over from {person.name}
        </Button>
        <Button variant="link" onClick={onDone}>
          Leave it
        </Button>
      </span>
    </form>
  )
}
