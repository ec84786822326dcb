import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { z } from 'zod'
import type { Listing } from '../api/client'
import { Fields, Send, Text, useFields } from '../kit/form'
import { Do, Failed } from '../kit/verb'
import { useListingVerb } from './verbs'

const reason = z.object({ why: z.string().trim().min(1, 'Say why, for whoever asks later.').max(500) })

// Withdraw takes a listing out of public view on purpose, and brings it back.
export function Withdraw({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const [asks, setAsks] = useState(false)
  if (l.row.strand.visibility === 'withdrawn')
    return (
      <section className="sheet">
        <h2>Out of public view, by us</h2>
        <p>{l.withdrawal}</p>
        <Failed error={verb.error} />
        <p>
          <Do verb={verb} of={{ do: 'back' }} running="Asking" variant="outline-secondary" disabled={!!l.busy}>
            Bring it back
          </Do>
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
  return <TakeOut listing={l} onDone={() => setAsks(false)} />
}

function TakeOut({ listing: l, onDone }: { listing: Listing; onDone: () => void }) {
  const verb = useListingVerb(l)
  const form = useFields(reason, { why: '' })
  return (
    <section className="sheet">
      <h2>Take it out of public view</h2>
      <p className="second">
        {l.row.directory_name} no longer shows it until it is brought back. Nothing of it is lost, and it stays verified.
      </p>
      <Fields form={form} verb={verb} send={({ why }) => verb.mutate({ do: 'withdraw', why }, { onSuccess: onDone })}>
        <Text name="why" label="Why" autoFocus maxLength={500} />
        <p className="d-flex gap-2 mt-2">
          <Send verb={verb} running="Asking" variant="outline-secondary" disabled={!!l.busy}>
            Take it out
          </Send>
          <Button variant="link" onClick={onDone}>
            Leave it
          </Button>
        </p>
      </Fields>
    </section>
  )
}
