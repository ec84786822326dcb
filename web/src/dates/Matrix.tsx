import { useState } from 'react'
import type { Schemas } from '../api/client'
import { dateWords, spanWords, useNow } from '../app/clock'
import { counted } from '../app/View'
import { people } from '../differences/words'
import { Decided } from './Decided'
import { keyOf, undecided, type DateRow, type Decide } from './decide'
import { Shows } from './Shows'

type On = Schemas['DirectoryOnDate']

// Matrix lists dates over the directories that can take one: a cell says only what does not agree.
export function Matrix({
  dates,
  picked,
  decide,
  onChoose,
  onSend,
  sending,
}: {
  dates: DateRow[]
  picked: DateRow[]
  decide: Decide
  onChoose: (keys: ReadonlySet<string>) => void
  onSend: (date: DateRow, directories: string[]) => void
  sending: boolean
}) {
  const now = useNow(60_000)
  const [open, setOpen] = useState<string>()
  const left = dates.filter((d) => undecided(d).length > 0)
  const chosen = new Set(picked.map(keyOf))
  const columns = columnsOf(dates)
  return (
    <table className="grid dates matrix">
      <thead>
        <tr>
          <th className="pick">
            <input
              type="checkbox"
              className="form-check-input"
              aria-label="Choose every undecided date"
              checked={picked.length > 0 && picked.length === left.length}
              onChange={(e) => onChoose(new Set(e.target.checked ? left.map(keyOf) : []))}
            />
          </th>
          <th scope="col">Date</th>
          <th scope="col">The record</th>
          <th scope="col">Undecided</th>
          {columns.map((c) => (
            <th key={c.directory} scope="col" className="of">
              {c.directory_name}
            </th>
          ))}
          <th scope="col" className="of">
            Others
          </th>
          <th scope="col">Last day to send</th>
          <th scope="col" className="num">
            People
          </th>
        </tr>
      </thead>
      {dates.map((d) => {
        const key = keyOf(d)
        const unsaid = undecided(d).length
        return (
          <tbody key={key} className={open === key ? 'unfolded' : ''}>
            <tr className={unsaid > 0 ? '' : 'settled'}>
              <td className="pick">
                {unsaid > 0 && (
                  <input
                    type="checkbox"
                    className="form-check-input"
                    aria-label={`Choose ${spanWords(d, now)}`}
                    checked={chosen.has(key)}
                    onChange={(e) => onChoose(new Set(e.target.checked ? [...chosen, key] : [...chosen].filter((k) => k !== key)))}
                  />
                )}
              </td>
              <th scope="row">
                <button
                  type="button"
                  className="unfold"
                  data-row
                  aria-expanded={open === key}
                  onClick={() => setOpen(open === key ? undefined : key)}
                >
                  {spanWords(d, now)}
                  {d.name && <span className="second fw-normal"> {d.name}</span>}
                </button>
              </th>
              <td>{summary(d)}</td>
              <td>
                {unsaid === 0 ? (
                  <span className="second">none of {d.places.length}</span>
                ) : (
                  <span>
                    <b>{unsaid}</b> of {d.places.length}
                  </span>
                )}
              </td>
              {columns.map((c) => (
                <Cell key={c.directory} on={d.directories.find((o) => o.directory === c.directory)} />
              ))}
              <td className="of second">{others(d)}</td>
              <td>{lastDay(d, now)}</td>
              <td className="num" title={d.people >= 0.8 ? `${people(d.people)} read other hours on that day` : undefined}>
                {d.people >= 0.8 ? Math.round(d.people) : ''}
              </td>
            </tr>
            {open === key && (
              <tr className="beneath">
                <td colSpan={columns.length + 7}>
                  <div className="date-open">
                    <Decided date={d} decide={decide} />
                    <Shows key={key} date={d} sending={sending} onSend={(list) => onSend(d, list)} />
                  </div>
                </td>
              </tr>
            )}
          </tbody>
        )
      })}
    </table>
  )
}

// columnsOf are the directories that can take a date, the weightiest first.
function columnsOf(dates: DateRow[]): On[] {
  const seen = new Map<string, On>()
  for (const d of dates) for (const o of d.directories) if (!o.cannot && !seen.has(o.directory)) seen.set(o.directory, o)
  return [...seen.values()].sort((a, b) => b.weight - a.weight).slice(0, 6)
}

function Cell({ on: o }: { on: On | undefined }) {
  if (!o) return <td className="of" />
  const words = `${o.directory_name}: ${counted(o.agree, 'page agrees', 'pages agree')}, ${o.differ} ${o.differ === 1 ? 'does' : 'do'} not, ${o.sent} on the way`
  return (
    <td className={'of' + (o.differ > 0 && !o.late ? ' off' : '')} title={words} aria-label={words}>
      {o.differ > 0 && (o.late ? <s>{o.differ} ≠</s> : <b>{o.differ} ≠</b>)} {o.sent > 0 && <span className="sent">{o.sent} →</span>}
      {o.differ === 0 && o.sent === 0 && o.agree > 0 && '='}
    </td>
  )
}

function others(d: DateRow): string {
  const pages = d.directories.filter((o) => o.cannot).reduce((n, o) => n + o.pages, 0)
  return pages > 0 ? `· ${pages}` : ''
}

function lastDay(d: DateRow, now: Date) {
  const open = d.directories.filter((o) => o.differ > 0 && o.last_day)
  if (open.length === 0) return ''
  const inTime = open
    .filter((o) => !o.late)
    .map((o) => o.last_day!)
    .sort()[0]
  if (!inTime) return <span className="second">too late to be sure</span>
  if (inTime === now.toISOString().slice(0, 10)) return <span className="today">today</span>
  return dateWords(inTime)
}

// summary says what holds where something is said: “closed ×4, 10–16 ×2”.
function summary(d: DateRow): string {
  const counts = new Map<string, number>()
  for (const p of d.places) if (p.decided) counts.set(p.words, (counts.get(p.words) ?? 0) + 1)
  return [...counts].map(([words, n]) => (n > 1 ? `${words} ×${n}` : words)).join('; ')
}
