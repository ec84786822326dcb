import { useRef, useState } from 'react'
import { Dropdown } from 'react-bootstrap'
import { bounded, copyDay, DAY, days, sittingWords, snap, STEP, withSitting, type Sitting, type Week } from './week'

type Drag = { day: number; index: number; part: 'start' | 'end' | 'new'; from: number; sitting: Sitting }

// WeekDrawn is the usual week to draw on: drag on a day to draw a sitting, drag
// its ends, or use the keys.
export function WeekDrawn({ week, now, onChange }: { week: Week; now?: { day: number; minute: number }; onChange: (w: Week) => void }) {
  const [drag, setDrag] = useState<Drag>()
  const tracks = useRef<(HTMLDivElement | null)[]>([])

  const minuteAt = (day: number, x: number) => {
    const box = tracks.current[day]!.getBoundingClientRect()
    return Math.max(0, Math.min(DAY, snap(((x - box.left) / box.width) * DAY)))
  }
  const begin = (e: React.PointerEvent, day: number, part: Drag['part'], index: number, sitting: Sitting) => {
    if (e.button !== 0) return
    e.preventDefault()
    e.stopPropagation()
    tracks.current[day]!.setPointerCapture(e.pointerId)
    setDrag({ day, index, part, from: minuteAt(day, e.clientX), sitting })
  }
  const move = (e: React.PointerEvent) => {
    if (!drag) return
    const m = minuteAt(drag.day, e.clientX)
    const s = drag.sitting
    const next =
      drag.part === 'new'
        ? { start: Math.min(drag.from, m), end: Math.max(drag.from, m) }
        : drag.part === 'start'
          ? bounded(Math.min(m, s.end - STEP), s.end)
          : bounded(s.start, Math.max(m, s.start + STEP))
    setDrag({ ...drag, sitting: next })
  }
  const end = () => {
    if (drag && drag.sitting.end - drag.sitting.start >= STEP) onChange(withSitting(week, drag.day, drag.index, drag.sitting))
    setDrag(undefined)
  }
  const press = (e: React.KeyboardEvent, day: number, i: number, s: Sitting) => {
    const by = e.key === 'ArrowRight' ? STEP : e.key === 'ArrowLeft' ? -STEP : 0
    if (by) {
      e.preventDefault()
      onChange(withSitting(week, day, i, e.shiftKey ? bounded(Math.min(s.start + by, s.end - STEP), s.end) : bounded(s.start, s.end + by)))
    }
    if (e.key === 'Delete' || e.key === 'Backspace') {
      e.preventDefault()
      onChange(withSitting(week, day, i, undefined))
    }
  }

  return (
    <div className="week" role="group" aria-label="Usual week">
      <div className="scale" style={{ marginRight: 26 }} aria-hidden="true">
        {[0, 3, 6, 9, 12, 15, 18, 21, 24].map((h) => (
          <span key={h}>{h}</span>
        ))}
      </div>
      {days.map((name, day) => {
        const sittings = week[day] ?? []
        const before = week[(day + 6) % 7] ?? []
        return (
          <div className="day" key={name} role="group" aria-label={name}>
            <span>{name}</span>
            <div
              className="track"
              ref={(el) => {
                tracks.current[day] = el
              }}
              onPointerDown={(e) => begin(e, day, 'new', sittings.length, { start: 0, end: 0 })}
              onPointerMove={move}
              onPointerUp={end}
              onPointerCancel={() => setDrag(undefined)}
            >
              {sittings.length === 0 && drag?.day !== day && <span className="closed">closed</span>}
              {before
                .filter((s) => s.end > DAY)
                .map((s) => (
                  <span
                    key={'spill' + s.start}
                    className="sitting spill"
                    style={{ left: 0, width: `${((s.end - DAY) / DAY) * 100}%` }}
                    title={`${sittingWords(s)} from the day before`}
                  />
                ))}
              {sittings.map((s, i) => (
                <Block
                  key={i}
                  sitting={drag?.day === day && drag.index === i ? drag.sitting : s}
                  label={`${name} ${sittingWords(s)}`}
                  onStart={(e) => begin(e, day, 'start', i, s)}
                  onEnd={(e) => begin(e, day, 'end', i, s)}
                  onKeyDown={(e) => press(e, day, i, s)}
                />
              ))}
              {drag?.day === day && drag.part === 'new' && <Block sitting={drag.sitting} label="new" drawing />}
              {now?.day === day && <span className="now" style={{ left: `${(now.minute / DAY) * 100}%` }} title="now" />}
            </div>
            <Dropdown align="end">
              <Dropdown.Toggle variant="link" aria-label={`${name}: copy, clear`}>
                ⋯
              </Dropdown.Toggle>
              <Dropdown.Menu>
                {dayMenu(week, day).map(([words, next]) => (
                  <Dropdown.Item key={words} as="button" type="button" onClick={() => onChange(next)}>
                    {words}
                  </Dropdown.Item>
                ))}
              </Dropdown.Menu>
            </Dropdown>
          </div>
        )
      })}
    </div>
  )
}

// dayMenu names what can be done with a day, and the week that each leads to.
function dayMenu(week: Week, day: number): [string, Week][] {
  const all = [0, 1, 2, 3, 4, 5, 6]
  const only = (sittings: Sitting[]) => week.map((d, j) => (j === day ? sittings : d))
  return [
    ['Add 9–17', withSitting(week, day, week[day]?.length ?? 0, { start: 540, end: 1020 })],
    ['Copy to Mon–Fri', copyDay(week, day, all.slice(0, 5))],
    ['Copy to the days below', copyDay(week, day, all.slice(day + 1))],
    ['Copy to every day', copyDay(week, day, all)],
    ['Round the clock', only([{ start: 0, end: DAY }])],
    ['Closed', only([])],
  ]
}

function Block({
  sitting: s,
  label,
  drawing,
  onStart,
  onEnd,
  onKeyDown,
}: {
  sitting: Sitting
  label: string
  drawing?: boolean
  onStart?: (e: React.PointerEvent) => void
  onEnd?: (e: React.PointerEvent) => void
  onKeyDown?: (e: React.KeyboardEvent) => void
}) {
  return (
    <button
      type="button"
      className={'sitting' + (drawing ? ' drawing' : '')}
      aria-label={label}
      style={{ left: `${(s.start / DAY) * 100}%`, width: `${((Math.min(s.end, DAY) - s.start) / DAY) * 100}%` }}
      onPointerDown={(e) => e.stopPropagation()}
      onKeyDown={onKeyDown}
    >
      {onStart && <i className="start" onPointerDown={onStart} />}
      {sittingWords(s)}
      {onEnd && <i onPointerDown={onEnd} />}
    </button>
  )
}
