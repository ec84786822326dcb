import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { z } from 'zod'
import { api, told, type Schemas } from '../api/client'
import { Fields, Send, Text, useFields } from '../kit/form'
import { useVerb } from '../kit/verb'

const reason = z.object({ why: z.string().trim().max(1000) })

// GiveUp ends a case without its having been won.
export function GiveUp({ c }: { c: Schemas['Case'] }) {
  const [asks, setAsks] = useState(false)
  const form = useFields(reason, { why: '' })
  const drop = useVerb({
    does: (query: z.infer<typeof reason>) =>
      told(
        api.DELETE('/api/listings/{location}/{directory}/cases/{case}', {
          params: { path: { location: c.row.location, directory: c.row.directory, case: c.facts.id }, query },
        }),
      ),
    changes: ['case'],
  })
  if (!asks)
    return (
      <p>
        <Button variant="link" className="p-0" onClick={() => setAsks(true)}>
          Give the case up
        </Button>
      </p>
    )
  return (
    <section className="sheet">
      <h2>Give the case up</h2>
      <Fields form={form} verb={drop} send={drop.mutate}>
        <Text name="why" label="Why, for whoever asks later" maxLength={1000} />
        <p className="mt-2 d-flex gap-2">
          <Send verb={drop} variant="outline-secondary">
            Give it up
          </Send>
          <Button variant="link" onClick={() => setAsks(false)}>
            Leave it open
          </Button>
        </p>
      </Fields>
    </section>
  )
}
