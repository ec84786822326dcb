import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import type { Listing } from '../api/client'
import { useDirectories } from '../api/queries'
import { ago, dateWords, useNow, useTimes } from '../app/clock'
import { Needs } from '../app/Needs'
import { WindowBar } from '../marks/WindowBar'
import { Answer, AwaitStaff, BringThere, CodeThere, LookByHand } from './ByHand'
import { EnterCode } from './EnterCode'
import { Failed } from './Failed'
import { statuses, verdicts } from './Find'
import { HeldElsewhere } from './HeldElsewhere'
import { useVerb } from './verbs'

// NextStep is the one thing to do now for a listing, or to wait for.
export function NextStep({ listing: l, onWorksheet }: { listing: Listing; onWorksheet: () => void }) {
  const s = l.row.strand
  const attempt = l.attempts.at(-1)
  const verb = useVerb(l)
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
  const byHand = l.worked === 'by_hand' || l.worked === 'written'
  if (l.worked === 'fed') return <Fed listing={l} />
  if (l.answer_by && l.row.strand.visibility !== 'public') return <AwaitStaff listing={l} />
  if (byHand && s.control !== 'held')
    return l.searched_at ? <BringThere listing={l} onWorksheet={onWorksheet} /> : <LookByHand listing={l} />
  if (l.worked === 'file' && s.control !== 'held') return <HandIn listing={l} />
  if (s.control !== 'held') return <Needs what="send">{l.searched_at ? <Decide listing={l} /> : <SearchFirst listing={l} />}</Needs>
  if (s.verification === 'verified') return <Publishing listing={l} />
  if (attempt?.state === 'review') return <InReview listing={l} />
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

// InReview waits for somebody at the directory who decides.
function InReview({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
  const a = l.attempts.at(-1)!
  const late = a.window?.state === 'late'
  return (
    <section className={'sheet' + (late ? ' next' : '')}>
      <h2>{late ? 'They should have decided' : 'In review'}</h2>
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
        <Button variant="outline-secondary" disabled={verb.isPending} onClick={() => verb.mutate({ do: 'status' })}>
          {verb.isPending ? 'Asking' : 'Ask now'}
        </Button>
      </p>
    </section>
  )
}

// Fed is a directory that cannot be worked on.
function Fed({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
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

const asking: Record<string, string> = {
  search_asked: 'Searching',
  claim_asked: 'Claiming',
  create_asked: 'Creating',
  copy_asked: 'Copying',
  photos_asked: 'Giving photos',
  code_asked: 'Asking for a code',
  review_asked: 'Asking',
  code_entered: 'Entering the code',
  access_asked: 'Asking for access',
  duplicate_asked: 'Reporting a second listing',
  escalate_asked: 'Asking',
}

function Busy({ listing: l }: { listing: Listing }) {
  return (
    <section className="sheet next" aria-live="polite">
      <h2>{asking[l.busy] ?? 'Asking'}</h2>
      <p>{l.trouble || `${l.row.directory_name} has been asked; its answer is on its way. You can leave this page.`}</p>
    </section>
  )
}

function SearchFirst({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
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
        <Button disabled={verb.isPending} onClick={() => verb.mutate({ do: 'search' })}>
          {verb.isPending ? 'Searching' : `Search ${l.row.directory_name}`}
        </Button>
      </p>
    </section>
  )
}

function Decide({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
  const now = useNow()
  const [sure, setSure] = useState(false)
  const names = new Map(useDirectories().data?.map((d) => [d.id, d.name]))
  const [typed, setTyped] = useState<string>()
  const pageName = typed ?? l.page_names?.proposed[0] ?? ''
  const likely = l.candidates.filter((c) => c.verdict === 'same' || c.verdict === 'probably')
  const none = l.candidates.length === 0
  return (
    <section className="sheet next">
      <div className="sheet-head">
        <h2>{none ? 'Nothing like it is there' : likely.length > 0 ? 'Is one of these yours?' : 'Nothing much like it is there'}</h2>
        <Button variant="link" className="p-0" disabled={verb.isPending} onClick={() => verb.mutate({ do: 'search' })}>
          Search again
        </Button>
      </div>
      <p className="second">
        Searched by name, phone and address {ago(new Date(l.searched_at!), now)}.{' '}
        {!none && 'A claim or a new listing cannot be undone there.'}
        {l.attests && ` With it you attest, by your name, that you may speak for ${l.row.client_name}.`}
      </p>
      {l.trouble && <p className="wrong mx-3">{l.trouble}</p>}
      <Failed error={verb.error} />
      {l.copies_from.map((from) => (
        <div className="candidate" key={from}>
          <div className="who">
            <div>
              <b>Copy it from {names.get(from) ?? from}</b>
              <span className="second small">It carries only part; what did not come along is listed after.</span>
            </div>
            <Button variant="outline-secondary" disabled={verb.isPending} onClick={() => verb.mutate({ do: 'copy', from })}>
              {verb.isPending && verb.variables.do === 'copy' ? 'Copying' : 'Copy'}
            </Button>
          </div>
        </div>
      ))}
      {l.candidates.map((c, i) => (
        <div className="candidate" key={c.ref}>
          <div className="who">
            <div>
              <b>{c.name}</b>
              {[c.address, c.phone].filter(Boolean).join(' · ')}
            </div>
            <Button
              variant={i === 0 && likely.length > 0 ? 'primary' : 'outline-secondary'}
              disabled={verb.isPending}
              onClick={() => verb.mutate({ do: 'claim', ref: c.ref })}
            >
              {verb.isPending && verb.variables.do === 'claim' && verb.variables.ref === c.ref ? 'Claiming' : 'Claim'}
            </Button>
          </div>
          <span className={'verdict ' + c.verdict}>
            {verdicts[c.verdict]} · {c.score.toFixed(2)}
          </span>{' '}
          <span className="second small">{statuses[c.status]}</span>
          <ul>
            {c.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </div>
      ))}
      <div className="candidate">
        {l.worked === 'suggestions' ? (
          <p className="second m-0">
            {l.row.directory_name} makes its listings by itself, of what it reads elsewhere. Search again when the location shows there.
          </p>
        ) : l.missing.length > 0 ? (
          <>
            <b>Before one can be created</b>
            <ul>
              {l.missing.map((m) => (
                <li key={m}>{m}</li>
              ))}
            </ul>
          </>
        ) : (
          <>
            {l.page_names && (
              <Form.Group controlId="page-name" className="mb-2">
                <Form.Label>
                  Its page’s address: <span className="mono">{l.page_names.begins}</span>
                </Form.Label>
                <Form.Control
                  list="page-names"
                  value={pageName}
                  onChange={(e) => setTyped(e.target.value)}
                  maxLength={200}
                  className="mono"
                />
                <datalist id="page-names">
                  {l.page_names.proposed.map((p) => (
                    <option key={p} value={p} />
                  ))}
                </datalist>
                <Form.Text>
                  {l.page_names.note}
                  {l.page_names.taken.length > 0 && ` Taken: ${l.page_names.taken.join(', ')}.`}
                </Form.Text>
              </Form.Group>
            )}
            <div className="who">
              <div>
                <b>{none ? 'Create it from the record' : 'None of these'}</b>
                <span className="second small">
                  {likely.length > 0 ? `A second listing of one shop harms both.` : `${l.row.directory_name} gets the facts on the left.`}
                </span>
              </div>
              {likely.length > 0 && !sure ? (
                <Button variant="outline-secondary" onClick={() => setSure(true)}>
                  Create anyway
                </Button>
              ) : (
                <Button
                  variant={likely.length > 0 ? 'outline-secondary' : 'primary'}
                  disabled={verb.isPending}
                  onClick={() => verb.mutate({ do: 'create', name: l.page_names ? pageName : undefined })}
                >
                  {verb.isPending && verb.variables.do === 'create' ? 'Creating' : 'Create listing'}
                </Button>
              )}
            </div>
          </>
        )}
      </div>
    </section>
  )
}

function Publishing({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
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
      <Failed error={verb.error} />
      <p>
        {(l.worked === 'by_hand' || l.worked === 'written') && !l.page ? null : (
          <Button
            variant={late && s.visibility === 'publishing' ? 'primary' : 'outline-secondary'}
            disabled={verb.isPending}
            onClick={() => verb.mutate({ do: 'look' })}
          >
            {verb.isPending ? 'Looking' : 'Look again'}
          </Button>
        )}
      </p>
      {!l.page && <Answer listing={l} options={['public', 'not_public']} verb={verb} />}
    </section>
  )
}
