import { Link, useParams, useSearchParams } from 'react-router'
import type { Listing } from '../api/client'
import { useListing } from '../api/queries'
import { ago, useNow, useTimes } from '../app/clock'
import { Lacking, Needs } from '../app/Needs'
import { casePath, pathOf } from '../app/place'
import { Pending, ViewHead } from '../app/View'
import { Strand } from '../marks/Strand'
import { Beside } from './Beside'
import { Chase } from './Chase'
import { FactTable } from './FactTable'
import { TypeIn } from './TypeIn'
import { Filming } from './Filming'
import { Fit } from './Fit'
import { FromOwner, FromStaff } from './FromOwner'
import { GivePhotos } from './GivePhotos'
import { Guard } from './Guard'
import { NextStep } from './NextStep'
import { OwnerLinks } from './OwnerLinks'
import { PaperCheck } from './PaperCheck'
import { Pay } from './Pay'
import { Preview } from './Preview'
import { Roles } from './Roles'
import { LeftBehind } from './Elsewhere'
import { Seconds } from './Seconds'
import { SendChanges } from './SendChanges'
import { Speaking } from './Speaking'
import { Suggest } from './Suggest'
import { Ways } from './Ways'
import { Withdraw } from './Withdraw'
import { Worksheet } from './Worksheet'

const looks = [
  ['facts', 'Record and page'],
  ['fit', 'What it is given'],
  ['preview', 'Preview'],
  ['worksheet', 'Worksheet'],
  ['speaking', 'Posts and reviews'],
] as const

// ListingView is one location on one directory: the record beside what the
// directory shows, and what to do next.
export function ListingView() {
  const { location = '', directory = '' } = useParams()
  const listing = useListing(location, directory)
  const [params, setParams] = useSearchParams()
  if (!listing.data) return <Pending error={listing.error} />
  const l = listing.data
  const ways = l.row.strand.control === 'held' && l.row.strand.verification !== 'verified' && l.ways.length > 0
  const live = l.row.attempt?.under_way
  const byHand = l.worked === 'by_hand' || l.worked === 'written'
  const held = l.row.strand.control === 'held'
  const asked = held && (l.worked === 'connected' || l.worked === 'suggestions')
  const speaks = asked && (l.speaks.kinds.length > 0 || l.speaks.reviews)
  const typing = params.get('type') === 'in'
  const guarding = ways ? params.get('instead') : null
  const tabs = looks.filter(([id]) => (id !== 'worksheet' || byHand) && (id !== 'speaking' || speaks))
  const tab = l.row.not_for ? 'facts' : (tabs.find(([id]) => id === params.get('look'))?.[0] ?? 'facts')
  return (
    <>
      <ViewHead
        title={`${l.row.label} on ${l.row.directory_name}`}
        says={<Standing listing={l} />}
        mark={<Strand strand={l.row.strand} size="large" />}
      >
        {l.row.case && (
          <Link className="btn btn-outline-secondary" to={casePath(l.row.location, l.row.directory, l.row.case)}>
            See the case
          </Link>
        )}
        {l.page && (l.row.strand.visibility === 'public' || l.row.strand.visibility === 'publishing') && (
          <a className="btn btn-outline-secondary" href={l.page} target="_blank" rel="noreferrer">
            Open public page
          </a>
        )}
        {!l.row.not_for && (l.row.strand.control !== 'none' || l.seen_at) && (
          <Needs what="edit">
            <Link className="btn btn-outline-secondary" to="?type=in" replace>
              Type in what shows
            </Link>
          </Needs>
        )}
        <Link className="btn btn-outline-secondary" to={pathOf('record', { location })}>
          Edit record
        </Link>
      </ViewHead>
      {!l.row.not_for && (
        <nav className="sections alone no-print" aria-label="What to look at">
          {tabs.map(([id, words]) => (
            <Link
              key={id}
              to={id === 'facts' ? '?' : `?look=${id}`}
              className={tab === id ? 'active' : ''}
              aria-current={tab === id}
              replace
            >
              {words}
            </Link>
          ))}
        </nav>
      )}
      <div className="two">
        <div>
          {ways && params.has('pay') && <Pay listing={l} onDone={() => setParams({}, { replace: true })} />}
          {guarding && <Guard listing={l} method={guarding} onDone={() => setParams({}, { replace: true })} />}
          {typing && <TypeIn listing={l} onDone={() => setParams({}, { replace: true })} />}
          {tab === 'facts' && <FactTable listing={l} />}
          {tab === 'facts' && l.row.strand.verification !== 'verified' && <PaperCheck listing={l} />}
          {tab === 'facts' && l.row.strand.verification !== 'verified' && l.row.strand.control === 'held' && <Filming listing={l} />}
          {tab === 'fit' && <Fit listing={l} />}
          {tab === 'speaking' && (
            <Needs what="send">
              <Speaking listing={l} />
            </Needs>
          )}
          {tab === 'preview' && <Preview listing={l} />}
          {tab === 'worksheet' && <Worksheet listing={l} onGiven={() => setParams({}, { replace: true })} />}
          {tab === 'facts' && l.history.length > 0 && <Happened listing={l} />}
        </div>
        <aside key={location + directory}>
          <Lacking />
          <Needs what="edit">
            <FromOwner listing={l} />
            <FromStaff listing={l} />
            <NextStep listing={l} onWorksheet={() => setParams({ look: 'worksheet' }, { replace: true })} />
            <Beside listing={l} />
            <Chase listing={l} />
            <LeftBehind listing={l} />
            <Needs what="send">
              {ways && !live && (
                <Ways listing={l} onGuarded={(method) => setParams({ instead: method })} onPay={() => setParams({ pay: 'card' })} />
              )}
              <Seconds listing={l} />
              <OwnerLinks listing={l} />
              {held && l.worked === 'connected' && <SendChanges listing={l} />}
              {held && l.worked === 'suggestions' && <Suggest listing={l} />}
              {held && l.worked === 'connected' && <GivePhotos listing={l} />}
              {asked && l.speaks.roles.length > 0 && <Roles listing={l} />}
              {asked && ['public', 'publishing', 'withdrawn'].includes(l.row.strand.visibility) && <Withdraw listing={l} />}
            </Needs>
            <Needs what="send">
              {ways && live && (
                <Ways listing={l} onGuarded={(method) => setParams({ instead: method })} onPay={() => setParams({ pay: 'card' })} />
              )}
            </Needs>
          </Needs>
        </aside>
      </div>
    </>
  )
}

