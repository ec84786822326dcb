import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { useCases } from '../api/queries'
import { dateWords, useNow } from '../app/clock'
import { casePath, usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { Strand } from '../marks/Strand'
import { AxisScale, listAxis, WindowBar, type Axis } from '../marks/WindowBar'
import { Ended, Took } from './Ended'
import { Letters } from './Letters'

const keyOf = (c: Schemas['CaseRow']) => c.row.location + c.row.directory + c.facts.id

// SuspensionsView lists the trouble that needs an argument: what is open, what directories
// wrote that nobody could place, and how it ended before.
export function SuspensionsView() {
  const { scope } = usePlace()
  const cases = useCases(scope)
  const name = useScopeName(scope)
  const now = useNow()
  const axis = listAxis(now)
  if (!cases.data) return <Pending error={cases.error} />
  const open = cases.data.cases.filter((c) => !c.facts.closed_at)
  const ended = cases.data.cases.filter((c) => c.facts.closed_at)
  const lost = cases.data.lost_per_day
  return (
    <>
      <ViewHead
        title={name ? `Suspensions, ${name}` : 'Suspensions'}
        says={
          open.length === 0
            ? 'No case is open.'
            : `${counted(open.length, 'open case')}${lost > 0 ? `; listings of a weight of ${lost} do not show because of them` : ''}.`
        }
      />
      {cases.data.cases.length === 0 && (
        <div className="empty">
          <h2>No trouble so far</h2>
          <p>
            A case opens by itself when a directory writes that a listing is suspended, when a public listing no longer shows, when somebody
            else holds it, when a second listing is reported, and when a change is refused.
          </p>
        </div>
      )}
      {open.length > 0 && (
        <section>
          <div className="group-head">
            <h2>Open</h2>
            <span>what weighs most first</span>
            <div className="axis-head">
              <AxisScale axis={axis} now={now} />
            </div>
          </div>
          <ul className="rows">
            {open.map((c, i) => (
              <OpenCase key={keyOf(c)} c={c} axis={axis} first={i === 0} />
            ))}
          </ul>
        </section>
      )}
      {!scope.location && <Letters />}
      {ended.length > 0 && <Ended cases={ended} keyOf={keyOf} />}
      {cases.data.took.length > 0 && <Took took={cases.data.took} />}
    </>
  )
}

function OpenCase({ c, axis, first }: { c: Schemas['CaseRow']; axis: Axis; first: boolean }) {
  const to = casePath(c.row.location, c.row.directory, c.facts.id)
  const ours = c.next?.state === 'now'
  return (
    <li className={'task' + (first && ours ? ' first' : '')}>
      <Strand strand={c.row.strand} />
      <div className="what">
        <Link to={to} data-row>
          {c.row.label} on {c.row.directory_name}: {c.facts.title.toLowerCase()}
        </Link>{' '}
        <span className="second">
          {c.row.client_name}, {c.facts.days === 0 ? 'since today' : `for ${counted(c.facts.days, 'day')}`}
        </span>
        <p>{c.facts.says || c.facts.notice.split('\n')[0]}</p>
      </div>
      <div className="bar">{c.next?.window && <WindowBar window={c.next.window} axis={axis} />}</div>
      <div className="do">
        {ours ? (
          <Link className={'btn btn-' + (first ? 'primary' : 'outline-secondary')} to={to}>
            {c.next!.act === 'appeal' ? 'Argue' : 'See the case'}
          </Link>
        ) : (
          c.next?.window && <span className="due">by {dateWords(c.next.window.latest)}</span>
        )}
      </div>
    </li>
  )
}
