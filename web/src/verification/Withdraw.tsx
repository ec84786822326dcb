import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { Failed } from './Failed'
import { useVerb } from './verbs'

// Withdraw takes a listing out of public view on purpose, and brings it back.
export function Withdraw({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
  const [asks, setAsks] = useState(false)
  const [why, setWhy] = useState('')
  const off = verb.isPending || !!l.busy
  if (l.row.strand.visibility === 'withdrawn')
    return (
      <section className="sheet">
        <h2>Out of public view, by us</h2>
        <p>{l.withdrawal}</p>
        <Failed error={verb.error} />
        <p>
          <Button variant="outline-secondary" disabled={off} onClick={() => verb.mutate({ do: 'back' })}>
            {verb.isPending ? 'Asking' : 'Bring it back'}
          </Button>
        </p>
      </section>
    )
  if (!asks)
    return (
      <p>
        <Button variant="link" className="p-0" onClick={() => setAsks(true)}>
          Take it out of public view
        </Button>
      </p>
    )
  return (
    <section className="sheet">
      <h2>Take it out of public view</h2>
      <p className="second">
        {l.row.directory_name} no longer shows it until it is brought back. Nothing of it is lost, and it stays verified.
      </p>
      <Failed error={verb.error} />
      <form
        onSubmit={(e) => {
          e.preventDefault()
          verb.mutate({ do: 'withdraw', why }, { onSuccess: () => setAsks(false) })
        }}
      >
        <Form.Group controlId="withdraw-why">
          <Form.Label>Why</Form.Label>
          <Form.Control required autoFocus maxLength={500} value={why} onChange={(e) => setWhy(e.target.value)} />
        </Form.Group>
        <p className="d-flex gap-2 mt-2">
          <Button type="submit" variant="outline-secondary" disabled={off}>
            {verb.isPending ? 'Asking' : 'Take it out'}
          </Button>
          <Button variant="link" onClick={() => setAsks(false)}>
            Leave it
          </Button>
        </p>
      </form>
    </section>
  )
}
