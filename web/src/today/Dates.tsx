import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { spanWords, useNow } from '../app/clock'
import { pathOf, type Scope } from '../app/place'
import { counted } from '../app/View'

const DAY = 86_400_000

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
      {dates.map((d, i) => {
        const when = spanWords(d, now)
        return (
          <li className={'task' + (i === 0 ? ' first' : '')} key={d.from + d.to}>
            <span aria-hidden="true" />
            <div className="what">
              <Link to={pathOf('special-dates', scope)} data-row>
                Decide {d.name || when} for {counted(d.places.filter((p) => !p.decided).length, 'location')}
              </Link>
              <p>{d.name && `${when}. `}Directories show the usual hours until something else is said.</p>
            </div>
            <div className="bar" />
            <div className="do">
              <Link className={'btn btn-' + (i === 0 ? 'primary' : 'outline-secondary')} to={pathOf('special-dates', scope)}>
                Decide
              </Link>
            </div>
          </li>
        )
      })}
    </>
  )
}
