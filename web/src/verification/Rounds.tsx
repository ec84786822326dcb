import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link, useSearchParams } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { listingPath, type Scope } from '../app/place'
import { counted, Pending } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'

type What = 'search' | 'verify' | 'send'
type Item = Schemas['ProposedItem']

const verbs: Record<What, string> = { search: 'Search', verify: 'Verify', send: 'Send' }
const key = (i: { location: string; directory: string }) => i.location + ' ' + i.directory

const useProposals = (scope: Scope, what: What, on = true) =>
  useQuery({
    queryKey: ['round-proposals', scope, what],
    queryFn: () => told(api.GET('/api/round-proposals', { params: { query: { client: scope.client, location: scope.location, what } } })),
    enabled: on,
  })

// RoundButtons offer to do for many what can be done for one.
export function RoundButtons({ scope }: { scope: Scope }) {
  const [params, setParams] = useSearchParams()
  const search = useProposals(scope, 'search')
  const verify = useProposals(scope, 'verify')
  const send = useProposals(scope, 'send')
  const open = (what: What) => {
    params.set('round', what)
    setParams(params)
  }
  const button = (what: What, list: Item[] | undefined) => {
    const good = list?.filter((i) => i.why === '') ?? []
    return good.length > 1 ? (
      <Button key={what} variant="outline-secondary" onClick={() => open(what)}>
        {verbs[what]} {good.length}
      </Button>
    ) : null
  }
  return (
    <>
      {button('search', search.data)}
      {button('verify', verify.data)}
      {button('send', send.data)}
    </>
  )
}

// Rounds shows what a round would do, or how one stands, by what the address says.
export function Rounds({ scope }: { scope: Scope }) {
  const [params, setParams] = useSearchParams()
  const round = params.get('round')
  const close = () => {
    params.delete('round')
    setParams(params)
  }
  if (!round) return null
  if (round === 'search' || round === 'verify' || round === 'send') {
    return (
      <Proposal
        key={round}
        scope={scope}
        what={round}
        onClose={close}
        onStart={(id) => {
          params.set('round', id)
          setParams(params, { replace: true })
        }}
      />
    )
  }
  return <Standing id={round} onClose={close} />
}

