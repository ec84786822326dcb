import { useEffect, useState } from 'react'
import { useSession } from '../api/queries'

const made = new Map<string, Intl.DateTimeFormat>()

// formatOf is a way to write times. Making one costs a hundred times what writing with it does, and a
// list writes hundreds.
function formatOf(language: string, zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = [language, zone, ...Object.entries(options).flat()].join()
  const format = made.get(key) ?? new Intl.DateTimeFormat(language, { timeZone: zone, ...options })
  made.set(key, format)
  return format
}

const parts = (zone: string, options: Intl.DateTimeFormatOptions) => formatOf('en-GB', zone, options)

// Times are written day before month, in the person's own zone unless another
// is named.
export const clockTime = (t: Date, zone: string) => parts(zone, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }).format(t)

export function day(t: Date, zone: string): string {
  const p = Object.fromEntries(
    formatOf('en-US', zone, { weekday: 'short', day: 'numeric', month: 'short' })
      .formatToParts(t)
      .map((x) => [x.type, x.value]),
  )
  return `${p.weekday} ${p.day} ${p.month}`
}

// longDate writes a date with its year: 24 Nov 2026.
export const longDate = (t: Date, zone: string) => parts(zone, { day: 'numeric', month: 'short', year: 'numeric' }).format(t)

export const dayTime = (t: Date, zone: string) => `${day(t, zone)} ${clockTime(t, zone)}`

// dateWords writes a date without a time: 2026-12-03 as "Thu 3 Dec".
export const dateWords = (date: string) => day(new Date(date + 'T12:00:00Z'), 'UTC')

// spanWords writes dates, with the year where it is not this one: “Thu 24 Dec –
// Sat 2 Jan 2027”.
export function spanWords(span: { from: string; to: string }, now: Date): string {
  const year = span.to.slice(0, 4) === String(now.getUTCFullYear()) ? '' : ' ' + span.to.slice(0, 4)
  return (span.from === span.to ? dateWords(span.from) : `${dateWords(span.from)} – ${dateWords(span.to)}`) + year
}

// useNow is the job's time, which a demo moves and the server tells; it runs on here.
export function useNow(everyMs = 10_000): Date {
  const { data, dataUpdatedAt } = useSession()
  const [real, setReal] = useState(() => Date.now())
  useEffect(() => {
    const timer = setInterval(() => setReal(Date.now()), everyMs)
    return () => clearInterval(timer)
  }, [everyMs])
  if (!data) return new Date(real)
  return new Date(Date.parse(data.now) + Math.max(0, real - dataUpdatedAt))
}

export function useZone(): string {
  return useSession().data?.zone ?? 'UTC'
}

// useTimes writes moments of a place: in its own zone, which is named where it
// is not the reader's.
export function useTimes(zone: string): (iso: string) => string {
  const mine = useZone()
  return (iso) => {
    const t = new Date(iso)
    const text = dayTime(t, zone)
    if (dayTime(t, mine) === text) return text
    const name = parts(zone, { timeZoneName: 'short' })
      .formatToParts(t)
      .find((p) => p.type === 'timeZoneName')?.value
    return `${text} ${name ?? zone}`
  }
}

// ago says how long before now a moment was.
export function ago(t: Date, now: Date): string {
  const minutes = Math.max(0, Math.round((now.getTime() - t.getTime()) / 60_000))
  if (minutes < 1) return 'just now'
  if (minutes < 60) return `${minutes} min ago`
  const hours = Math.round(minutes / 60)
  if (hours < 36) return hours === 1 ? '1 hour ago' : `${hours} hours ago`
  return `${Math.round(hours / 24)} days ago`
}

// lasting is how long something lasts, from seconds.
export function lasting(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`
  if (seconds < 5_400) return `${Math.round(seconds / 60)} min`
  if (seconds < 36 * 3_600) return `${Math.round(seconds / 3_600)} h`
  return `${Math.round(seconds / 86_400)} days`
}
