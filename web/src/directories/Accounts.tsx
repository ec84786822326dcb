import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useAccounts } from '../api/queries'
import { useSay } from '../app/say'
import { Pending } from '../app/View'
import { Failed } from '../verification/Failed'

type Account = Schemas['Account']
type Facts = Schemas['AccountFacts']

const blank: Facts = { directory: '', email: '', holder: '', class: '', confirmed: false, personal: false, note: '', gone: false }

// Accounts is the register of accounts by which directories know us. It never holds a
// password.
export function Accounts({ directories }: { directories: Schemas['Directory'][] }) {
  const accounts = useAccounts()
  const queries = useQueryClient()
  const say = useSay()
  const [open, setOpen] = useState<string>()
  const send = (id: string | undefined, f: Facts) =>
    id
      ? told(api.PUT('/api/accounts/{account}', { params: { path: { account: id } }, body: f }))
      : told(api.POST('/api/accounts', { body: f }))
  const save = useMutation({
    mutationFn: ({ id, f }: { id?: string; f: Facts }) => send(id, f),
    onSuccess: async (a) => {
      await queries.invalidateQueries({ queryKey: ['accounts'] }) // the row is shown as it is by then, and does not move
      setOpen(undefined)
      say(`${a.email} is kept.`)
    },
  })
  const drop = useMutation({
    mutationFn: (a: Account) => told(api.DELETE('/api/accounts/{account}', { params: { path: { account: a.id } } })),
    onSuccess: async (_, a) => {
      await queries.invalidateQueries({ queryKey: ['accounts'] })
      say(`${a.email} is out of the list.`, () => {
        const { directory, email, holder, person, confirmed, personal, note, gone } = a
        void send(undefined, { directory, email, holder, person, class: a.class, confirmed, personal, note, gone }).then(() =>
          queries.invalidateQueries({ queryKey: ['accounts'] }),
        )
      })
    },
    onError: (e) => say(e.message),
  })
  if (!accounts.data) return <Pending error={accounts.error} />
  const name = (id: string) => directories.find((d) => d.id === id)?.name ?? id
  const form = (id: string | undefined, f: Facts) => (
    <AccountForm
      key={id ?? 'new'}
      facts={f}
      directories={directories}
      fixed={!!id}
      error={save.error}
      busy={save.isPending}
      onSave={(x) => save.mutate({ id, f: x })}
      onLeave={() => {
        save.reset()
        setOpen(undefined)
      }}
    />
  )
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Accounts</h2>
        <Button variant="outline-secondary" onClick={() => setOpen('new')} disabled={open === 'new'}>
          Add an account
        </Button>
      </div>
      <p className="second">Which account is used where, and who can sign in with it. Passwords do not belong here.</p>
      {open === 'new' && form(undefined, { ...blank, directory: directories[0]?.id ?? '' })}
      {accounts.data.length === 0 && open !== 'new' && <p className="second">No account is listed yet. Add the first one.</p>}
      {accounts.data.length > 0 && (
        <table className="grid">
          <thead>
            <tr>
              <th scope="col">Directory</th>
              <th scope="col">Signs in as</th>
              <th scope="col">Holder</th>
              <th scope="col">Class</th>
              <th scope="col">Email</th>
              <th scope="col" />
            </tr>
          </thead>
          <tbody>
            {accounts.data.map((a) =>
              open === a.id ? (
                <tr key={a.id}>
                  <td colSpan={6}>{form(a.id, a)}</td>
                </tr>
              ) : (
                <tr key={a.id} className={a.warnings.length > 0 ? 'off' : ''}>
                  <th scope="row">{name(a.directory)}</th>
                  <td>
                    <span className="mono">{a.email}</span>
                    {a.note && <span className="second d-block small">{a.note}</span>}
                  </td>
                  <td>
                    {a.gone ? <s>{a.holder}</s> : a.holder}
                    {a.personal && <span className="second"> own account behind it</span>}
                    {a.warnings.map((w) => (
                      <span className="says" key={w}>
                        {w}
                      </span>
                    ))}
                  </td>
                  <td>{a.class || <span className="quiet">one for all</span>}</td>
                  <td>{a.confirmed ? 'confirmed' : 'not confirmed'}</td>
                  <td className="acts-cell text-nowrap">
                    <Button variant="link" size="sm" className="p-0 me-2" onClick={() => setOpen(a.id)}>
                      Change
                    </Button>
                    <Button variant="link" size="sm" className="p-0" onClick={() => drop.mutate(a)}>
                      Take out
                    </Button>
                  </td>
                </tr>
              ),
            )}
          </tbody>
        </table>
      )}
    </section>
  )
}

