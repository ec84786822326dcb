import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useMatters } from '../api/queries'
import { pathOf } from '../app/place'
import { reason, useVerb } from '../kit/verb'

// Remains is what is left where a listing stays suspended: the ways on, and the decision to take none.
export function Remains({ location, directory, c }: { location: string; directory: string; c: Schemas['Case'] }) {
  const matters = useMatters(location, directory).data
  const [why, setWhy] = useState('')
  const open = matters?.find((m) => m.kind === 'suspended_yet' && !m.ended_at)
  const decided = matters?.find((m) => m.kind === 'suspended_yet' && m.ended_by)
  const decide = useVerb({
    does: (matter: string) => told(api.POST('/api/matters/decisions', { body: { matters: [matter], why } })),
    changes: 'all',
    says: () => `${c.row.label} on ${c.row.directory_name} is left as it is.`,
    undo: async (_, matter) => void (await told(api.DELETE('/api/matters/{matter}/decision', { params: { path: { matter } } }))),
  })
  return (
    <section className="sheet next">
      <h2>What remains</h2>
      <ol>
        <li>
          Mend what they minded in <Link to={pathOf('record', { location })}>the record</Link>: whatever comes next is looked at by the same
          rules.
        </li>
        <li>
          Ask {c.row.client_name} whether somebody of theirs holds, or can make, a listing there under an account of their own, and take
          access from them.
        </li>
        <li>
          Leave it: of {c.row.directory_name}’s weight, {c.row.weight} of 100 are lost for {c.row.label}. Tell {c.row.client_name} so.
        </li>
      </ol>
      {open && (
        <Form
          className="mx-3 d-flex gap-2"
          onSubmit={(e) => {
            e.preventDefault()
            decide.mutate(open.id)
          }}
        >
          <Form.Control
            size="sm"
            aria-label="Why it is left"
            placeholder="Why it is left, for whoever asks later"
            maxLength={500}
            value={why}
            onChange={(e) => setWhy(e.target.value)}
          />
          <Button size="sm" type="submit" variant="outline-secondary" className="text-nowrap" disabled={decide.isPending}>
            Leave it as it is
          </Button>
        </Form>
      )}
      {decide.error && (
        <p className="wrong" role="alert">
          {reason(decide.error)}
        </p>
      )}
      {!open && decided && (
        <p>
          Left by {decided.ended_by}: {decided.ended_why}
        </p>
      )}
    </section>
  )
}
