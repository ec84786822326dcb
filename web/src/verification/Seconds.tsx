import { Button } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { dateWords } from '../app/clock'
import { Failed } from '../kit/verb'
import { verdicts } from './Find'
import { useListingVerb } from './verbs'

// Seconds are other listings of the same business that the search has found beside ours.
export function Seconds({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  if (l.seconds.length === 0) return null
  return (
    <section className="sheet">
      <h2>{l.seconds.length === 1 ? 'A second listing' : `${l.seconds.length} other listings`}</h2>
      <Failed error={verb.error} />
      {l.seconds.map(({ candidate: c, step, window, says }) => (
        <div className="candidate" key={c.ref}>
          <div className="who">
            <div>
              <b>{c.name}</b>
              {[c.address, c.phone].filter(Boolean).join(' · ')}
            </div>
            {step !== 'reported' && (
              <Button
                variant="outline-secondary"
                disabled={verb.isPending || !!l.busy}
                onClick={() => verb.mutate({ do: 'duplicate', ref: c.ref })}
              >
                {verb.isPending ? 'Reporting' : step === 'stays' ? 'Report it again' : 'Have it merged'}
              </Button>
            )}
          </div>
          <span className={'verdict ' + c.verdict}>
            {verdicts[c.verdict]} · {c.score.toFixed(2)}
          </span>{' '}
          <span className="second small">
            {step === 'reported' && window ? `Reported; they answer by ${dateWords(window.latest)}.` : says}
          </span>
          <ul>
            {c.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  )
}