function AccountForm({
  facts,
  directories,
  fixed,
  error,
  busy,
  onSave,
  onLeave,
}: {
  facts: Facts
  directories: Schemas['Directory'][]
  fixed: boolean
  error: Error | null
  busy: boolean
  onSave: (f: Facts) => void
  onLeave: () => void
}) {
  const [f, setF] = useState(facts)
  const set = (part: Partial<Facts>) => setF({ ...f, ...part })
  const classes = directories.find((d) => d.id === f.directory)?.classes ?? []
  const fields = (error as { fields?: { path: string; message: string }[] } | null)?.fields ?? []
  const wrong = (path: string) => fields.find((x) => x.path === path)?.message
  return (
    <form
      className="account-form"
      onSubmit={(e) => {
        e.preventDefault()
        const { directory, email, holder, person, confirmed, personal, note, gone } = f
        onSave({ directory, email, holder, person, class: f.class, confirmed, personal, note, gone })
      }}
    >
      {error && fields.length === 0 && <Failed error={error} />}
      <div className="three">
        <Form.Group controlId="account-directory">
          <Form.Label>Directory</Form.Label>
          <Form.Select value={f.directory} disabled={fixed} onChange={(e) => set({ directory: e.target.value, class: '' })}>
            {directories.map((d) => (
              <option key={d.id} value={d.id}>
                {d.name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="account-email">
          <Form.Label>Email it signs in with</Form.Label>
          <Form.Control value={f.email} isInvalid={!!wrong('email')} onChange={(e) => set({ email: e.target.value })} maxLength={200} />
          <Form.Control.Feedback type="invalid">{wrong('email')}</Form.Control.Feedback>
        </Form.Group>
        <Form.Group controlId="account-holder">
          <Form.Label>Who can sign in</Form.Label>
          <Form.Control value={f.holder} isInvalid={!!wrong('holder')} onChange={(e) => set({ holder: e.target.value })} maxLength={200} />
          <Form.Control.Feedback type="invalid">{wrong('holder')}</Form.Control.Feedback>
        </Form.Group>
      </div>
      <div className="three">
        {classes.length > 0 && (
          <Form.Group controlId="account-class">
            <Form.Label>Class</Form.Label>
            <Form.Select value={f.class} onChange={(e) => set({ class: e.target.value })}>
              <option value="">not known</option>
              {classes.map((c) => (
                <option key={c}>{c}</option>
              ))}
            </Form.Select>
          </Form.Group>
        )}
        <Form.Group controlId="account-note">
          <Form.Label>Note</Form.Label>
          <Form.Control value={f.note} onChange={(e) => set({ note: e.target.value })} maxLength={1000} />
        </Form.Group>
      </div>
      <Form.Check
        id="account-confirmed"
        label="Its email is confirmed"
        checked={f.confirmed}
        onChange={(e) => set({ confirmed: e.target.checked })}
      />
      <Form.Check
        id="account-personal"
        label="A person’s own account stands behind it"
        checked={f.personal}
        onChange={(e) => set({ personal: e.target.checked })}
      />
      <Form.Check
        id="account-gone"
        label="Its holder has left, and nobody else can sign in"
        checked={f.gone}
        onChange={(e) => set({ gone: e.target.checked })}
      />
      <div className="mt-2">
        <Button type="submit" disabled={busy}>
          Keep the account
        </Button>{' '}
        <Button variant="outline-secondary" onClick={onLeave}>
          Leave it
        </Button>
      </div>
    </form>
  )
}
