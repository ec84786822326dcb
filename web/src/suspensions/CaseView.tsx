import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { type Listing, type Schemas } from '../api/client'
import { useCase, useListing } from '../api/queries'
import { dateWords, useTimes } from '../app/clock'
import { Lacking, Needs } from '../app/Needs'
import { listingPath, pathOf } from '../app/place'
import { counted, Pending, ViewHead } from '../app/View'
import { Strand } from '../marks/Strand'
import { WindowBar } from '../marks/WindowBar'
import { Do, Failed } from '../kit/verb'
import { GiveUp } from './GiveUp'
import { Remains } from './Remains'
import { useListingVerb } from '../verification/verbs'

type Case = Schemas['Case']

const stepWords: Record<Schemas['CaseStep']['state'], string> = {
  done: 'done',
  now: 'now',
  waits: 'waits',
  later: 'later',
  left: 'not done',
}
const todayWords: Record<string, string> = { still: 'still so in the record', gone: 'not so any more', new: 'come up since' }
const ends: Record<string, string> = { won: 'Won', lost: 'Not won', given_up: 'Given up' }

// CaseView is one case: what they wrote, why it is likely, what to do in which order, and
// what was argued and answered.
export function CaseView() {
  const { location = '', directory = '', id = '' } = useParams()
  const found = useCase(location, directory, id)
  const listing = useListing(location, directory)
  const at = useTimes(found.data?.row.zone ?? 'UTC')
  if (!found.data || !listing.data) return <Pending error={found.error ?? listing.error} />
  const c = found.data
  const f = c.facts
  const open = !f.closed_at
  return (
    <>
      <ViewHead
        title={`${c.row.label} on ${c.row.directory_name}: ${f.title.toLowerCase()}`}
        says={
          open
            ? `Open since ${at(f.opened_at)}, noticed by ${f.by}.`
            : `${ends[f.outcome ?? '']} ${at(f.closed_at!)}, after ${counted(f.days, 'day')}.`
        }
        mark={<Strand strand={c.row.strand} size="large" />}
      >
        <Link className="btn btn-outline-secondary" to={listingPath(location, directory)}>
          Open the listing
        </Link>
      </ViewHead>
      <div className="two">
        <div>
          {f.notice && (
            <section className="sheet">
              <h2>What {f.by === c.row.directory_name ? 'they wrote' : 'was noticed'}</h2>
              <blockquote className="letter">{f.notice}</blockquote>
            </section>
          )}
          {f.kind === 'suspended' && <Causes c={c} />}
          {!open && f.kind === 'suspended' && f.outcome !== 'won' && c.row.strand.visibility === 'suspended' && (
            <Remains location={location} directory={directory} c={c} />
          )}
          {open && f.kind === 'suspended' && c.rule && (
            <Needs what="send">
              <Argue c={c} listing={listing.data} />
            </Needs>
          )}
          {c.appeals.length > 0 && (
            <section className="sheet">
              <h2>Argued so far</h2>
              {c.appeals.map((a, i) => (
                <article className="said" key={i}>
                  <p>
                    <b>{counted(i + 1, 'appeal', 'appeals').replace(/^\d+ appeals?/, `Appeal ${i + 1}`)}</b>{' '}
                    <span className="second">
                      {a.asked_by}, {at(a.asked_at)}
                      {a.papers ? `, with the ${a.papers}` : ', without a paper'}
                    </span>
                  </p>
                  <p className="said-text">{a.text}</p>
                  <p className={a.answered_at ? '' : 'second'}>
                    {a.answered_at
                      ? `${a.granted ? 'Granted' : 'Refused'} ${at(a.answered_at)}: ${a.says}`
                      : `They answer by ${dateWords(a.window.latest)}.`}
                  </p>
                </article>
              ))}
            </section>
          )}
          {c.learnt.length > 0 && f.kind === 'suspended' && (
            <section className="sheet">
              <h2>What was learnt</h2>
              {c.learnt.map((l) => (
                <p key={l}>{l}</p>
              ))}
            </section>
          )}
          {c.since.length > 0 && (
            <section className="sheet">
              <h2>Changed in the record {open ? 'since' : 'while it was open'}</h2>
              <ul className="mb-0">
                {c.since.map((s) => (
                  <li key={s}>{s}</li>
                ))}
              </ul>
            </section>
          )}
        </div>
        <aside>
          <Lacking />
          <Steps c={c} listing={listing.data} />
          {open && (
            <Needs what="send">
              <GiveUp c={c} />
            </Needs>
          )}
        </aside>
      </div>
    </>
  )
}

