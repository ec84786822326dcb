import { useState, type ReactNode } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type ListingRow, type Schemas } from '../api/client'
import { useClients, useMoreToday, useSpecialDates, useToday } from '../api/queries'
import { dateWords, useNow } from '../app/clock'
import { casePath, listingPath, pathOf, usePlace, type Scope } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { More, rowsOf } from '../kit/paged'
import { Do, useVerb } from '../kit/verb'
import { Strand } from '../marks/Strand'
import { AxisScale, listAxis, WindowBar, type Axis } from '../marks/WindowBar'
import { Undelivered } from '../letters/Undelivered'
import { NoClients } from '../record/NoClients'
import { DueDates, useDueDates } from './Dates'
import { PutOff } from './PutOff'
import { Rest } from './Rest'

const groups: { id: Schemas['TaskGroup']; title: string; says: string }[] = [
  { id: 'mine', title: 'Yours to move', says: 'soonest loss first' },
  { id: 'owner', title: 'With owners', says: 'who alone can read the post there' },
  { id: 'directory', title: 'With directories', says: 'nothing to do but wait' },
]

const acts: Record<Schemas['Task']['act'], string> = {
  search: 'Search',
  decide: 'Decide',
  verify: 'Choose a way',
  enter_code: 'Enter code',
  ask_again: 'Ask again',
  look_again: 'Look again',
  open: 'Open',
  give: 'Bring it there',
  begin: 'Begin',
  argue: 'See the case',
  hold: 'Say',
  follow: 'Tell them',
}

// TodayView answers “what now?”.
export function TodayView() {
  const { scope } = usePlace()
  const today = useToday(scope)
  const dates = useSpecialDates(scope)
  const due = useDueDates(dates.data)
  const clients = useClients()
  const name = useScopeName(scope)
  // Dates stand above the tasks: what came later would push a row away from under the pointer.
  if (!today.data || !clients.data || dates.isPending) return <Pending error={today.error ?? clients.error} />
  const { counts, rows } = today.data
  const title = name ? `Today, ${name}` : 'Today'
  if (clients.data.length === 0)
    return (
      <>
        <ViewHead title={title} />
        <NoClients />
      </>
    )
  return (
    <>
      <ViewHead
        title={title}
        says={`${counted(counts.mine + due.length, 'thing')} only you can move, ${counts.owner} with owners, ${counts.directory} with directories.`}
      />
      {rows.length === 0 && due.length === 0 && (
        <div className="empty">
          <h2>Nothing to do and nothing awaited</h2>
          <p>Everything here is public. What falls due, or goes missing from a directory, will stand here.</p>
        </div>
      )}
      {!scope.location && <Undelivered client={scope.client} />}
      {groups.map((g, i) => (
        <Group
          key={g.id}
          group={g}
          count={counts[g.id]}
          first={rows.filter((r) => r.task?.group === g.id)}
          scope={scope}
          scale={i === 0}
          above={i === 0 && due.length > 0 && <DueDates dates={due} scope={scope} />}
        />
      ))}
      <Rest scope={scope} />
    </>
  )
}

// Group is the tasks that one can move: the first, and more when they are asked for.
function Group({
  group,
  count,
  first,
  scope,
  scale,
  above,
}: {
  group: (typeof groups)[number]
  count: number
  first: ListingRow[]
  scope: Scope
  scale: boolean
  above?: ReactNode
}) {
  const now = useNow()
  const axis = listAxis(now)
  const [on, setOn] = useState(false)
  const more = useMoreToday(scope, group.id, first.length, on)
  if (first.length === 0 && !above) return null
  const rows = [...first, ...rowsOf(more, (p) => p.rows)]
  const left = count - rows.length
  return (
    <section aria-labelledby={'group-' + group.id}>
      <div className="group-head">
        <h2 id={'group-' + group.id}>{group.title}</h2>
        <span>{group.says}</span>
        {scale && (
          <div className="axis-head">
            <AxisScale axis={axis} now={now} />
          </div>
        )}
      </div>
      <ul className="rows">
        {above}
        {rows.map((r, j) => (
          <TaskRow key={r.location + r.directory + r.task?.act} row={r} axis={axis} first={group.id === 'mine' && j === 0 && !above} />
        ))}
      </ul>
      {left > 0 && (
        <p className="more-rows">
          The first {rows.length} of {count}.{' '}
          <More list={more} variant="link" className="p-0" onMore={() => (on ? void more.fetchNextPage() : setOn(true))}>
            {`Show ${Math.min(100, left)} more`}
          </More>
        </p>
      )}
    </section>
  )
}

function TaskRow({ row, axis, first }: { row: ListingRow; axis: Axis; first: boolean }) {
  const t = row.task!
  const [off, setOff] = useState(false)
  const to =
    t.act === 'begin'
      ? pathOf('verification', { location: row.location }) + '?round=search'
      : t.act === 'follow'
        ? pathOf('record', { location: row.location }) + '/course'
        : t.act === 'argue' && row.case
          ? casePath(row.location, row.directory, row.case)
          : listingPath(row.location, row.directory) + (t.act === 'give' ? '?look=worksheet' : t.act === 'hold' ? '?look=fit' : '')
  const look = useVerb({
    does: () =>
      told(
        api.POST('/api/listings/{location}/{directory}/looks', { params: { path: { location: row.location, directory: row.directory } } }),
      ),
    says: (l) =>
      l.row.strand.visibility === 'public'
        ? `${row.label} is public on ${row.directory_name}.`
        : `Looked: ${row.label} still does not show on ${row.directory_name}.`,
    tells: true,
  })
  const variant = first ? 'primary' : 'outline-secondary'
  return (
    <li className={'task' + (first ? ' first' : '')}>
      <Strand strand={row.strand} />
      <div className="what">
        <Link to={to} data-row>
          {t.title}
        </Link>
        <p>
          {t.says}
          {t.group !== 'directory' && !off && (
            <Button variant="link" className="put-off-button" onClick={() => setOff(true)}>
              Put off
            </Button>
          )}
        </p>
        {off && <PutOff row={row} onDone={() => setOff(false)} />}
      </div>
      <div className="bar">{t.window && <WindowBar window={t.window} axis={axis} />}</div>
      <div className="do">
        {t.group === 'directory' ? (
          t.window && <span className="due">by {dateWords(t.window.latest)}</span>
        ) : t.act === 'look_again' ? (
          <Do verb={look} of={undefined} running="Looking" variant={variant}>
            {acts[t.act]}
          </Do>
        ) : (
          <Link className={'btn btn-' + variant} to={to}>
            {acts[t.act]}
          </Link>
        )}
      </div>
    </li>
  )
}
