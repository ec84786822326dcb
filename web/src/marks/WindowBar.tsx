import type { Schemas } from '../api/client'
import { dateWords, dayTime, useNow, useZone } from '../app/clock'

const DAY = 86_400_000

// Axis is the stretch of time that bars are drawn on, so that those in one list
// can be compared.
export type Axis = { from: number; to: number }

// listAxis shows what has just been and the weeks to come.
export const listAxis = (now: Date): Axis => ({ from: now.getTime() - 10 * DAY, to: now.getTime() + 20 * DAY })

const noon = (date: string) => Date.parse(date + 'T12:00:00Z')

// ownAxis fits one window with a little air around it.
export function ownAxis(w: Schemas['Window'], now: Date): Axis {
  const ends = [noon(w.latest), now.getTime(), w.until ? Date.parse(w.until) : 0]
  return { from: Math.min(Date.parse(w.from), now.getTime()) - DAY, to: Math.max(...ends) + 2 * DAY }
}

// midnights lists the axis's days, for its ticks.
function midnights(axis: Axis): number[] {
  const out: number[] = []
  for (let t = Math.ceil(axis.from / DAY) * DAY; t < axis.to; t += DAY) out.push(t)
  return out
}

const WIDTH = 300

const at = (t: number, axis: Axis) => Math.max(0, Math.min(WIDTH, ((t - axis.from) / (axis.to - axis.from)) * WIDTH))

// WindowBar is our mark of a wait: a start dot, a dotted line to the earliest
// day, a box to the latest, a stroke where all is lost, and the now-pin.
export function WindowBar({ window: w, axis, height = 30 }: { window: Schemas['Window']; axis?: Axis; height?: number }) {
  const now = useNow()
  const zone = useZone()
  const a = axis ?? ownAxis(w, now)
  const start = at(Date.parse(w.from), a)
  const early = at(noon(w.earliest) - DAY / 2, a)
  const late = Math.max(early + 3, at(noon(w.latest) + DAY / 2, a))
  const until = w.until ? Date.parse(w.until) : undefined
  const pressing = w.state === 'late' || (until !== undefined && until - now.getTime() < 4 * DAY)
  const words = [
    `from ${dayTime(new Date(w.from), zone)}`,
    w.earliest === w.latest ? `due ${dateWords(w.latest)}` : `due between ${dateWords(w.earliest)} and ${dateWords(w.latest)}`,
    w.state === 'late' ? 'late' : '',
    until ? `lost after ${dayTime(new Date(until), zone)}` : '',
  ]
    .filter(Boolean)
    .join(', ')
  const pin = at(now.getTime(), a)
  return (
    <svg
      className={`window-bar${pressing ? ' pressing' : ''}`}
      viewBox={`0 0 ${WIDTH} 30`}
      height={height}
      preserveAspectRatio="none"
      role="img"
      aria-label={words}
    >
      <title>{words}</title>
      {midnights(a).map((t) => {
        const monday = new Date(t).getUTCDay() === 1
        return (
          <line
            key={t}
            className={monday ? 'week' : 'tick'}
            x1={at(t, a)}
            x2={at(t, a)}
            y1={monday ? 22 : 24}
            y2={27}
            vectorEffect="non-scaling-stroke"
          />
        )
      })}
      {early > start && <line className="way" x1={start} x2={early} y1={15} y2={15} vectorEffect="non-scaling-stroke" />}
      {Date.parse(w.from) >= a.from && <ellipse className="start" cx={start} cy={15} rx={2.6} ry={3} />}
      <rect className="box" x={early} y={10} width={late - early} height={10} vectorEffect="non-scaling-stroke" />
      {until !== undefined && until < a.to && (
        <line className="until" x1={at(until, a)} x2={at(until, a)} y1={8} y2={22} vectorEffect="non-scaling-stroke" />
      )}
      <line className="now" x1={pin} x2={pin} y1={6} y2={25} vectorEffect="non-scaling-stroke" />
      <path className="pin" d={`M${pin - 3.5} 3h7l-3.5 5z`} />
    </svg>
  )
}

// AxisScale names the Mondays of a list's axis, and now; where it is narrow, one of them.
export function AxisScale({ axis, now, narrow }: { axis: Axis; now: Date; narrow?: boolean }) {
  const share = (t: number) => `${(at(t, axis) / WIDTH) * 100}%`
  const mondays = midnights(axis)
    .filter((t) => new Date(t).getUTCDay() === 1 && (narrow ? t - now.getTime() > 9 * DAY : Math.abs(t - now.getTime()) > 2 * DAY))
    .slice(0, narrow ? 1 : undefined)
  return (
    <svg className="axis" height={13} aria-hidden="true">
      {mondays.map((t) => (
        <text key={t} x={share(t)} y={10} textAnchor="middle">
          {new Date(t).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })}
        </text>
      ))}
      <text x={share(now.getTime())} y={10} textAnchor="middle" style={{ fill: 'var(--ink)' }}>
        now
      </text>
    </svg>
  )
}