function Causes({ c }: { c: Case }) {
  const pct = (n: number) => Math.round(100 * n)
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>{c.facts.closed_at ? 'What was thought of it' : 'Likely causes'}</h2>
        <span className="second">
          {c.facts.closed_at ? 'as it was on its day' : 'as it was on its day, by our own history, the record and their words'}
        </span>
      </div>
      {c.suspects.length === 0 && (
        <p>Nothing in the record, and nothing that was sent in the last 30 days, is a cause that {c.row.directory_name} is known for.</p>
      )}
      <ol className="causes">
        {c.suspects.map((s, i) => (
          <li key={s.risk.cause} className={i === 0 ? 'likeliest' : ''}>
            <span className="mono share-of">{s.today === 'new' ? '+' : `${pct(s.share)} %`}</span>
            <div>
              <b>{s.risk.title.charAt(0).toUpperCase() + s.risk.title.slice(1)}</b>
              {s.today !== '' && <span className={`cause-today ${s.today}`}>{todayWords[s.today]}</span>}
              <ul>
                {s.evidence.map((e) => (
                  <li key={e}>{e}</li>
                ))}
              </ul>
              <p className="second">{s.risk.mend}</p>
            </div>
          </li>
        ))}
        {c.suspects.length > 0 && (
          <li>
            <span className="mono share-of">{pct(c.unnamed)} %</span>
            <div className="second">Something that no rule of the rulebook names.</div>
          </li>
        )}
      </ol>
    </section>
  )
}

function Argue({ c, listing }: { c: Case; listing: Listing }) {
  const verb = useListingVerb(listing)
  const key = `appeal ${c.row.location} ${c.row.directory} ${c.facts.id} ${c.appeals.length}`
  const [text, setText] = useState(() => localStorage.getItem(key) ?? c.draft)
  const [papers, setPapers] = useState<string[]>(() => c.papers.filter((p) => p.proposed).map((p) => p.paper.id))
  const queries = useQueryClient()
  useEffect(() => {
    if (text === c.draft) localStorage.removeItem(key)
    else localStorage.setItem(key, text)
  }, [text, key, c.draft])
  const left = c.rule!.most - c.appeals.length
  if (c.appeals.some((a) => !a.answered_at)) return null
  const most = c.rule!.most_characters
  const over = most > 0 && [...text].length > most
  const mendFirst = c.steps.find((s) => s.state === 'now' && s.act !== 'appeal')
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>{c.appeals.length > 0 ? 'Appeal again' : 'Appeal'}</h2>
        <span className="second">
          {c.rule!.how}; {c.rule!.span}; {counted(left, 'appeal')} left
        </span>
      </div>
      {!c.fresh && (
        <p className="wrong">
          Nothing is new since they refused. Mend what they minded in the record, or add a paper, and say so; the same again is not sent.
        </p>
      )}
      <form
        onSubmit={(e) => {
          e.preventDefault()
          verb.mutate(
            { do: 'appeal', text, papers },
            {
              onSuccess: (after) => {
                if (!after.trouble) localStorage.removeItem(key)
                void queries.invalidateQueries({ queryKey: ['case'] })
              },
            },
          )
        }}
      >
        <Form.Group controlId="appeal-text">
          <Form.Label className="d-flex justify-content-between">
            <span>What is said</span>
            {most > 0 && (
              <span className={'mono small' + (over ? ' text-danger' : '')}>
                {[...text].length} of {most}
              </span>
            )}
          </Form.Label>
          <Form.Control as="textarea" rows={8} value={text} onChange={(e) => setText(e.target.value)} />
          {text !== c.draft && (
            <Button variant="link" className="p-0 small" onClick={() => setText(c.draft)}>
              Begin again from the facts
            </Button>
          )}
        </Form.Group>
        <fieldset className="mt-2">
          <legend>Papers with it</legend>
          {c.papers.length === 0 && (
            <p className="second mb-1">
              There is none of a kind that they take ({c.rule!.papers.join(', ').toLowerCase()}).{' '}
              <Link to={pathOf('record', { location: c.row.location }) + '#papers'}>Add one</Link>
            </p>
          )}
          {c.papers.map(({ paper: p, adds }) => {
            const faults = p.findings.filter((f) => !f.good)
            return (
              <div key={p.id}>
                <Form.Check
                  id={'paper-' + p.id}
                  label={
                    <>
                      {p.kind}, {p.file_name}{' '}
                      <span className="second">{adds > 0 ? `+${Math.round(100 * adds)} in 100` : 'adds nothing to this cause'}</span>
                    </>
                  }
                  checked={papers.includes(p.id)}
                  onChange={(e) => setPapers(e.target.checked ? [...papers, p.id] : papers.filter((x) => x !== p.id))}
                />
                {faults.map((x) => (
                  <p className="second small ms-4 mb-1" key={x.says}>
                    ≠ {x.says}
                  </p>
                ))}
              </div>
            )
          })}
        </fieldset>
        <p className="second small">
          With what is proposed about {Math.round(10 * c.chance)} of 10 are granted
          {c.heard_won + c.heard_lost > 0 ? `; of ours like it ${c.heard_won} of ${c.heard_won + c.heard_lost}` : ', by the rulebook'}.
        </p>
        {mendFirst && (
          <p className="note mt-2">
            {mendFirst.title} first: an appeal is heard on its merits, and there are only{' '}
            {counted(left, 'one', 'of them').replace(/^(\d+) one$/, '$1')}.
          </p>
        )}
        <Failed error={verb.error} />
        {c.trouble && <p className="wrong">{c.trouble}</p>}
        <p className="mt-2">
          <Button
            type="submit"
            variant={mendFirst ? 'outline-secondary' : 'primary'}
            disabled={verb.isPending || !!c.busy || over || text.trim() === ''}
          >
            {verb.isPending ? 'Sending' : `Send the appeal with ${counted(papers.length, 'paper')}`}
          </Button>
        </p>
      </form>
    </section>
  )
}

