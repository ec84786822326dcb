import { dateWords, day, useNow, useZone } from '../app/clock'
import type { Difference, Row } from './rows'

const DAY = 86_400_000
const LINE = 15
const FROM = 84 // where the axis begins
const TO = 236

export type Span = { from: number; to: number }

// spanOf is the stretch of time that all ways are drawn on: eight weeks back at most, five to come.
export function spanOf(rows: Row[], now: Date): Span {
  const first = Math.min(
    now.getTime() - 14 * DAY,
    ...rows.flatMap((r) => r.pages.map((p) => (p.since ? Date.parse(p.since) : now.getTime()))),
  )
  return { from: Math.max(first - 5 * DAY, now.getTime() - 56 * DAY), to: now.getTime() + 35 * DAY }
}

const at = (t: number, s: Span) => FROM + Math.max(0, Math.min(1, (t - s.from) / (s.to - s.from))) * (TO - FROM)
const noon = (date: string) => Date.parse(date + 'T12:00:00Z')

// Way is our mark of how a wrong value went: the source's line on top, a slanted node where it was first seen, thin drops
// to the pages that have it from there, and right of now the box in which each is right again.
export function Way({ row, span }: { row: Row; span: Span }) {
  const now = useNow(60_000).getTime()
  const zone = useZone()
  const shown = row.pages.slice(0, 6)
  const height = shown.length * LINE + 4
  const words = row.pages.map((p) => saidOf(p, zone)).join(' ')
  return (
    <svg className="way" viewBox={`0 0 240 ${height}`} width={240} height={height} role="img" aria-label={words}>
      <title>{words}</title>
      <line className="now" x1={at(now, span)} x2={at(now, span)} y1={0} y2={height} />
      {shown.map((p, i) => {
        const parent = shown.findIndex((o) => o.directory === p.parent)
        const x = at(p.since ? Date.parse(p.since) : now, span)
        return parent >= 0 ? <line key={p.directory} className="drop" x1={x} x2={x} y1={parent * LINE + 9} y2={i * LINE + 9} /> : null
      })}
      {shown.map((p, i) => (
        <Line key={p.directory} page={p} y={i * LINE + 9} span={span} now={now} />
      ))}
    </svg>
  )
}

function Line({ page: p, y, span, now }: { page: Difference; y: number; span: Span; now: number }) {
  const since = p.since ? Date.parse(p.since) : now
  const early = p.since_after === undefined && p.since !== undefined // it was so when it was first looked at
  const x = early ? FROM : at(since, span)
  const pin = at(now, span)
  const right = p.follows ? { from: now + DAY, to: noon(p.follows) } : p.right && { from: noon(p.right.earliest), to: noon(p.right.latest) }
  const indent = p.parent === '' ? 0 : 8
  return (
    <g>
      <text className={indent ? 'copy' : 'source'} x={indent} y={y + 4}>
        {short(p.directory_name, indent ? 12 : 13)}
      </text>
      {p.since && <line className="wrong" x1={x} x2={pin} y1={y} y2={y} />}
      {early && <path className="before" d={`M${x + 5} ${y - 4}L${x} ${y}L${x + 5} ${y + 4}`} />}
      {p.since && !early && <path className={indent ? 'node' : 'node first'} d={`M${x - 3} ${y + 5}h4l2-10h-4z`} />}
      {p.cannot === '' && right && (
        <>
          <line className="until" x1={pin} x2={at(right.from, span)} y1={y} y2={y} />
          <rect
            className="right"
            x={at(right.from, span)}
            y={y - 4}
            width={Math.max(4, at(right.to, span) - at(right.from, span))}
            height={8}
          />
        </>
      )}
    </g>
  )
}

const short = (name: string, most: number) => (name.length > most ? name.slice(0, most - 1) + '…' : name)

function saidOf(p: Difference, zone: string): string {
  const since = p.since
    ? p.since_after
      ? `showed it first between ${day(new Date(p.since_after), zone)} and ${day(new Date(p.since), zone)}`
      : `showed it when it was first looked at, ${day(new Date(p.since), zone)}`
    : 'was given it'
  const right = p.follows
    ? `corrects itself by ${dateWords(p.follows)} once its source is right`
    : p.right
      ? `right by ${dateWords(p.right.latest)} when sent now`
      : ''
  return `${p.directory_name} ${since}${p.parent_name ? `, from ${p.parent_name}` : ''}${right ? `; ${right}` : ''}.`
}

// Scale names the months and now over all ways.
export function Scale({ span }: { span: Span }) {
  const now = useNow(60_000).getTime()
  const months: number[] = []
  const first = new Date(span.from)
  for (let m = 1; m < 6; m++) {
    const t = Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + m, 1)
    if (t < span.to && Math.abs(t - now) > 12 * DAY) months.push(t)
  }
  return (
    <svg viewBox="0 0 240 12" width={240} height={12} aria-hidden="true" className="way-scale">
      {months.map((t) => (
        <text key={t} x={at(t, span)} y={10} textAnchor="middle">
          {new Date(t).toLocaleDateString('en-GB', { month: 'short', timeZone: 'UTC' })}
        </text>
      ))}
      <text className="now" x={at(now, span)} y={10} textAnchor="middle">
        now
      </text>
    </svg>
  )
}
