import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { useHotkeys } from 'react-hotkeys-hook'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { ago, useNow } from '../app/clock'
import { listingPath, type Scope } from '../app/place'
import { counted, Pending } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'

type Item = Schemas['Undecided']
type Take = 'claim' | 'create'

export const verdicts: Record<Schemas['Candidate']['verdict'], string> = {
  same: 'the same business',
  probably: 'probably the same',
  unlikely: 'unlikely',
  different: 'different',
}

export const statuses: Record<Schemas['Candidate']['status'], string> = {
  free_to_claim: 'free to claim',
  ours: 'held by us already',
  held_by_another: 'held by someone else',
}

const key = (i: Item) => i.location + ' ' + i.directory
const mayClaim = (i: Item) => !!i.best && i.best.verdict !== 'different'
const likely = (i: Item) => i.best?.verdict === 'same' || i.best?.verdict === 'probably'
// A second listing of one shop harms both: where one is likely, it is created on its own page.
const mayCreate = (i: Item) => i.missing === 0 && !i.makes_itself && !likely(i)

// Find lists what was searched and waits for a decision: what was found beside the
// record. `c` claims what the row has found, `x` creates a new listing.
export function Find({ scope }: { scope: Scope }) {
  const list = useQuery({
    queryKey: ['undecided', scope],
    queryFn: () => told(api.GET('/api/undecided', { params: { query: { client: scope.client, location: scope.location } } })),
  })
  const [all, setAll] = useState(false)
  if (!list.data) return <Pending error={list.error} />
  if (list.data.length === 0) return null
  const shown = all ? list.data : list.data.slice(0, 12)
  return (
    <section aria-label="To decide">
      <div className="group-head">
        <h2>Found, to be decided</h2>
        <span>{list.data.length}</span>
        <span className="second ms-auto">
          <kbd>j</kbd> <kbd>k</kbd> the row, <kbd>c</kbd> claim what was found, <kbd>x</kbd> create a new one, <kbd>Enter</kbd> open
        </span>
      </div>
      <ul className="rows finds">
        {shown.map((i) => (
          <Row key={key(i)} item={i} />
        ))}
      </ul>
      {list.data.length > shown.length && (
        <Button variant="link" className="px-0" onClick={() => setAll(true)}>
          {counted(list.data.length - shown.length, 'more')}
        </Button>
      )}
    </section>
  )
}

// Row is a listing to be decided. Keys come faster than answers, so each row is decided by itself,
// once, whatever goes on in the others.
function Row({ item: i }: { item: Item }) {
  const now = useNow()
  const decide = useVerb({
    does: (take: Take): Promise<unknown> => {
      const params = { params: { path: { location: i.location, directory: i.directory } } }
      return take === 'claim'
        ? told(api.POST('/api/listings/{location}/{directory}/claim', { ...params, body: { ref: i.best!.ref } }))
        : told(api.POST('/api/listings/{location}/{directory}/create', { ...params, body: {} }))
    },
    changes: ['undecided'],
  })
  const take = (what: Take, may: boolean) => may && !decide.isPending && decide.mutate(what)
  const li = useHotkeys<HTMLLIElement>(
    ['c', 'x'],
    (_, { keys }) => void (keys?.[0] === 'c' ? take('claim', mayClaim(i)) : take('create', mayCreate(i))),
    { useKey: true },
  )
  return (
    <li ref={li}>
      <div>
        <Link to={listingPath(i.location, i.directory)} data-row data-find={key(i)}>
          {i.label} on {i.directory_name}
        </Link>{' '}
        <span className="second">{i.client_name}</span>
        <p className="second small">
          {i.name}, {i.address}
        </p>
      </div>
      <Found item={i} ago={ago(new Date(i.searched_at), now)} />
      <div className="do">
        {mayClaim(i) && (
          <Do verb={decide} of="claim" variant="outline-secondary" size="sm">
            Claim
          </Do>
        )}
        {mayCreate(i) && (
          <Do verb={decide} of="create" variant="outline-secondary" size="sm">
            Create
          </Do>
        )}
        <Failed error={decide.error} />
      </div>
    </li>
  )
}

function Found({ item: i, ago }: { item: Item; ago: string }) {
  const b = i.best
  if (!b)
    return (
      <div>
        Nothing like it is there; searched {ago}.
        <p className="second small">
          {i.makes_itself
            ? 'It makes its listings by itself.'
            : i.missing > 0
              ? `${counted(i.missing, 'required fact')} missing before one can be created.`
              : ''}
        </p>
      </div>
    )
  return (
    <div>
      {b.name}, {b.address} <span className={'verdict ' + b.verdict}>{verdicts[b.verdict]}</span>{' '}
      <span className="second small">
        {b.score.toFixed(2)}, {statuses[b.status]}
        {i.others > 0 && `; ${i.others} more`}
      </span>
      <p className="second small">{b.reasons.slice(0, 2).join(' ')}</p>
    </div>
  )
}
