import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { usePeople, useSession } from '../api/queries'
import { dayTime, useZone } from '../app/clock'
import { counted, Pending, ViewHead } from '../app/View'
import { DataTable, type Column } from '../kit/table'
import { Do, Failed, useVerb } from '../kit/verb'
import { Access } from './Access'
import { FactorByRole } from './FactorByRole'
import { Invite } from './Invite'
import { roles, type Role } from './roles'
import { TakeOver } from './TakeOver'
import { canBeLimited, Limits, worksFor } from './WorksFor'

type Person = Schemas['Person']

// PeopleView is about who may sign in, and what each may do.
export function PeopleView() {
  const found = usePeople()
  const admin = useSession().data?.may.includes('administer') ?? false
  const [open, setOpen] = useState<{ id: string; act: 'leave' | 'access' | 'limits' }>()
  const close = () => setOpen(undefined)
  if (!found.data) return <Pending error={found.error} />
  const { people, invitations } = found.data
  const here = people.filter((p) => !p.ended)
  const gone = people.filter((p) => p.ended)
  const columns: Column<Person>[] = [
    {
      id: 'name',
      head: 'Name',
      names: true,
      by: (p) => p.name,
      cell: (p) => (
        <>
          {p.name} {p.you && <span className="second">you</span>}
        </>
      ),
    },
    { id: 'email', head: 'Signs in with', className: 'mono', by: (p) => p.email, cell: (p) => p.email },
    { id: 'role', head: 'Role', cell: (p) => <RoleOf person={p} admin={admin} /> },
    {
      id: 'for',
      head: 'Works for',
      cell: (p) => <span title={p.clients?.map((c) => c.name).join(', ')}>{worksFor(p.role, p.clients)}</span>,
    },
    { id: 'factor', head: 'Second factor', cell: (p) => (p.second_factor ? 'set' : 'none') },
    {
      id: 'acts',
      head: '',
      className: 'text-end text-nowrap',
      cell: (p) =>
        admin &&
        !p.you && (
          <>
            {canBeLimited(p.role) && (
              <Button variant="link" size="sm" className="p-0 me-3" onClick={() => setOpen({ id: p.id, act: 'limits' })}>
                Clients
              </Button>
            )}
            <Button variant="link" size="sm" className="p-0 me-3" onClick={() => setOpen({ id: p.id, act: 'access' })}>
              Sessions
            </Button>
            <Button variant="link" size="sm" className="p-0" onClick={() => setOpen({ id: p.id, act: 'leave' })}>
              Take over
            </Button>
          </>
        ),
    },
  ]
  return (
    <>
      <ViewHead
        title="People"
        says={`${counted(here.length, 'person', 'people')} may sign in${invitations.length > 0 ? `, ${invitations.length} invited` : ''}.`}
      />
      <DataTable
        className="mb-3"
        rows={here}
        columns={columns}
        rowKey={(p) => p.id}
        instead={(p) =>
          open?.id === p.id &&
          (open.act === 'access' ? (
            <Access person={p} onDone={close} />
          ) : open.act === 'limits' ? (
            <Limits person={p} onDone={close} />
          ) : (
            <TakeOver person={p} others={here.filter((o) => o.id !== p.id && o.role !== 'client' && !o.clients)} onDone={close} />
          ))
        }
      />
      {invitations.length > 0 && <Invited list={invitations} admin={admin} />}
      {admin && <Invite />}
      {admin && <FactorByRole />}
      {gone.length > 0 && <p className="second">Gone: {gone.map((p) => p.name).join(', ')}.</p>}
    </>
  )
}

// RoleOf is what somebody may do, for an administrator to change.
function RoleOf({ person: p, admin }: { person: Person; admin: boolean }) {
  const put = (role: Role) =>
    told(
      api.PUT('/api/people/{person}', {
        params: { path: { person: p.id } },
        body: { role, clients: canBeLimited(role) ? p.clients?.map((c) => c.id) : undefined },
      }),
    )
  const role = useVerb({
    does: put,
    changes: ['people'],
    says: (now) => `${now.name} is ${now.role} now.`,
    undo: async () => {
      await put(p.role)
      return `${p.name} is ${p.role} again.`
    },
    tells: true,
  })
  if (p.role === 'client') return <>client, of {p.client_name}</>
  if (!admin) return <>{p.role}</>
  return (
    <Form.Select
      size="sm"
      className="w-auto"
      aria-label={`Role of ${p.name}`}
      value={role.isPending ? role.variables : p.role}
      disabled={role.isPending}
      onChange={(e) => role.mutate(e.target.value as Role)}
    >
      {roles.slice(0, 3).map(([id, does]) => (
        <option key={id} value={id} title={does}>
          {id}
        </option>
      ))}
    </Form.Select>
  )
}

// Invited lists who was asked to join and has not come yet.
function Invited({ list, admin }: { list: Schemas['Invitation'][]; admin: boolean }) {
  const zone = useZone()
  const takeBack = useVerb({
    does: (id: string) => told(api.DELETE('/api/invitations/{invitation}', { params: { path: { invitation: id } } })),
    changes: ['people'],
    says: () => 'The invitation is taken back.',
  })
  return (
    <section className="sheet">
      <h2>Invited</h2>
      <Failed error={takeBack.error} />
      <ul className="made-links">
        {list.map((i) => (
          <li key={i.id}>
            <span>
              <span className="mono">{i.email}</span>, {i.role}
              {i.client_name ? ` of ${i.client_name}` : ` for ${worksFor(i.role, i.clients)}`}
              <span className="second small">
                by {i.invited_by}; until {dayTime(new Date(i.expires), zone)}
              </span>
            </span>
            {admin && (
              <Do verb={takeBack} of={i.id} variant="link" size="sm" className="p-0 text-nowrap">
                Take back
              </Do>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
