import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { dateWords, day, useZone } from '../app/clock'
import { listingPath } from '../app/place'
import { counted } from '../app/View'
import { Changed } from './Changed'
import { byHand, following, notOurs, sendable, type By, type Group, type Row } from './rows'
import { Scale, Way, type Span } from './Way'
import { misled } from './words'

// Table lists differences, put together by what is asked for.
export function Table({
  groups,
  by,
  span,
  chosen,
  onChoose,
}: {
  groups: Group[]
  by: By
  span: Span
  chosen: ReadonlySet<string>
  onChoose: (rows: Row[], on: boolean) => void
}) {
  const all = groups.flatMap((g) => g.rows)
  return (
    <table className={`grid differences by-${by}`}>
      <thead>
        <tr>
          {by !== 'cost' && <th scope="col">{by[0]!.toUpperCase() + by.slice(1)}</th>}
          <th scope="col" className="pick">
            <input
              type="checkbox"
              className="form-check-input"
              aria-label="Choose all"
              checked={all.length > 0 && all.every((r) => chosen.has(r.id))}
              onChange={(e) => onChoose(all, e.target.checked)}
            />
          </th>
          <th scope="col">Shown there → the record</th>
          <th scope="col" className="costs-head">
            Costs
          </th>
          <th scope="col" className="way-head">
            <span>Its way there</span>
            <Scale span={span} />
          </th>
          <th scope="col">A mend sets off</th>
        </tr>
      </thead>
      {groups.map((g) => (
        <Together key={g.id} group={g} by={by} span={span} chosen={chosen} onChoose={onChoose} />
      ))}
    </table>
  )
}

// mostOpen is how many rows of a group show before it is opened.
const mostOpen = 5

function Together({
  group: g,
  by,
  span,
  chosen,
  onChoose,
}: {
  group: Group
  by: By
  span: Span
  chosen: ReadonlySet<string>
  onChoose: (rows: Row[], on: boolean) => void
}) {
  const [open, setOpen] = useState(false)
  const folds = g.rows.length > mostOpen + 1
  const rows = folds && !open ? g.rows.slice(0, mostOpen) : g.rows
  const rest = g.rows.slice(mostOpen)
  return (
    <tbody>
      {rows.map((r, i) => (
        <tr key={r.id} className={chosen.has(r.id) ? 'chosen' : ''}>
          {i === 0 && by !== 'cost' && (
            <th scope="rowgroup" rowSpan={rows.length + (folds ? 1 : 0)} className="of">
              <b>{g.title}</b>
              {g.says && <span className="second">{g.says}</span>}
              {g.people >= 0.8 && (
                <span>
                  <b>{Math.round(g.people)}</b> a week
                </span>
              )}
            </th>
          )}
          <Cells row={r} span={span} chosen={chosen.has(r.id)} onChoose={(on) => onChoose([r], on)} />
        </tr>
      ))}
      {folds && (
        <tr className="rest">
          <td colSpan={5}>
            <Button variant="link" className="p-0" data-row aria-expanded={open} onClick={() => setOpen(!open)}>
              {open
                ? 'Fewer'
                : `${rest.length} more: ${rest
                    .slice(0, 4)
                    .map((r) => `${r.first.title.toLowerCase()} at ${r.first.label}`)
                    .join(', ')}${rest.length > 4 ? ', …' : ''}`}
            </Button>
          </td>
        </tr>
      )}
    </tbody>
  )
}

function Cells({ row: r, span, chosen, onChoose }: { row: Row; span: Span; chosen: boolean; onChoose: (on: boolean) => void }) {
  const d = r.first
  const zone = useZone()
  return (
    <>
      <td className="pick">
        <input
          type="checkbox"
          className="form-check-input"
          aria-label={`Choose ${d.title} at ${d.label}`}
          checked={chosen}
          onChange={(e) => onChoose(e.target.checked)}
        />
      </td>
      <td className="shown">
        <Link to={listingPath(d.location, d.directory)} data-row={r.id}>
          <span className="how">{d.mark}</span> <b>{d.title}</b> at {d.label}
        </Link>{' '}
        <span className="second">
          {d.client_name}
          {r.pages.length > 1 && `, ${counted(r.pages.length, 'page')}`}
        </span>
        <p>
          {d.seen ? <Changed is="old" text={d.seen} from={d.record} /> : <span className="second">not shown</span>} →{' '}
          {d.record ? <Changed is="new" text={d.record} from={d.seen} /> : <span className="second">not in the record</span>}
        </p>
      </td>
      <td className="costs" title={d.reckoned}>
        {r.people + r.once >= 0.8 / 52 ? misled(r) : 'Hardly anybody.'}
        {d.says !== 'Missing there.' && <span className="second">{d.says}</span>}
        <span className="second">{sinceWords(r, zone)}</span>
      </td>
      <td>
        <Way row={r} span={span} />
      </td>
      <td className="after">
        <After row={r} />
      </td>
    </>
  )
}

function sinceWords(r: Row, zone: string): string {
  const d = r.first
  if (!d.since) return 'as it was given'
  if (!d.since_after) return `since before ${day(new Date(d.since), zone)}`
  return `since ${day(new Date(d.since_after), zone)} or ${day(new Date(d.since), zone)}`
}

// After says what mending a row sets off, where, and what follows by itself.
function After({ row }: { row: Row }) {
  const programs = sendable(row)
  const hands = byHand(row)
  const follow = following(row)
  const fed = hands.filter((p) => p.worked === 'fed only')
  const last = follow.map((p) => p.follows!).sort()[follow.length - 1]
  return (
    <>
      {programs.length > 0 && <span>One edit on {programs.map((p) => p.directory_name).join(', ')}. </span>}
      {hands
        .filter((p) => p.worked !== 'fed only')
        .map((p) => (
          <span key={p.directory}>
            <Link to={handPath(p.worked, p.location, p.directory)}>{handWords(p.worked, p.directory_name)}</Link>.{' '}
          </span>
        ))}
      {notOurs(row).map((p) => (
        <span key={p.directory}>
          {p.directory_name} is not ours: goes with <Link to={listingPath(p.location, p.directory)}>claiming it, or asking for access</Link>
          .{' '}
        </span>
      ))}
      {fed.length > 0 && <span>{fed.map((p) => p.directory_name).join(', ')} cannot be edited. </span>}
      {follow.length > 0 && (
        <span>
          {follow.length === 1 ? follow[0]!.directory_name + ' follows' : `${follow.length} follow`} by {dateWords(last!)}.{' '}
        </span>
      )}
      {row.pages.some((p) => p.overwritten) && (
        <span className="warn">
          ! Alone, {follow[0]!.directory_name} is overwritten by {dateWords(follow[0]!.overwritten!)}.
        </span>
      )}
    </>
  )
}

function handPath(worked: string, location: string, directory: string): string {
  if (worked === 'file') return '/directories'
  return listingPath(location, directory) + (worked === 'suggestions' ? '' : '?look=given')
}

function handWords(worked: string, name: string): string {
  switch (worked) {
    case 'file':
      return `In ${name}’s next file`
    case 'suggestions':
      return `Suggest it to ${name}`
    case 'by hand, written request':
      return `One letter to ${name}`
  }
  return `By hand on ${name}`
}
