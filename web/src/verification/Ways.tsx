import { Button } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { Answer } from './Answer'
import { useListingVerb } from './verbs'

// Ways lists how the listing can be verified, open ones first, and why the
// others are shut.
export function Ways({ listing: l, onGuarded, onPay }: { listing: Listing; onGuarded: (method: string) => void; onPay: () => void }) {
  const verb = useListingVerb(l)
  const ask = (w: Listing['ways'][number], despite?: boolean) =>
    w.charge ? onPay() : w.guard ? onGuarded(w.method) : verb.mutate({ do: 'ask', method: w.method, despite })
  const live = l.row.attempt?.under_way
  const ends = l.ways.some((w) => w.guard && !w.guard.keeps)
  const open = l.ways.filter((w) => w.open).length
  return (
    <section className="sheet">
      <h2>{live ? 'Other ways to verify' : 'Ways to verify'}</h2>
      {verb.error && (
        <p className="wrong mx-3" role="alert">
          {verb.error.message}
        </p>
      )}
      <ul className="ways">
        {l.ways.map((w, i) => (
          <li key={w.method} className={w.open || w.there ? '' : 'shut'}>
            <span className="second mono">{w.open ? i + 1 : w.there ? '·' : '–'}</span>
            <div>
              <b>{w.title}</b>
              <p>{w.says}</p>
              {w.open && (
                <details className="why">
                  <summary>How long it takes</summary>
                  <p className="second small">{w.why}</p>
                </details>
              )}
            </div>
            {w.open && w.doubts.length > 0 && (
              <Button
                variant="outline-secondary"
                disabled={verb.isPending || !!l.busy}
                onClick={() => ask(w, true)}
                title="It is likely to be refused"
              >
                Send all the same
              </Button>
            )}
            {w.open && w.doubts.length === 0 && (
              <Button
                variant={!live && i === 0 ? 'primary' : 'outline-secondary'}
                disabled={verb.isPending || !!l.busy}
                onClick={() => ask(w)}
              >
                {verb.isPending && verb.variables.do === 'ask' && verb.variables.method === w.method ? 'Asking' : 'Ask'}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {l.ways.some((w) => w.there) && l.worked !== 'by_hand' && l.worked !== 'written' && (
        <Answer listing={l} options={['verified', 'refused']} verb={verb} />
      )}
      {live && open > 0 && (
        <p className="second small">
          {ends
            ? 'Another way ends the one that is under way; it is said before what is lost.'
            : 'Another way goes on beside the one that is under way.'}
        </p>
      )}
    </section>
  )
}
