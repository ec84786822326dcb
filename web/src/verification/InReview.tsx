import type { Listing, Schemas } from '../api/client'
import { dateWords } from '../app/clock'
import { Do, Failed } from '../kit/verb'
import { WindowBar } from '../marks/WindowBar'
import { useListingVerb } from './verbs'

// InReview waits for somebody at the directory who decides.
export function InReview({ listing: l, attempt: a, beside }: { listing: Listing; attempt: Schemas['Attempt']; beside?: boolean }) {
  const verb = useListingVerb(l)
  const late = a.window?.state === 'late'
  return (
    <section className={'sheet' + (late ? ' next' : '')}>
      <h2>{late ? 'They should have decided' : beside ? `In review too: ${a.title.toLowerCase()}` : 'In review'}</h2>
      <p>
        {a.digits > 0 ? 'The code was right, and they take a second look.' : `${a.title}, with ${a.to}.`}{' '}
        {a.window && (late ? `Their answer was due by ${dateWords(a.window.latest)}.` : `They answer by ${dateWords(a.window.latest)}.`)}{' '}
        Uvent keeps asking.
      </p>
      {a.window && (
        <div className="px-3 attempt-bar">
          <WindowBar window={a.window} />
        </div>
      )}
      <Failed error={verb.error} />
      <p>
        <Do verb={verb} of={{ do: 'status' }} running="Asking" variant="outline-secondary">
          Ask now
        </Do>
      </p>
    </section>
  )
}
