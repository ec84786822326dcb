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
  const pages = l.evidence ?? []
  // Which page goes with each fact: the best that is known for it, until another is chosen; empty: one that is written.
  const [chosen, setChosen] = useState<Record<string, string>>({})
  const [written, setWritten] = useState('')
  const fitting = (fact: string) => pages.filter((p) => !p.name || p.shows.includes(fact))
  const pageOf = (fact: string) => chosen[fact] ?? fitting(fact)[0]?.address ?? ''
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
          <p className="second">Each goes with a public page that shows it.</p>
          {other.some((f) => !pageOf(f.fact)) && (
            <Form.Group controlId="evidence" className="px-3">
              <Form.Label>Another public page</Form.Label>
              <Form.Control type="url" value={written} maxLength={2000} onChange={(e) => setWritten(e.target.value)} />
            </Form.Group>
          )}
          <Failed error={verb.error} />
          <dl className="changed">
            {other.map((f) => (
              <div key={f.fact}>
                <div className="d-flex justify-content-between gap-2 align-items-start">
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
                    onClick={() => verb.mutate({ do: 'suggest', fact: f.fact, evidence: pageOf(f.fact) || written })}
                  >
                    Suggest {f.title.toLowerCase()}
                  </Button>
                </div>
                <Form.Select
                  size="sm"
                  aria-label={`Page that shows the ${f.title.toLowerCase()}`}
                  value={pageOf(f.fact)}
                  onChange={(e) => setChosen({ ...chosen, [f.fact]: e.target.value })}
                >
                  {fitting(f.fact).map((p) => (
                    <option key={p.address} value={p.address}>
                      {p.name ? `Its page on ${p.name}` : 'The business’s own site'}: taken {p.hearing.says}
                    </option>
                  ))}
                  <option value="">Another page</option>
                </Form.Select>
              </div>
            ))}
          </dl>
        </>
      )}
    </section>
  )
}
