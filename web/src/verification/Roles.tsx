import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { useSpoken } from '../api/queries'
import { Failed } from './Failed'
import { useVerb } from './verbs'

// Roles is about the other accounts that may work on a listing of ours.
export function Roles({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
  const [account, setAccount] = useState('')
  const [role, setRole] = useState(l.speaks.roles[0] ?? '')
  const spoken = useSpoken(l)
  const give = (to: string, as: string) => verb.mutate({ do: 'role', account: to, role: as }, { onSuccess: () => setAccount('') })
  return (
    <section className="sheet">
      <h2>Who else may work on it</h2>
      <p className="second">
        <span className="mono">{l.account}</span> holds it. Other accounts may have a role, the least first: {l.speaks.roles.join(', ')}.
      </p>
      <Failed error={spoken.error} />
      {spoken.data && spoken.data.roles.length > 0 && (
        <ul className="made-links">
          {spoken.data.roles.map((r) => (
            <li key={r.account}>
              <span className="mono text-break">{r.account}</span>
              <Form.Select
                size="sm"
                className="w-auto"
                aria-label={`Role of ${r.account}`}
                value={r.role}
                disabled={verb.isPending || !!l.busy}
                onChange={(e) => give(r.account, e.target.value)}
              >
                {l.speaks.roles.map((x) => (
                  <option key={x}>{x}</option>
                ))}
              </Form.Select>
            </li>
          ))}
        </ul>
      )}
      <Failed error={verb.error} />
      <form
        className="d-flex gap-2 pt-2"
        onSubmit={(e) => {
          e.preventDefault()
          give(account, role)
        }}
      >
        <Form.Control
          aria-label="Account"
          placeholder="account’s email"
          type="email"
          required
          maxLength={200}
          value={account}
          onChange={(e) => setAccount(e.target.value)}
        />
        <Form.Select className="w-auto" aria-label="Role" value={role} onChange={(e) => setRole(e.target.value)}>
          {l.speaks.roles.map((x) => (
            <option key={x}>{x}</option>
          ))}
        </Form.Select>
        <Button type="submit" variant="outline-secondary" className="text-nowrap" disabled={verb.isPending || !!l.busy}>
          Give role
        </Button>
      </form>
    </section>
  )
}
