import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import type { Listing } from '../api/client'
import { dateWords, useTimes } from '../app/clock'
import { useCopy } from '../app/copy'
import { pathOf } from '../app/place'
import { WindowBar } from '../marks/WindowBar'
import { LookByHand } from './LookByHand'
import { Failed } from '../kit/verb'
import { likely } from './likely'
import { useListingVerb } from './verbs'

// HeldElsewhere is about a listing that somebody else holds: ask for it, wait, and put it
// before the directory's people where that does not help.
export function HeldElsewhere({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const at = useTimes(l.row.zone)
  const copy = useCopy()
  if (l.worked === 'by_hand' || l.worked === 'written') return <LookByHand listing={l} />
  const a = l.access
  const step = a?.step
  const waits = step === 'holder' || step === 'staff'
  const late = a?.window?.state === 'late'
  const titles: Record<string, string> = {
    holder: late ? 'Its holder should have answered' : 'Its holder has been asked',
    refused: 'Its holder says no',
    silent: 'Its holder has not answered',
    staff: late ? `${l.row.directory_name} should have decided` : `${l.row.directory_name} decides`,
    denied: `${l.row.directory_name} says no`,
  }
  return (
    <section className={'sheet' + (waits && !late ? '' : ' next')}>
      <h2>{step ? titles[step] : 'Held by someone else'}</h2>
      <p>
        {l.held_by} holds this listing on {l.row.directory_name}.{' '}
        {!step &&
          (a?.can_ask ? (
            `They can be asked to hand it over; the request goes through ${l.row.directory_name}.${a.hearing ? ' ' + likely(a.hearing) : ''}`
          ) : (
            <>
              Ask them to give access to <span className="mono">{l.account}</span>, or to let go of it. Then search again.
            </>
          ))}
        {waits && a?.asked_at && `Asked ${at(a.asked_at)}. `}
        {waits &&
          a?.window &&
          (late ? `The answer was due by ${dateWords(a.window.latest)}. ` : `The answer comes by ${dateWords(a.window.latest)}. `)}
        {waits && 'Uvent keeps asking.'}
        {!waits && a?.says}
      </p>
      {a?.can_escalate && (
        <p>
          It can be put before the people of {l.row.directory_name} with one paper; of those under{' '}
          <Link to={pathOf('record', { location: l.row.location }) + '#papers'}>Papers</Link> the one that helps most goes with it.
        </p>
      )}
      {step && l.trouble && <p className="wrong mx-3">{l.trouble}</p>}
      {waits && a?.window && (
        <div className="px-3 attempt-bar">
          <WindowBar window={a.window} />
        </div>
      )}
      {a?.can_escalate && a.papers && (
        <ul className="mx-3 list-unstyled">
          {a.papers.map((p) => (
            <li key={p.title}>
              {p.title}: <span className="second">{likely(p.hearing)}</span>
            </li>
          ))}
        </ul>
      )}
      {a && (
        <details className="px-3 pb-2">
          <summary>It may be the owner’s own account</summary>
          <p className="said-text my-2">{a.ask_owner}</p>
          <Button variant="outline-secondary" size="sm" onClick={() => void copy('The letter', a.ask_owner)}>
            Copy the letter
          </Button>{' '}
          <a className="btn btn-sm btn-outline-secondary" href={mailto(l.owner_email, l.row.directory_name, a.ask_owner)}>
            Write it in your mail
          </a>
          <p className="second small my-2">Once they have, search again: it is ours then.</p>
        </details>
      )}
      <Failed error={verb.error} />
      <p className="d-flex gap-2">
        {a?.can_ask && (
          <Button disabled={verb.isPending} onClick={() => verb.mutate({ do: 'access' })}>
            {verb.isPending && verb.variables.do === 'access' ? 'Asking' : 'Ask for access'}
          </Button>
        )}
        {a?.can_escalate && (
          <Button disabled={verb.isPending} onClick={() => verb.mutate({ do: 'escalate' })}>
            {verb.isPending && verb.variables.do === 'escalate' ? 'Asking' : `Put it before ${l.row.directory_name}`}
          </Button>
        )}
        {waits ? (
          <Button variant="outline-secondary" disabled={verb.isPending} onClick={() => verb.mutate({ do: 'status' })}>
            {verb.isPending ? 'Asking' : 'Ask now'}
          </Button>
        ) : (
          <Button variant="outline-secondary" disabled={verb.isPending} onClick={() => verb.mutate({ do: 'search' })}>
            {verb.isPending && verb.variables.do === 'search' ? 'Searching' : 'Search again'}
          </Button>
        )}
      </p>
    </section>
  )
}

// mailto opens a letter in whatever one writes mail with (RFC 6068).
const mailto = (to: string, directory: string, body: string) =>
  `mailto:${encodeURIComponent(to)}?subject=${encodeURIComponent(`Your listing on ${directory}`)}&body=${encodeURIComponent(body.replaceAll('\n', '\r\n'))}`