function Steps({ c, listing }: { c: Case; listing: Listing }) {
  const verb = useListingVerb(listing)
  const place = { location: c.row.location }
  const act = (s: Schemas['CaseStep']) => {
    const look = 'btn btn-sm btn-outline-secondary'
    switch (s.act) {
      case 'record':
        return (
          <Link className={look} to={pathOf('record', place) + (s.fact ? '#' + s.fact : '')}>
            Open record
          </Link>
        )
      case 'papers':
        return (
          <Link className={look} to={pathOf('record', place) + '#papers'}>
            Open papers
          </Link>
        )
      case 'send':
        return (
          c.changed > 0 && (
            <Button
              variant="outline-secondary"
              size="sm"
              disabled={verb.isPending || !!c.busy || !!listing.change}
              onClick={() => verb.mutate({ do: 'send' })}
            >
              Send {c.changed}
            </Button>
          )
        )
      case 'look':
        return (
          <Do verb={verb} of={{ do: 'look' }} variant="outline-secondary" size="sm">
            Look
          </Do>
        )
      case 'listing':
        return (
          <Link className={look} to={listingPath(c.row.location, c.row.directory)}>
            Open the listing
          </Link>
        )
    }
    return null
  }
  return (
    <section className={'sheet' + (c.facts.closed_at ? '' : ' next')}>
      <h2>{c.facts.closed_at ? 'What was done' : 'What to do, in this order'}</h2>
      <Failed error={verb.error} />
      <ol className="case-steps">
        {c.steps.map((s) => (
          <li key={s.title} className={s.state}>
            <div>
              <b>{s.title}</b> <span className="step-state">{stepWords[s.state]}</span>
              {s.says && <p className="second">{s.says}</p>}
              {s.window && s.state === 'waits' && <WindowBar window={s.window} />}
            </div>
            {(s.state === 'now' || (s.act === 'look' && !c.facts.closed_at)) && act(s)}
          </li>
        ))}
      </ol>
      {c.facts.closed_at && (
        <p>
          <b>{ends[c.facts.outcome ?? '']}.</b> {c.facts.says}
          {c.facts.outcome === 'lost' && c.facts.kind === 'suspended' && ' Nothing more can be argued there; the listing stays suspended.'}
        </p>
      )}
    </section>
  )
}
