import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { dateWords, useNow } from '../app/clock'
import { pathOf, usePlace } from '../app/place'
import { counted } from '../app/View'
import { people } from '../differences/words'
import { WindowBar } from '../marks/WindowBar'
import type { DateRow } from './decide'

type On = Schemas['DirectoryOnDate']

// Shows is where a date shows: per directory the pages that agree and those that do not, until when a correction can be sent,
// and what it spares.
export function Shows({ date: d, sending, onSend }: { date: DateRow; sending: boolean; onSend: (directories: string[]) => void }) {
  const { scope } = usePlace()
  const takes = d.directories.filter((o) => !o.cannot)
  const can = d.directories.filter((o) => o.cannot)
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const good = takes.filter((o) => o.differ > 0 && o.worked === 'connected' && !left.has(o.directory))
  const pages = good.reduce((n, o) => n + o.differ, 0)
  const spared = good.filter((o) => !o.late).reduce((n, o) => n + o.people, 0)
  const toggle = (id: string) => {
    const next = new Set(left)
    if (!next.delete(id)) next.add(id)
    setLeft(next)
  }
  if (d.directories.length === 0) {
    return (
      <section aria-label="Where it shows">
        <h3>Where it shows</h3>
        <p className="second">None of these places has a public page yet that was looked at.</p>
      </section>
    )
  }
  return (
    <section aria-label="Where it shows">
      <h3>Where it shows</h3>
      <table className="grid">
        <thead>
          <tr>
            <th />
            <th scope="col">Directory</th>
            <th scope="col">=</th>
            <th scope="col">≠</th>
            <th />
            <th scope="col">Send by</th>
            <th scope="col" className="num">
              People
            </th>
          </tr>
        </thead>
        <tbody>
          {takes.map((o) => (
            <Line key={o.directory} on={o} date={d} chosen={!left.has(o.directory)} onToggle={() => toggle(o.directory)} />
          ))}
        </tbody>
      </table>
      {can.length > 0 && (
        <p className="second">
          · {counted(can.length, 'directory cannot', 'directories cannot')} take a date: {can.map((o) => o.directory_name).join(', ')}.
        </p>
      )}
      <p className="date-send">
        <span>
          {d.people >= 0.8 ? (
            <>
              Left alone, <b>{people(d.people)}</b> read other hours that day; sent now, {people(Math.max(0, d.people - spared))}.
            </>
          ) : (
            'Every page that can take it agrees, where the record says something.'
          )}
          {takes.some((o) => o.differ > 0 && o.worked !== 'connected') && (
            <>
              {' '}
              What is worked by hand stands under <Link to={pathOf('differences', scope) + '?fact=special_dates'}>Differences</Link>.
            </>
          )}
        </span>
        {pages > 0 && (
          <Button disabled={sending} onClick={() => onSend(good.map((o) => o.directory))}>
            Send to {counted(pages, 'page')}
          </Button>
        )}
      </p>
    </section>
  )
}

function Line({ on: o, date, chosen, onToggle }: { on: On; date: DateRow; chosen: boolean; onToggle: () => void }) {
  const now = useNow(60_000)
  const axis = {
    from: now.getTime() - 86_400_000,
    to: Math.max(Date.parse(date.to + 'T12:00:00Z') + 2 * 86_400_000, now.getTime() + 6 * 86_400_000),
  }
  return (
    <tr>
      <td>
        {o.differ > 0 && o.worked === 'connected' && (
          <input
            type="checkbox"
            className="form-check-input"
            aria-label={`Send to ${o.directory_name}`}
            checked={chosen}
            onChange={onToggle}
          />
        )}
      </td>
      <th scope="row">
        {o.directory_name} <span className="second">{o.worked}</span>
      </th>
      <td>{o.agree || ''}</td>
      <td>
        {o.differ > 0 && <b>{o.differ}</b>}
        {o.sent > 0 && <span className="sent"> {o.sent} →</span>}
      </td>
      <td className="bar">{o.differ > 0 && o.window && <WindowBar window={o.window} axis={axis} height={22} />}</td>
      <td>{o.differ > 0 && o.last_day && (o.late ? <span className="second">may still show</span> : dateWords(o.last_day))}</td>
      <td className="num">{o.people >= 0.8 ? Math.round(o.people) : ''}</td>
    </tr>
  )
}
