import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { z } from 'zod'
import { api, told, type Listing } from '../api/client'
import { dateWords } from '../app/clock'
import { counted } from '../app/View'
import { Fields, Send, Text, useFields } from '../kit/form'
import { Do, Failed, useVerb } from '../kit/verb'
import { useListingVerb } from './verbs'

const reason = z.object({ why: z.string().trim().min(1, 'Say why, for whoever asks later.').max(500), back: z.string() })

// Withdraw takes a listing out of public view on purpose, and brings it back.
export function Withdraw({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const [asks, setAsks] = useState(false)
  if (l.row.strand.visibility === 'withdrawn')
    return (
      <section className="sheet">
        <h2>Out of public view, by us</h2>
        <p>
          {l.withdrawal} {l.back_on && `It shows again on ${dateWords(l.back_on)}, by itself.`}
        </p>
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
  const form = useFields(reason, { why: '', back: '' })
  const [others, setOthers] = useState<ReadonlySet<string>>(new Set())
  const places = [l.row.directory, ...others].map((directory) => ({ location: l.row.location, directory }))
  const take = useVerb({
    does: ({ why, back }: { why: string; back: string }) =>
      told(api.POST('/api/withdrawals', { body: { items: places, why, back: back || undefined } })),
    changes: 'all',
    then: (r) => r.refused.length === 0 && onDone(),
    says: (r) => (r.asked > 0 ? `${counted(r.asked, 'directory is', 'directories are')} asked to take it out of view.` : undefined),
  })
  const elsewhere = l.shown_elsewhere ?? []
  return (
    <section className="sheet">
      <h2>Take it out of public view</h2>
      <p className="second">
        {l.row.directory_name} no longer shows it until it is brought back. Nothing of it is lost, and it stays verified.
      </p>
      <Fields form={form} verb={take} send={(v) => take.mutate(v)}>
        <Text name="why" label="Why" autoFocus maxLength={500} />
        <Text name="back" label="It shows again on (empty: somebody brings it back)" type="date" />
        {elsewhere.length > 0 && (
          <fieldset className="mt-2">
            <legend>And on</legend>
            {elsewhere.map((e) => (
              <Form.Check
                key={e.directory}
                id={'also-' + e.directory}
                label={e.name}
                checked={others.has(e.directory)}
                onChange={() => {
                  const next = new Set(others)
                  if (!next.delete(e.directory)) next.add(e.directory)
                  setOthers(next)
                }}
              />
            ))}
          </fieldset>
        )}
        {take.data?.refused.map((r) => (
          <p key={r.directory} className="wrong">
            {elsewhere.find((e) => e.directory === r.directory)?.name ?? l.row.directory_name}: {r.says}
          </p>
        ))}
        <p className="d-flex gap-2 mt-2">
          <Send verb={take} running="Asking" variant="outline-secondary" disabled={!!l.busy}>
            {places.length > 1 ? `Take out ${places.length}` : 'Take it out'}
          </Send>
          <Button variant="link" onClick={onDone}>
            Leave it
          </Button>
        </p>
      </Fields>
    </section>
  )
}
