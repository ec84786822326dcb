import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import type { Listing } from '../api/client'
import { ago, useNow } from '../app/clock'
import { pathOf } from '../app/place'
import { counted } from '../app/View'
import { Failed } from '../kit/verb'
import { useListingVerb } from './verbs'

// GivePhotos gives a connected directory the photos that fit there.
export function GivePhotos({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const now = useNow()
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Photos</h2>
        <span className="second">{l.photos_at ? `${l.photos_given} given ${ago(new Date(l.photos_at), now)}` : 'none given yet'}</span>
      </div>
      <Failed error={verb.error} />
      <p className="d-flex justify-content-between gap-2 align-items-center">
        <span>
          {counted(l.photos_fit, 'photo')} {l.photos_fit === 1 ? 'fits' : 'fit'} here, cut to its shapes.{' '}
          <Link to={pathOf('record', { location: l.row.location }) + '#photos'}>See the cuts</Link>
        </span>
        {l.photos_fit > 0 && (
          <Button variant="outline-secondary" disabled={verb.isPending || !!l.busy} onClick={() => verb.mutate({ do: 'photos' })}>
            {verb.isPending ? 'Giving' : `Give ${l.photos_fit}`}
          </Button>
        )}
      </p>
    </section>
  )
}
