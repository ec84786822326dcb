import { Link } from 'react-router'
import type { Listing } from '../api/client'
import { ago, dateWords, useNow, useTimes } from '../app/clock'
import { Needs } from '../app/Needs'
import { WindowBar } from '../marks/WindowBar'
import { Answer } from './Answer'
import { AwaitStaff, BringThere, CodeThere } from './ByHand'
import { Decide } from './Decide'
import { EnterCode } from './EnterCode'
import { Elsewhere } from './Elsewhere'
import { Do, Failed } from '../kit/verb'
import { HeldElsewhere } from './HeldElsewhere'
import { InReview } from './InReview'
import { LookByHand } from './LookByHand'
import { useListingVerb } from './verbs'
import { asking } from './asking'

// NextStep is the one thing to do now for a listing, or to wait for.
export function NextStep({ listing: l, onWorksheet }: { listing: Listing; onWorksheet: () => void }) {
  const s = l.row.strand
  const attempt = l.row.attempt
  const verb = useListingVerb(l)
  if (l.row.not_for)
    return (
      <section className="sheet">
        <h2>Not for this location</h2>
        <p>{l.row.not_for}</p>
      </section>
    )
  if (l.busy) return <Busy listing={l} />
  if (s.control === 'held_by_another')
    return (
      <Needs what="send">
        <HeldElsewhere listing={l} />
      </Needs>
    )
  if (l.elsewhere) return <Elsewhere listing={l} />
  const byHand = l.worked === 'by_hand' || l.worked === 'written'
  if (l.worked === 'fed') return <Fed listing={l} />
  if (l.answer_by && l.row.strand.visibility !== 'public') return <AwaitStaff listing={l} />
  if (byHand && s.control !== 'held')
    return l.searched_at ? <BringThere listing={l} onWorksheet={onWorksheet} /> : <LookByHand listing={l} />
  if (l.worked === 'file' && s.control !== 'held') return <HandIn listing={l} />
  if (s.control !== 'held') return <Needs what="send">{l.searched_at ? <Decide listing={l} /> : <SearchFirst listing={l} />}</Needs>
  if (s.verification === 'verified') return <Publishing listing={l} />
  if (attempt?.state === 'review') return <InReview listing={l} attempt={attempt} />
  if (attempt?.live && byHand) return <CodeThere listing={l} />
  if (attempt?.live) return <EnterCode listing={l} attempt={attempt} />
  return (
    <section className="sheet next">
      <h2>{attempt ? (attempt.digits > 0 ? 'Ask for another code' : 'Choose another way') : 'Verify it'}</h2>
      {(l.trouble || attempt?.says) && <p className="wrong mx-3">{l.trouble || attempt?.says}</p>}
      <p>
        {attempt
          ? attempt.digits > 0
            ? `The last code, by ${attempt.title.toLowerCase()} to ${attempt.to}, ${ended[attempt.state] ?? 'has ended'}.`
            : `The last try, with ${attempt.to}, came to nothing.`
          : `${l.row.directory_name} wants proof that you may speak for ${l.row.label}.`}{' '}
        Choose a way below.
      </p>
      {(byHand || l.worked === 'file') && <Answer listing={l} options={['verified', 'refused']} verb={verb} />}
    </section>
  )
}

// Fed is a directory that cannot be worked on.
function Fed({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  return (
    <section className="sheet">
      <h2>Nothing to do here</h2>
      <p>{l.row.directory_name} takes everything from others, and is mended through them.</p>
      <Failed error={verb.error} />
    </section>
  )
}

// HandIn leads to the file that is handed in for all locations at once.
function HandIn({ listing: l }: { listing: Listing }) {
  return (
    <section className="sheet next">
      <h2>Hand it in with a file</h2>
      <p>{l.row.directory_name} takes one file for all locations. It is made under Directories, with this location’s values in it.</p>
      <p>
        <Link className="btn btn-primary" to={`/directories?directory=${l.row.directory}`}>
          Make the file
        </Link>
      </p>
    </section>
  )
}

const ended: Record<string, string> = {
  expired: 'has stopped working',
  used_up: 'has no tries left',
  refused: 'was not sent',
  replaced: 'was replaced',
}

function Busy({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  return (
    <section className="sheet next" aria-live="polite">
      <h2>{asking[l.busy] ?? 'Asking'}</h2>
      <p>{l.trouble || `${l.row.directory_name} has been asked; its answer is on its way. You can leave this page.`}</p>
      <Failed error={verb.error} />
      {l.trouble && (
        <Needs what="send">
          <p>
            <Do verb={verb} of={{ do: 'stop' }} running="Stopping" variant="outline-secondary">
              Stop asking
            </Do>
          </p>
          {l.busy !== 'search_asked' && <p className="second">It may have been done there all the same.</p>}
        </Needs>
      )}
    </section>
  )
}

function SearchFirst({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  return (
    <section className="sheet next">
      <h2>Look for it first</h2>
      <p>
        {l.row.directory_name} may have {l.row.label} already, under an old name or address. Nothing is created before it was searched: two
        listings of one shop harm both.
      </p>
      {l.trouble && <p className="wrong mx-3">{l.trouble}</p>}
      <Failed error={verb.error} />
      <p>
        <Do verb={verb} of={{ do: 'search' }} running="Searching">
          Search {l.row.directory_name}
        </Do>
      </p>
    </section>
  )
}

function Publishing({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const now = useNow()
  const at = useTimes(l.row.zone)
  const s = l.row.strand
  const late = l.public_by?.state === 'late'
  const looked = l.looked_at ? `Looked ${ago(new Date(l.looked_at), now)}.` : 'Not looked at yet.'
  const titles: Partial<Record<typeof s.visibility, string>> = {
    public: 'Public',
    removed: 'It no longer shows',
    publishing: late ? 'It should be public by now' : 'Once verified',
  }
  return (
    <section className={'sheet' + (s.visibility === 'public' || (s.visibility === 'publishing' && !late) ? '' : ' next')}>
      <h2>{titles[s.visibility] ?? 'Verified'}</h2>
      <p>
        Verified {at(l.verified_at!)}.{' '}
        {s.visibility === 'publishing' &&
          l.public_by &&
          (late ? `Their window ended on ${dateWords(l.public_by.latest)}.` : `Public by ${dateWords(l.public_by.latest)}.`)}{' '}
        {looked}
        {s.visibility === 'publishing' && ' Uvent keeps looking until it shows.'}
        {s.visibility === 'publishing' &&
          l.to_show &&
          ` ${l.row.directory_name} keeps a new listing out of public view until it is ready: press “Show it” on its page there.`}
      </p>
      {s.visibility === 'publishing' && l.public_by && (
        <div className="px-3 attempt-bar">
          <WindowBar window={l.public_by} />
        </div>
      )}
      {l.looked && <p className="second px-3">{l.looked}</p>}
      <Failed error={verb.error} />
      <p>
        {(l.worked === 'by_hand' || l.worked === 'written') && !l.page ? null : (
          <Do
            verb={verb}
            of={{ do: 'look' }}
            running="Looking"
            variant={late && s.visibility === 'publishing' ? 'primary' : 'outline-secondary'}
          >
            Look again
          </Do>
        )}
      </p>
      {!l.page && <Answer listing={l} options={['public', 'not_public']} verb={verb} />}
    </section>
  )
}
