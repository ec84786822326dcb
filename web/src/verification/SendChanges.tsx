import { Button } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { dateWords } from '../app/clock'
import { counted } from '../app/View'
import { Failed } from './Failed'
import { useVerb } from './verbs'

// SendChanges gives a connected directory what the record says otherwise by now.
export function SendChanges({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
  if (l.changed.length === 0 && !l.change) return null
  const n = l.changed.length
  return (
    <section className="sheet">
      <h2>{n > 0 ? `${counted(n, 'value')} to send` : 'A change is looked at'}</h2>
      {l.change && (
        <p>
          {l.row.directory_name} is looking at {l.change.facts.join(', ')}; it answers by {dateWords(l.change.window.latest)}.
          {n > 0 && ' Nothing more is sent before: a second change before the first is settled is what gets listings suspended.'}
        </p>
      )}
      {n > 0 && (
        <dl className="changed">
          {l.changed.map((c) => (
            <div key={c.key}>
              <dt>{c.label}</dt>
              <dd>
                {c.before && <del>{c.before}</del>} <ins>{c.text}</ins>
                {c.meets && <span className="second small">{c.meets}</span>}
              </dd>
            </div>
          ))}
        </dl>
      )}
      <Failed error={verb.error} />
      {n > 0 && !l.change && (
        <p>
          <Button variant="outline-secondary" disabled={verb.isPending || !!l.busy} onClick={() => verb.mutate({ do: 'send' })}>
            {verb.isPending ? 'Sending' : `Send ${n}`}
          </Button>
        </p>
      )}
    </section>
  )
}
