import { Link } from 'react-router'
import type { Listing } from '../api/client'
import { dateWords } from '../app/clock'
import { Needs } from '../app/Needs'
import { pathOf } from '../app/place'
import { Do, Failed } from '../kit/verb'
import { useListingVerb } from './verbs'

// Elsewhere is about a listing whose location, since it has moved, is another for the directory: this one stays with the place
// where it was, and another is made.
export function Elsewhere({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const { stood, says, ready } = l.elsewhere!
  return (
    <section className="sheet next">
      <h2>It wants another listing</h2>
      <p>
        {!ready && `It stands at ${stood}; where the record has it is another location for ${l.row.directory_name}. `}
        {says}
      </p>
      <Failed error={verb.error} />
      <Needs what="send">
        <p className="d-flex gap-2 flex-wrap">
          {ready ? (
            <Do verb={verb} of={{ do: 'place', is: 'left' }} running="Leaving it">
              Leave it there
            </Do>
          ) : (
            <Link className="btn btn-primary" to={pathOf('record', { location: l.row.location }) + '/course'}>
              Have it say so
            </Link>
          )}
          <Do verb={verb} of={{ do: 'place', is: 'same' }} variant="outline-secondary">
            It is the same place
          </Do>
        </p>
        <p className="second small">The same place: only its address was mended, and is sent as any fact is.</p>
      </Needs>
    </section>
  )
}

// LeftBehind are listings that stay with places where the location was.
export function LeftBehind({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  if (!l.left) return null
  return (
    <section className="sheet">
      <h2>{l.left.length === 1 ? 'The listing before' : 'The listings before'}</h2>
      <Failed error={verb.error} />
      {l.left.map((o) => (
        <p key={o.ref}>
          Left at {o.page ? <a href={o.page}>{o.stood}</a> : o.stood} on {dateWords(o.at.slice(0, 10))}.{' '}
          {l.row.strand.control === 'none' && (
            <Needs what="send">
              <Do verb={verb} of={{ do: 'place', is: 'taken_up', ref: o.ref }} variant="link" size="sm" className="p-0 align-baseline">
                Take it up again
              </Do>
            </Needs>
          )}
        </p>
      ))}
    </section>
  )
}
