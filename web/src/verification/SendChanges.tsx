import { Button } from 'react-bootstrap'
import type { Listing, Schemas } from '../api/client'
import { dateWords } from '../app/clock'
import { chance as inWords } from '../app/chance'
import { counted } from '../app/View'
import { Failed } from '../kit/verb'
import { useListingVerb } from './verbs'

const leads: Record<Schemas['SetsOff'], string> = {
  review: 'a review',
  verification: 'a new verification',
  writing: 'a letter',
  refusal: 'a refusal',
  suspension: 'a suspension',
}

// likely says how likely something is.
export const likely = (chance: number, worst: Schemas['SetsOff']) => `${leads[worst]}, ${inWords(chance)}`

// SendChanges gives a connected directory what the record says otherwise by now, in the
// gentlest order where all of it at once is a risk.
export function SendChanges({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  if (l.changed.length === 0 && !l.change) return null
  const n = l.changed.length
  const c = l.caution
  const inSteps = c.steps.length > 1
  const send = (facts?: string[]) => verb.mutate({ do: 'send', facts })
  const off = verb.isPending || !!l.busy || !!l.change
  return (
    <section className="sheet">
      <h2>{n > 0 ? `${counted(n, 'value')} to send` : 'A change is looked at'}</h2>
      {n > 0 && l.copied_from && <p>What did not come along from {l.copied_from}, or has changed since.</p>}
      {l.change && (
        <p>
          {l.row.directory_name} is looking at {l.change.facts.join(', ')}; it answers by {dateWords(l.change.window.latest)}.
          {n > 0 && ' Nothing more is sent before: a second change before the first is settled is what gets listings suspended.'}
        </p>
      )}
      {c.worst && c.risks.length > 0 && (
        <div className="wrong mx-3 mt-2">
          Sent at once, this may lead to {likely(c.chance, c.worst)}:
          <ul className="mb-0">
            {c.risks.map((r) => (
              <li key={r.cause}>
                {r.says} {r.mend}
              </li>
            ))}
          </ul>
        </div>
      )}
      <Failed error={verb.error} />
      {n > 0 && !l.change && inSteps && (
        <>
          <p className="mb-1">The gentlest order:</p>
          <ol className="order-steps">
            {c.steps.map((s, i) => (
              <li key={s.keys.join()}>
                {i === 0 && !s.after ? (
                  <span className="d-flex justify-content-between align-items-start gap-2">
                    <span>
                      <b>Today:</b> {s.titles.join(', ')}
                      {s.meets && <span className="second small d-block">{s.meets}</span>}
                      {s.worst && s.chance > 0 && <span className="second small d-block">By itself: {likely(s.chance, s.worst)}.</span>}
                    </span>
                    <Button variant="outline-secondary" size="sm" className="text-nowrap" disabled={off} onClick={() => send(s.keys)}>
                      {verb.isPending ? 'Sending' : `Send ${s.keys.length}`}
                    </Button>
                  </span>
                ) : (
                  <>
                    {s.after ? `Then, ${s.after}:` : 'Then:'} {s.titles.join(', ')}
                    {s.meets && <span className="second small d-block">{s.meets}</span>}
                    {s.worst && s.chance > 0 && <span className="second small d-block">By itself: {likely(s.chance, s.worst)}.</span>}
                  </>
                )}
              </li>
            ))}
          </ol>
          <p>
            <Button variant="link" className="p-0" disabled={off} onClick={() => send()}>
              Send all {n} at once
            </Button>
          </p>
        </>
      )}
      {n > 0 && !l.change && !inSteps && (
        <p>
          <Button variant="outline-secondary" disabled={off} onClick={() => send()}>
            {verb.isPending ? 'Sending' : `Send ${n}`}
          </Button>
        </p>
      )}
      {n > 0 && (
        <details open={!inSteps && n < 5}>
          <summary>{n === 1 ? 'What it is' : `The ${n} values`}</summary>
          <dl className="changed">
            {l.changed.map((v) => (
              <div key={v.key}>
                <dt>{v.label}</dt>
                <dd>
                  {v.before && <del>{v.before}</del>} <ins>{v.text}</ins>
                  {v.meets && <span className="second small">{v.meets}</span>}
                </dd>
              </div>
            ))}
          </dl>
        </details>
      )}
    </section>
  )
}
