import type { Listing } from '../api/client'
import { useSpoken } from '../api/queries'
import { dayTime } from '../app/clock'
import { counted, Pending } from '../app/View'
import { AsShown } from './AsShown'
import { SayIt } from './SayIt'

// Speaking is what a business says through a listing, and what visitors wrote there.
export function Speaking({ listing: l }: { listing: Listing }) {
  const spoken = useSpoken(l)
  if (!spoken.data) return <Pending error={spoken.error} />
  const s = l.speaks
  return (
    <>
      {s.kinds.length > 0 && <SayIt listing={l} left={spoken.data.left} />}
      {s.kinds.length > 0 && (
        <section className="sheet">
          <div className="sheet-head">
            <h2>Said so far</h2>
            {s.posts_per_month > 0 && (
              <span className="second">
                {spoken.data.left} of {counted(s.posts_per_month, 'post')} left this month
              </span>
            )}
          </div>
          {spoken.data.posts.length === 0 && <p className="second">Nothing was said here yet.</p>}
          {spoken.data.posts.map((p, i) => (
            <article className="said" key={i}>
              <AsShown post={p} />
            </article>
          ))}
        </section>
      )}
      {s.reviews && (
        <section className="sheet">
          <h2>What visitors wrote</h2>
          {spoken.data.reviews.length === 0 && <p className="second">Nobody has reviewed it yet.</p>}
          {spoken.data.reviews.map((r, i) => (
            <article className="said" key={i}>
              <p>
                <b>{r.stars} of 5</b> <span className="second">{r.by}</span>{' '}
                <time className="second" dateTime={r.at}>
                  {dayTime(new Date(r.at), l.row.zone)}
                </time>
              </p>
              <p>{r.text}</p>
            </article>
          ))}
        </section>
      )}
    </>
  )
}
