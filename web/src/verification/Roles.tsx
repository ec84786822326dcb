import { Form } from 'react-bootstrap'
import { z } from 'zod'
import type { Listing } from '../api/client'
import { useSpoken } from '../api/queries'
import { Choice, Fields, Send, Text, useFields } from '../kit/form'
import { Failed } from '../kit/verb'
import { useListingVerb } from './verbs'

const given = z.object({
  account: z.email('Give the email that the account signs in with.').max(200),
  role: z.string(),
})

// Roles is about the other accounts that may work on a listing of ours.
export function Roles({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const form = useFields(given, { account: '', role: l.speaks.roles[0] ?? '' })
  const spoken = useSpoken(l)
  const give = (account: string, role: string) =>
    verb.mutate({ do: 'role', account, role }, { onSuccess: () => form.setValue('account', '') })
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
      <Fields className="d-flex gap-2 pt-2" form={form} verb={verb} send={({ account, role }) => give(account, role)}>
        <Text name="account" label="Account" hidden placeholder="account’s email" type="email" maxLength={200} />
        <Choice name="role" label="Role" hidden className="w-auto">
          {l.speaks.roles.map((x) => (
            <option key={x}>{x}</option>
          ))}
        </Choice>
        <Send verb={verb} variant="outline-secondary" className="text-nowrap" disabled={!!l.busy}>
          Give role
        </Send>
      </Fields>
    </section>
  )
}
