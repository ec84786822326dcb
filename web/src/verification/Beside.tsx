import type { Listing } from '../api/client'
import { Do, Failed } from '../kit/verb'
import { EnterCode } from './EnterCode'
import { InReview } from './InReview'
import { useListingVerb } from './verbs'

// Beside are the other tries at a listing: those that run beside the one that is waited for, and those whose code may still come
// though it is of no use any more.
export function Beside({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const others = l.attempts.filter((a) => a.id !== l.row.attempt?.id || !a.under_way)
  const running = others.filter((a) => a.under_way)
  const late = others.filter((a) => a.late).reverse()
  return (
    <>
      {running.map((a) =>
        a.live ? <EnterCode key={a.id} listing={l} attempt={a} beside /> : <InReview key={a.id} listing={l} attempt={a} beside />,
      )}
      {late.length > 0 && (
        <section className="sheet">
          <h2>Asked for before</h2>
          <Failed error={verb.error} />
          {late.map((a) => (
            <p key={a.id}>
              {a.late}{' '}
              {!a.arrived_at && (
                <Do verb={verb} of={{ do: 'arrived', attempt: a.id }} variant="link" size="sm" className="p-0 align-baseline">
                  It has come
                </Do>
              )}
            </p>
          ))}
        </section>
      )}
    </>
  )
}