function Proposal({ scope, what, onClose, onStart }: { scope: Scope; what: What; onClose: () => void; onStart: (id: string) => void }) {
  const list = useProposals(scope, what)
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const start = useVerb({
    does: (items: Item[]) =>
      told(
        api.POST('/api/rounds', {
          body: { what, items: items.map(({ location, directory, method }) => ({ location, directory, method })) },
        }),
      ),
    then: (r) => onStart(r.id),
  })
  if (!list.data) return <Pending error={list.error} />
  const exceptions = list.data.filter((i) => i.why !== '')
  const good = list.data.filter((i) => i.why === '')
  const chosen = good.filter((i) => !left.has(key(i)))
  const toggle = (i: Item) => {
    const next = new Set(left)
    if (!next.delete(key(i))) next.add(key(i))
    setLeft(next)
  }
  return (
    <section className="sheet next round mb-3" aria-label={`${verbs[what]} many`}>
      <div className="sheet-head">
        <h2>{`${verbs[what]} ${counted(good.length, 'listing')}`}</h2>
        <Button variant="link" className="p-0" onClick={onClose}>
          Close
        </Button>
      </div>
      <p className="second">
        {what === 'search'
          ? 'Each directory is searched by name, phone and address. Nothing is created or claimed.'
          : what === 'send'
            ? 'Each is given what its record says by now and it was given otherwise, the gentlest step first. What is likely to follow stands beside it.'
            : 'Each is asked in the way that is likeliest to have worked soonest; where it is not offered today, in the next best. A call is not made at once: it is booked in the shop’s hours, its owner told a day before. A code that was asked for cannot be taken back.'}
      </p>
      {exceptions.length > 0 && (
        <>
          <h3>{counted(exceptions.length, 'exception')}, to be looked at one by one</h3>
          <ul className="round-list">
            {exceptions.map((i) => (
              <li key={key(i)}>
                <span />
                <Link to={listingPath(i.location, i.directory)} data-row>
                  {i.label} on {i.directory_name}
                </Link>
                <span className="second">{i.client_name}</span>
                <span>{i.why}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      <ul className="round-list scrolls">
        {good.map((i) => (
          <li key={key(i)}>
            <input
              type="checkbox"
              className="form-check-input"
              aria-label={`${i.label} on ${i.directory_name}`}
              checked={!left.has(key(i))}
              onChange={() => toggle(i)}
            />
            <Link to={listingPath(i.location, i.directory)} data-row>
              {i.label} on {i.directory_name}
            </Link>
            <span className="second">{i.client_name}</span>
            <span>{what === 'verify' ? `${i.title}. ${i.says}` : i.says}</span>
          </li>
        ))}
      </ul>
      <Failed error={start.error} />
      <p hidden={good.length === 0}>
        <Do verb={start} of={chosen} running="Beginning" disabled={chosen.length === 0}>
          {`${verbs[what]} ${chosen.length}`}
        </Do>
      </p>
    </section>
  )
}

const states: Record<Schemas['RoundLine']['state'], string> = {
  waiting: 'waits',
  asked: 'asked',
  booked: 'booked',
  done: 'done',
  refused: 'refused',
  left: 'not asked',
  stopped: 'stopped',
}

// Standing is how a round stands.
export function Standing({ id, onClose }: { id: string; onClose: () => void }) {
  const queries = useQueryClient()
  const round = useQuery({
    queryKey: ['round', id],
    queryFn: () => told(api.GET('/api/rounds/{round}', { params: { path: { round: id } } })),
    refetchInterval: (q) => (q.state.data?.lines.some((l) => l.state === 'waiting' || l.state === 'asked') ? 700 : false),
  })
  const stop = useVerb({
    does: () => told(api.DELETE('/api/rounds/{round}', { params: { path: { round: id } } })),
    then: (r) => queries.setQueryData(['round', id], r),
  })
  if (!round.data) return <Pending error={round.error} />
  const lines = round.data.lines
  const of = (...s: Schemas['RoundLine']['state'][]) => lines.filter((l) => s.includes(l.state)).length
  const ended = lines.length - of('waiting', 'asked')
  const wrong = lines.filter((l) => l.state === 'refused' || l.state === 'left')
  const verb = { search: 'Searching', verify: 'Asking for proofs of', send: 'Sending to' }[round.data.what]
  return (
    <section className="sheet round mb-3" aria-label="How the round stands" aria-live="polite">
      <div className="sheet-head">
        <h2>
          {ended < lines.length
            ? `${verb} ${counted(lines.length, 'listing')}`
            : `${counted(lines.length, 'listing')}: ${of('done', 'booked')} done${wrong.length > 0 ? `, ${wrong.length} to look at` : ''}`}
        </h2>
        <Button variant="link" className="p-0" onClick={onClose}>
          Close
        </Button>
      </div>
      <p>
        <progress max={lines.length} value={ended} aria-label="How far it is" /> {ended} of {lines.length}
        {of('asked') > 0 && `, ${of('asked')} with the directories`}
        {of('stopped') > 0 && `, ${of('stopped')} stopped`}. You can leave this page; it goes on.
      </p>
      {wrong.length > 0 && (
        <ul className="round-list">
          {wrong.map((l) => (
            <li key={key(l)}>
              <span className="mono">{states[l.state] === 'refused' ? '≠' : '–'}</span>
              <Link to={listingPath(l.location, l.directory)} data-row>
                {l.label} on {l.directory_name}
              </Link>
              <span className="second">{l.client_name}</span>
              <span>{l.says}</span>
            </li>
          ))}
        </ul>
      )}
      <details>
        <summary>All {lines.length}</summary>
        <ul className="round-list scrolls">
          {lines.map((l) => (
            <li key={key(l)}>
              <span />
              <Link to={listingPath(l.location, l.directory)}>
                {l.label} on {l.directory_name}
              </Link>
              <span className="second">{states[l.state]}</span>
              <span>{[l.title, l.says].filter(Boolean).join('. ')}</span>
            </li>
          ))}
        </ul>
      </details>
      <Failed error={stop.error} />
      {of('waiting') > 0 && (
        <p>
          <Do verb={stop} of={undefined} variant="outline-secondary">
            Stop the {of('waiting')} that wait
          </Do>
        </p>
      )}
    </section>
  )
}
