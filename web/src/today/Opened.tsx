import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type ListingRow } from '../api/client'
import { useFolded, useListing, useMatters, type FoldFilter } from '../api/queries'
import { day, dayTime, useTimes, useZone } from '../app/clock'
import { listingPath, type Scope } from '../app/place'
import { More, rowsOf } from '../kit/paged'
import { Do, reason, useVerb } from '../kit/verb'
import { actOf, foldActOf, lostOf, type Fold } from './acts'
import { chosenOf, keyOf } from './chosen'
import { asksOwner, useAsk } from './useAsk'
import { useMatter } from './useMatter'

// Opened is a row that was opened in place: of one listing its matter, of many each of them.
export function Opened(many: Parameters<typeof Many>[0]) {
  return many.fold.count === 1 ? <One row={many.fold.first} /> : <Many {...many} />
}

// How many lines of a listing's history a row has room for.
const lines = 5

function One({ row }: { row: ListingRow }) {
  const t = row.task!
  const at = useTimes(row.zone)
  const zone = useZone()
  const listing = useListing(row.location, row.directory)
  const act = actOf(row)
  const look = useVerb({
    does: () =>
      told(
        api.POST('/api/listings/{location}/{directory}/looks', { params: { path: { location: row.location, directory: row.directory } } }),
      ),
    changes: ['today'],
    says: (l) =>
      l.row.strand.visibility === 'public'
        ? `${row.label} is public on ${row.directory_name}.`
        : `Looked: ${row.label} still does not show on ${row.directory_name}.`,
    tells: true,
  })
  const history = listing.data?.history.slice(0, lines) ?? []
  return (
    <div className="opened">
      <section>
        <h3>What has happened</h3>
        {history.length === 0 && <p className="second">{listing.data ? 'Nothing yet.' : 'Loading'}</p>}
        <ol className="history">
          {history.map((h, i) => (
            <li key={i}>
              <time dateTime={h.at}>{at(h.at)}</time>
              <span>{h.says}</span>
            </li>
          ))}
        </ol>
      </section>
      <Notes row={row} />
      <section className="facts">
        <dl>
          <dt>With</dt>
          <dd>{t.matter?.with_name ?? 'nobody'}</dd>
          {t.matter && (
            <>
              <dt>Since</dt>
              <dd>{day(new Date(t.matter.opened_at), zone)}</dd>
            </>
          )}
          {t.until && (
            <>
              <dt>Until</dt>
              <dd>{dayTime(new Date(t.until), zone)}</dd>
            </>
          )}
        </dl>
        <p className="why">{t.says}</p>
        <p className="acts">
          {t.act === 'look_again' && (
            <Do verb={look} of={undefined} running="Looking">
              Look again
            </Do>
          )}
          {t.act !== 'look_again' && t.act !== 'open' && (
            <Link className="btn btn-primary" to={act.to}>
              {act.says}
            </Link>
          )}
          <Link to={listingPath(row.location, row.directory)}>The listing’s page</Link>
        </p>
      </section>
    </div>
  )
}

// Notes are what people said of a matter, and of those that it had before.
function Notes({ row }: { row: ListingRow }) {
  const zone = useZone()
  const matters = useMatters(row.location, row.directory)
  const [text, setText] = useState('')
  const id = row.task?.matter?.id
  const say = useMatter(
    () => Promise.resolve(id ? [id] : []),
    () => setText(''),
  )
  const notes = (matters.data ?? []).flatMap((m) => m.notes.map((n) => ({ ...n, of: m.id === id ? undefined : m.title })))
  const decided = (matters.data ?? []).filter((m) => m.ended_by)
  return (
    <section>
      <h3>Notes</h3>
      <ul className="notes">
        {notes.map((n) => (
          <li key={n.at + n.says}>
            <span className="second">
              {n.person}, {dayTime(new Date(n.at), zone)}
              {n.of && `, of “${n.of}”`}
            </span>
            {n.says}
          </li>
        ))}
        {decided.map((m) => (
          <li key={m.id}>
            <span className="second">
              {m.ended_by}, {dayTime(new Date(m.ended_at!), zone)}, of “{m.title}”
            </span>
            Nothing more is done: {m.ended_why}
          </li>
        ))}
      </ul>
      <Form
        onSubmit={(e) => {
          e.preventDefault()
          say.mutate({ do: 'note', says: text })
        }}
      >
        <Form.Control
          size="sm"
          aria-label="Write a note"
          placeholder="Write a note, and press Enter"
          maxLength={500}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        {say.error && (
          <span className="wrong mb-0" role="alert">
            {reason(say.error)}
          </span>
        )}
      </Form>
    </section>
  )
}

// Many are all that a row stands for; Space leaves one out of it, and takes it along again.
function Many({
  fold,
  scope,
  filter,
  out,
  onOut,
}: {
  fold: Fold
  scope: Scope
  filter: FoldFilter
  out: readonly string[]
  onOut: (row: string) => void
}) {
  const list = useFolded(scope, filter, fold.id)
  const rows = rowsOf(list, (p) => p)
  const act = foldActOf(fold, scope)
  const ask = useAsk(() => chosenOf(scope, filter, [fold], { [fold.id]: out }))
  const left = fold.count - out.length
  return (
    <div className="opened several">
      {act && (
        <p>
          <Link className="btn btn-primary" to={act.to}>
            {act.says}
          </Link>
        </p>
      )}
      {asksOwner(fold.first) && (
        <p>
          <Do verb={ask} of={undefined} running="Writing" disabled={left === 0}>
            {`Ask about ${left}: one letter`}
          </Do>
        </p>
      )}
      {list.error && <p className="wrong">{list.error.message}</p>}
      <ul>
        {rows.map((r) => (
          <li key={keyOf(r)} className={out.includes(keyOf(r)) ? 'left-out' : undefined}>
            <input
              type="checkbox"
              className="form-check-input"
              tabIndex={-1}
              aria-label={`Take “${r.task?.title}” along`}
              checked={!out.includes(keyOf(r))}
              onChange={() => onOut(keyOf(r))}
            />
            <Link
              to={actOf(r).to}
              data-row
              onKeyDown={(e) => {
                if (e.key !== ' ') return
                e.preventDefault()
                onOut(keyOf(r))
              }}
            >
              {r.task?.title}
            </Link>{' '}
            <span className="second">
              {r.client_name}. {r.task?.says !== lostOf(fold) && r.task?.says}
            </span>
          </li>
        ))}
      </ul>
      {list.hasNextPage && (
        <More list={list} variant="link" className="p-0" onMore={() => void list.fetchNextPage()}>
          {`Show more of ${fold.count}`}
        </More>
      )}
      {!list.data && !list.error && <Button variant="link" className="p-0" disabled>{`Reading ${fold.count}`}</Button>}
    </div>
  )
}
