import { Fragment, type KeyboardEvent, type ReactNode } from 'react'
import { useNavigate } from 'react-router'
import type { FoldFilter } from '../api/queries'
import { dateWords, day, useNow, useZone } from '../app/clock'
import { listingPath, type Scope } from '../app/place'
import { counted } from '../app/View'
import { Strand } from '../marks/Strand'
import { AxisScale, listAxis, WindowBar } from '../marks/WindowBar'
import { actOf, foldActOf, forWhom, taking, lostOf, minutesOf, type Fold } from './acts'
import type { Out } from './chosen'
import { Opened } from './Opened'

// Rows are what is done once, a line each, with a rule where the first hour ends.
export function Rows({
  rows,
  above,
  scope,
  filter,
  chosen,
  open,
  out,
  onChoose,
  onOpen,
  onOut,
  children,
}: {
  rows: Fold[]
  above: { rows: number; minutes: number } // that stand above them
  scope: Scope
  filter: FoldFilter
  chosen: ReadonlySet<string>
  open?: string
  out: Out
  onChoose: (ids: string[], on: boolean) => void
  onOpen: (id?: string) => void
  onOut: (fold: string, row: string) => void // leaves it out, or takes it along again
  children?: ReactNode // rows above
}) {
  const now = useNow()
  const axis = listAxis(now)
  const all = rows.map((r) => r.id)
  const some = chosen.size > 0
  const hour = filter.group === 'mine' ? firstHour(rows, above.minutes) : rows.length
  const left = rows.slice(hour)
  return (
    <>
      <div className="matter-head">
        <input
          type="checkbox"
          className="form-check-input"
          aria-label="Choose all"
          checked={some && all.every((id) => chosen.has(id))}
          onChange={(e) => onChoose(all, e.target.checked)}
        />
        <span />
        <span>What is done once</span>
        <span>For whom</span>
        <span>{filter.group === 'directory' ? 'What is waited for' : 'Lost by waiting'}</span>
        <div className="axis-head">
          <AxisScale axis={axis} now={now} narrow />
        </div>
        <span className="min">min</span>
      </div>
      <ul className="rows matters">
        {children}
        {rows.map((f, i) => (
          <Fragment key={f.id}>
            {i === hour && (
              <li className="hour">
                <b>
                  The first hour ends here: {counted(hour + above.rows, 'thing')}, {taking(minutesOf(rows.slice(0, hour)) + above.minutes)}
                </b>
                <span>
                  {left.length} more, {taking(minutesOf(left))}
                </span>
              </li>
            )}
            <Row
              fold={f}
              scope={scope}
              filter={filter}
              axis={axis}
              chosen={chosen.has(f.id)}
              open={open === f.id}
              out={out[f.id] ?? []}
              onOut={(row) => onOut(f.id, row)}
              onChoose={(on, every) => onChoose(every ? all : [f.id], on)}
              onOpen={(on) => onOpen(on ? f.id : undefined)}
            />
          </Fragment>
        ))}
      </ul>
    </>
  )
}

// firstHour is how many rows fit the first hour, of which some minutes are gone; all, where there is not much more.
function firstHour(rows: Fold[], gone: number): number {
  let minutes = gone
  const n = rows.findIndex((r) => (minutes += r.minutes) > 60)
  return n < 1 ? rows.length : n
}

function Row({
  fold: f,
  scope,
  filter,
  axis,
  chosen,
  open,
  out,
  onChoose,
  onOpen,
  onOut,
}: {
  fold: Fold
  scope: Scope
  filter: FoldFilter
  axis: ReturnType<typeof listAxis>
  chosen: boolean
  open: boolean
  out: readonly string[]
  onChoose: (on: boolean, all?: boolean) => void
  onOpen: (on: boolean) => void
  onOut: (row: string) => void
}) {
  const navigate = useNavigate()
  const t = f.first.task!
  const whom = forWhom(f)
  const act = f.count === 1 ? actOf(f.first) : foldActOf(f, scope)
  const keys = (e: KeyboardEvent) => {
    if (e.key === ' ') {
      e.preventDefault()
      onChoose(!chosen, e.shiftKey)
    } else if (e.key === 'Escape' && open) {
      e.stopPropagation()
      onOpen(false)
    } else if (e.key === 'o' && f.count === 1) void navigate(listingPath(f.first.location, f.first.directory))
  }
  return (
    <li className={[open && 'open', chosen && 'picked'].filter(Boolean).join(' ')} data-fold={f.id}>
      <input
        type="checkbox"
        className="form-check-input"
        aria-label={`Choose “${f.title}”`}
        checked={chosen}
        onChange={(e) => onChoose(e.target.checked)}
      />
      {f.count === 1 ? <Strand strand={f.first.strand} /> : <span className="times">×{f.count - out.length}</span>}
      <button
        className="what"
        data-row
        aria-expanded={open}
        onKeyDown={keys}
        onClick={() => (open && act ? void navigate(act.to) : onOpen(!open))}
      >
        {f.title}
      </button>
      <span className="whom">
        <span title={whom.who + whom.more}>{whom.who}</span>
        <span className="second">{whom.more}</span>
      </span>
      <Lost fold={f} />
      <div className="bar">{f.count === 1 && t.window && <WindowBar window={t.window} axis={axis} height={24} />}</div>
      <span className="min">{t.group === 'directory' ? '' : Math.max(1, Math.round(f.minutes))}</span>
      {open && <Opened fold={f} scope={scope} filter={filter} out={out} onOut={onOut} />}
    </li>
  )
}

// Lost is what is lost by waiting, in a few words.
function Lost({ fold: f }: { fold: Fold }) {
  const zone = useZone()
  const now = useNow()
  const t = f.first.task!
  const soon = f.until && Date.parse(f.until) - now.getTime() < 7 * 86_400_000
  return (
    <span className="lost" title={t.says}>
      {f.until && <span className={soon ? 'soon' : ''}>{`${f.count > 1 ? 'the first ' : ''}by ${day(new Date(f.until), zone)}. `}</span>}
      {!f.until && t.group !== 'mine' && t.window && <span>{`by ${dateWords(t.window.latest)}. `}</span>}
      {f.count === 1 ? t.says : lostOf(f)}
      {t.matter?.with_name && f.count === 1 && <span className="with"> With {t.matter.with_name}.</span>}
      {f.count === 1 && !!t.matter?.notes && (
        <span className="note-of" title={t.matter.last}>
          {' '}
          {counted(t.matter.notes, 'note')}
        </span>
      )}
    </span>
  )
}
