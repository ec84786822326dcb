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
                <Dropdown.Item
                  as="button"
                  type="button"
                  onClick={() => onChange(withSitting(week, day, sittings.length, { start: 540, end: 1020 }))}
                >
                  Add 9–17
                </Dropdown.Item>
                <Dropdown.Item
                  as="button"
                  type="button"
                  onClick={() =>
                    onChange(
                      copyDay(
                        week,
                        day,
                        [0, 1, 2, 3, 4].filter((d) => d !== day),
                      ),
                    )
                  }
                >
                  Copy to Mon–Fri
                </Dropdown.Item>
                <Dropdown.Item
                  as="button"
                  type="button"
                  onClick={() =>
                    onChange(
                      copyDay(
                        week,
                        day,
                        [0, 1, 2, 3, 4, 5, 6].filter((d) => d > day),
                      ),
                    )
                  }
                >
                  Copy to the days below
                </Dropdown.Item>
                <Dropdown.Item as="button" type="button" onClick={() => onChange(copyDay(week, day, [0, 1, 2, 3, 4, 5, 6]))}>
                  Copy to every day
                </Dropdown.Item>
                <Dropdown.Item
                  as="button"
                  type="button"
                  onClick={() => onChange(week.map((d, j) => (j === day ? [{ start: 0, end: DAY }] : d)))}
                >
                  Round the clock
                </Dropdown.Item>
                <Dropdown.Item as="button" type="button" onClick={() => onChange(week.map((d, j) => (j === day ? [] : d)))}>
                  Closed
                </Dropdown.Item>
              </Dropdown.Menu>
            </Dropdown>
          </div>
        )
      })}
    </div>
  )
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
