import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { dateWords } from '../app/clock'
import { WindowBar } from '../marks/WindowBar'
import { Failed } from '../kit/verb'
import { useListingVerb } from './verbs'

// Suggest is about a panel that the directory changes itself: what it shows otherwise is
// suggested, one fact at a time, with a public page that shows it.
export function Suggest({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const website = l.facts.find((f) => f.fact === 'website')?.record ?? ''
  const [evidence, setEvidence] = useState(website)
  const other = l.facts.filter((f) => f.record && (f.mark === '≠' || f.mark === '∅'))
  return (
    <section className="sheet">
      <h2>{l.change ? 'A suggestion is looked at' : 'Suggest a change'}</h2>
      {l.change && (
        <>
          <p>
            A reviewer looks at {l.change.facts.join(', ')} and answers by email by {dateWords(l.change.window.latest)}.
          </p>
          <div className="px-3 attempt-bar">
            <WindowBar window={l.change.window} />
          </div>
        </>
      )}
      {!l.change && l.trouble && <p className="wrong mx-3">{l.trouble}</p>}
      {!l.change && other.length === 0 && (
        <p className="second">
          {l.seen_at
            ? 'What it shows agrees with the record.'
            : 'Look at its page first; what differs from the record can then be suggested.'}
        </p>
      )}
      {!l.change && other.length > 0 && (
        <>
          <Form.Group controlId="evidence" className="px-3">
            <Form.Label>A public page that shows it</Form.Label>
            <Form.Control type="url" value={evidence} maxLength={2000} onChange={(e) => setEvidence(e.target.value)} />
            <Form.Text>The business’s own site, or a public listing that is right already.</Form.Text>
          </Form.Group>
          <Failed error={verb.error} />
          <dl className="changed">
            {other.map((f) => (
              <div key={f.fact} className="d-flex justify-content-between gap-2 align-items-start">
                <span>
                  <dt>{f.title}</dt>
                  <dd>
                    {f.seen && <del>{f.seen}</del>} <ins>{f.record}</ins>
                  </dd>
                </span>
                <Button
                  variant="outline-secondary"
                  size="sm"
                  className="text-nowrap"
                  disabled={verb.isPending || !!l.busy}
                  onClick={() => verb.mutate({ do: 'suggest', fact: f.fact, evidence })}
                >
                  Suggest {f.title.toLowerCase()}
                </Button>
              </div>
            ))}
          </dl>
        </>
      )}
    </section>
  )
}