function Standing({ listing: l }: { listing: Listing }) {
  const now = useNow()
  const at = useTimes(l.row.zone)
  const s = l.row.strand
  if (l.row.not_for) return <>{l.row.not_for}</>
  if (s.control === 'held_by_another') return <>Held by {l.held_by}, not by us.</>
  if (s.control !== 'held')
    return (
      <>
        {l.searched_at
          ? `Searched ${ago(new Date(l.searched_at), now)}; not held yet.`
          : 'Not searched yet, so nothing is known of it there.'}
      </>
    )
  const since = l.held_since ? ` since ${at(l.held_since)}` : ''
  const shows: Partial<Record<typeof s.visibility, string>> = {
    hidden: 'Not public: nothing shows until it is verified.',
    publishing: 'Verified, and not public yet.',
    public: 'Public.',
    removed: 'It was public, and no longer shows.',
    suspended: 'Suspended: the public does not see it.',
    withdrawn: 'Out of public view, by us.',
  }
  return (
    <>
      Held by <span className="mono">{l.account}</span>
      {since}. {shows[s.visibility]}
    </>
  )
}

// Happened is what has happened to the listing, the latest first.
function Happened({ listing: l }: { listing: Listing }) {
  const now = useNow()
  const at = useTimes(l.row.zone ?? 'UTC')
  return (
    <section className="sheet mt-3">
      <h2>What has happened</h2>
      <ol className="history">
        {l.history.map((h, i) => (
          <li key={i}>
            <time dateTime={h.at} title={ago(new Date(h.at), now)}>
              {at(h.at)}
            </time>
            <span>{h.says}</span>
            <span className="who">{h.actor}</span>
          </li>
        ))}
      </ol>
    </section>
  )
}
