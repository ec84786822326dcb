import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { spanWords, useNow } from '../app/clock'
import { pathOf, type Scope } from '../app/place'
import { counted } from '../app/View'

const DAY = 86_400_000

// minutesOfDates are what it takes to decide dates, client by client.
export const minutesOfDates = (dates: Schemas['SpecialDate'][]) =>
  dates.reduce((n, d) => n + 1.5 * new Set(d.places.filter((p) => !p.decided).map((p) => p.client_name)).size, 0)

// useDueDates are the special dates of the next two weeks that somebody has to decide.
export function useDueDates(dates: Schemas['SpecialDate'][] | undefined): Schemas['SpecialDate'][] {
  const soon = new Date(useNow().getTime() + 14 * DAY).toISOString().slice(0, 10)
  return dates?.filter((d) => d.from <= soon && d.places.some((p) => !p.decided)) ?? []
}

// DueDates stand on top of what only the specialist can move: whoever decides late sends
// people to a locked door.
export function DueDates({ dates, scope }: { dates: Schemas['SpecialDate'][]; scope: Scope }) {
  const now = useNow()
  return (
    <>
      {dates.map((d) => {
        const when = spanWords(d, now)
        const open = d.places.filter((p) => !p.decided)
        const clients = [...new Set(open.map((p) => p.client_name))]
        return (
          <li key={d.from + d.to}>
            <span />
            <span className="times">×{open.length}</span>
            <Link className="what" to={pathOf('special-dates', scope)} data-row>
              Decide {d.name || when} for {counted(open.length, 'location')}
            </Link>
            <span className="whom">
              <span>{clients[0]}</span>
              <span className="second">{clients.length > 1 && ` and ${clients.length - 1} more`}</span>
            </span>
            <span className="lost" title="Directories show the usual hours until something else is said">
              <span className="soon">{when}.</span> Until then they show the usual hours.
            </span>
            <div className="bar" />
            <span className="min">{Math.ceil(minutesOfDates([d]))}</span>
          </li>
        )
      })}
    </>
  )
}
