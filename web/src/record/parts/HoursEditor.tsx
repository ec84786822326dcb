import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../../api/client'
import { useNow } from '../../app/clock'
import type { Week } from './week'
import { WeekDrawn } from './WeekDrawn'

export type HoursPlace = { country: string; region: string; zone: string }

// useHours reads hours as text, and says what they come to at the place.
export function useHours(text: string, place: HoursPlace) {
  const [settled, setSettled] = useState(text)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), 120)
    return () => clearTimeout(timer)
  }, [text])
  return useQuery({
    queryKey: ['hours', settled, place],
    queryFn: () => told(api.POST('/api/hours', { body: { text: settled, ...place } })),
    placeholderData: keepPreviousData,
  }).data
}

const closed: Week = [[], [], [], [], [], [], []]

// HoursEditor is the usual week typed and drawn, both ways at once.
export function HoursEditor({
  text,
  place,
  problem,
  onChange,
}: {
  text: string
  place: HoursPlace
  problem?: string
  onChange: (text: string) => void
}) {
  const read = useHours(text, place)
  const [drawn, setDrawn] = useState<{ week: Week; text: string }>()
  const [good, setGood] = useState<Schemas['Hours']>()
  if (read && read.errors.length === 0 && read !== good) setGood(read)
  const week = drawn && drawn.text === text ? drawn.week : (good?.week ?? closed)

  const draw = async (next: Week) => {
    setDrawn({ week: next, text })
    const answer = await told(api.POST('/api/hours', { body: { text: read?.errors.length ? '' : text, week: next, ...place } }))
    setDrawn({ week: answer.week, text: answer.text })
    onChange(answer.text)
  }
  const first = read?.errors[0]
  return (
    <>
      <WeekDrawn week={week} now={useNowIn(read?.zone)} onChange={draw} />
      <div className="as-text px-3">
        <label htmlFor="hours-text">As text</label>
        <Form.Control
          as="textarea"
          rows={1}
          id="hours-text"
          spellCheck={false}
          value={text}
          isInvalid={!!first || !!problem}
          placeholder="Mon-Fri 9-12, 13-18; Sat 9-16; closed on public holidays"
          aria-describedby="hours-says"
          onChange={(e) => onChange(e.target.value.replaceAll('\n', ' '))}
          onBlur={() => read?.said && read.text !== text && onChange(read.text)}
        />
        <div className="under" id="hours-says" aria-live="polite">
          {first ? (
            <>
              <span className="text-danger">
                Column {first.column}: {first.message}.
              </span>{' '}
              <span className="mono second">{pointed(text, first.column)}</span>
            </>
          ) : (
            <span className="second">
              {read?.said && (read.said.sure ? 'Read as ' : 'Read, as a guess, as ')}
              {read?.words || 'No hours said.'}
              {read?.said?.readings.map((r) => ` ${r}.`)}
              {read?.warnings.map((w) => ` Column ${w.column}: ${w.message}.`)}
            </span>
          )}
        </div>
      </div>
    </>
  )
}

// pointed shows where in the text a column is.
function pointed(text: string, column: number): string {
  const chars = [...text]
  return `${chars.slice(Math.max(0, column - 13), column - 1).join('')}▸${chars.slice(column - 1, column + 11).join('')}`
}

// useNowIn is the day of the week and the minute in a zone.
function useNowIn(zone: string | undefined): { day: number; minute: number } | undefined {
  const now = useNow()
  if (!zone) return undefined
  const parts = Object.fromEntries(
    new Intl.DateTimeFormat('en-GB', { timeZone: zone, weekday: 'short', hour: '2-digit', minute: '2-digit', hourCycle: 'h23' })
      .formatToParts(now)
      .map((p) => [p.type, p.value]),
  )
  return {
    day: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'].indexOf(parts.weekday ?? ''),
    minute: Number(parts.hour) * 60 + Number(parts.minute),
  }
}
