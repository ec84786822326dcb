import type { Schemas } from '../../api/client'

export type Sitting = Schemas['Sitting']
export type Week = Schemas['Week']

export const DAY = 1440
export const STEP = 15
export const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

// snap rounds a minute to the quarter of an hour.
export const snap = (minute: number) => Math.round(minute / STEP) * STEP

const clock = (m: number) => {
  const t = m > DAY ? m - DAY : m
  const minutes = String(t % 60).padStart(2, '0')
  return minutes === '00' ? `${Math.floor(t / 60)}` : `${Math.floor(t / 60)}:${minutes}`
}

export const sittingWords = (s: Sitting) => `${clock(s.start)}–${clock(s.end)}`

// readSittings reads hours as people type them for one day: “10-16” or
// “9:00–12:00, 13–18”; undefined when they cannot be read.
export function readSittings(text: string): Sitting[] | undefined {
  const out: Sitting[] = []
  for (const part of text.split(',')) {
    const m = /^\s*(\d{1,2})(?::(\d{2}))?\s*[-–]\s*(\d{1,2})(?::(\d{2}))?\s*$/.exec(part)
    if (!m) return undefined
    const start = Number(m[1]) * 60 + Number(m[2] ?? 0)
    let end = Number(m[3]) * 60 + Number(m[4] ?? 0)
    if (end < start) end += DAY
    if (Number(m[2] ?? 0) > 59 || Number(m[4] ?? 0) > 59 || start >= DAY || end <= start || end > 2 * DAY) return undefined
    out.push({ start, end })
  }
  return out
}

export const sittingsWords = (list: Sitting[] | null | undefined) => (list?.length ? list.map(sittingWords).join(', ') : 'closed')

// withSitting replaces the i-th sitting of a day, or adds one where there is none.
export function withSitting(week: Week, day: number, i: number, s: Sitting | undefined): Week {
  return week.map((d, j) => {
    if (j !== day) return d
    const rest = d.filter((_, k) => k !== i)
    return s ? [...rest, s].sort((a, b) => a.start - b.start) : rest
  })
}

// copyDay gives a day's sittings to other days.
export const copyDay = (week: Week, from: number, to: number[]): Week => week.map((d, j) => (to.includes(j) ? [...(week[from] ?? [])] : d))

// bounded keeps a sitting within what a day can hold: at least a step long, and
// ending by 48:00.
export function bounded(start: number, end: number): Sitting {
  const s = Math.max(0, Math.min(DAY - STEP, start))
  return { start: s, end: Math.max(s + STEP, Math.min(2 * DAY, end)) }
}
