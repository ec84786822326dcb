import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, told } from '../api/client'
import { clockTime, dayTime, useZone } from '../app/clock'
import { listingPath, pathOf, type Scope } from '../app/place'
import { Do, useVerb } from '../kit/verb'

// Rest is what is put off in a scope, and what was done in it today.
export function Rest({ scope }: { scope: Scope }) {
  const rest = useQuery({
    queryKey: ['today-rest', scope.client, scope.location],
    queryFn: () => told(api.GET('/api/today/rest', { params: { query: { client: scope.client, location: scope.location } } })),
  })
  const zone = useZone()
  const back = useVerb({
    does: (s: { location: string; directory: string }) =>
      told(
        api.DELETE('/api/listings/{location}/{directory}/snooze', { params: { path: { location: s.location, directory: s.directory } } }),
      ),
    changes: ['today', 'today-rest'],
    tells: true,
  })
  if (!rest.data) return null
  const { snoozed, done } = rest.data
  return (
    <>
      {snoozed.length > 0 && (
        <section>
          <div className="group-head">
            <h2>Put off</h2>
            <span>{snoozed.length}</span>
          </div>
          <ul className="rows put-off">
            {snoozed.map((s) => (
              <li key={s.location + s.directory}>
                <div>
                  <Link to={listingPath(s.location, s.directory)} data-row>
                    {s.label} on {s.directory_name}
                  </Link>{' '}
                  <span className="second">
                    until {dayTime(new Date(s.until), zone)}, by {s.by}: {s.reason}
                  </span>
                </div>
                <Do verb={back} of={s} variant="link" className="p-0 text-nowrap">
                  Take up
                </Do>
              </li>
            ))}
          </ul>
        </section>
      )}
      {done.length > 0 && (
        <details className="done-today">
          <summary>Done today: {done.length}</summary>
          <ol className="history">
            {done.map((l) => (
              <li key={l.id}>
                <time dateTime={l.at}>{clockTime(new Date(l.at), zone)}</time>
                <span>
                  {l.location && (
                    <Link to={l.directory ? listingPath(l.location, l.directory) : pathOf('record', { location: l.location })}>
                      {l.label}
                      {l.directory_name && ` on ${l.directory_name}`}
                    </Link>
                  )}{' '}
                  {l.says}
                </span>
                <span className="who">{l.actor}</span>
              </li>
            ))}
          </ol>
        </details>
      )}
    </>
  )
}
