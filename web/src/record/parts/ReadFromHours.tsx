import { clockTime, day, useNow, useZone } from '../../app/clock'
import { Grouped } from './Grouped'
import { useHours, type HoursPlace } from './HoursEditor'

// ReadFromHours says what the hours come to: open now, how long a week, when a
// call with a code can come. Times are in the location's own zone.
export function ReadFromHours({ text, place }: { text: string; place: HoursPlace }) {
  const read = useHours(text, place)
  const now = useNow()
  const mine = useZone()
  if (!read || read.errors.length > 0 || !read.text) return null
  const zone = read.zone ?? mine
  const named = zone === mine ? '' : ` (${zone})`
  const when = (iso: string) => {
    const t = new Date(iso)
    return (day(t, zone) === day(now, zone) ? '' : day(t, zone) + ' ') + clockTime(t, zone)
  }
  const hours = Math.floor(read.minutes_per_week / 60)
  const minutes = read.minutes_per_week % 60
  return (
    <section className="sheet">
      <h2>Read from these hours</h2>
      <ul className="plain-list">
        <li>
          <b>{read.open_now ? 'Open now' : 'Shut now'}</b>
          <span>
            {read.next_change ? `until ${when(read.next_change)}${named}` : read.open_now ? 'and never shuts' : 'and never opens'}
          </span>
        </li>
        <li>
          <b>
            {hours} hours{minutes ? ` ${minutes} min` : ''} a week
          </b>
          <span>in the usual week</span>
        </li>
        <li>
          <b>Calls with codes can come</b>
          <span>
            {read.call_from && read.call_to
              ? `${when(read.call_from)}–${when(read.call_to)}${named}`
              : 'never: it is not open for ten minutes'}
          </span>
        </li>
      </ul>
    </section>
  )
}

const means = { '=': 'same', '≠': 'different', '∅': 'missing' }

// HoursTaken says what each directory shows of the hours.
export function HoursTaken({ text, place }: { text: string; place: HoursPlace }) {
  const fits = useHours(text, place)?.fits ?? []
  if (fits.length === 0) return null
  const list = fits.map((f) => ({ ...f, means: means[f.mark], says: f.says || 'Takes them as they are.' }))
  return <Grouped title="What directories can do with these hours" list={list} />
}
