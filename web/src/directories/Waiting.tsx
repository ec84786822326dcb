import { useInfiniteQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { lasting } from '../app/clock'
import { listingPath } from '../app/place'
import { Needs } from '../app/Needs'
import { counted, Pending } from '../app/View'
import { More, rowsOf } from '../kit/paged'
import { Do, useVerb } from '../kit/verb'
import { asking } from '../verification/asking'

// Waiting lists what a directory is asked and has not answered. Each can be given up.
export function Waiting({ of: c }: { of: Schemas['Connection'] }) {
  const list = useInfiniteQuery({
    queryKey: ['connections', c.directory],
    initialPageParam: '',
    queryFn: ({ pageParam }) =>
      told(
        api.GET('/api/connections/{directory}/waiting', {
          params: { path: { directory: c.directory }, query: { after: pageParam || undefined } },
        }),
      ),
    getNextPageParam: (page) => page.next,
  })
  const stop = useVerb({
    does: (location: string) =>
      told(api.DELETE('/api/listings/{location}/{directory}/asking', { params: { path: { location, directory: c.directory } } })),
    changes: ['connections'],
    says: () => `It is not asked any more. It may have been done there all the same.`,
    tells: true,
  })
  if (!list.data) return <Pending error={list.error} />
  const rows = rowsOf(list, (p) => p.rows)
  if (rows.length === 0) return <p className="second mb-0">It has answered all of them.</p>
  return (
    <>
      <ul className="plain-list">
        {rows.map((r) => (
          <li key={r.location}>
            <Link to={listingPath(r.location, c.directory)} data-row>
              {r.label}
            </Link>{' '}
            <span className="second">
              {r.client_name}: {(asking[r.asked] ?? 'Asking').toLowerCase()} for {lasting(r.waits)},{' '}
              {r.tries === 0 ? 'not asked yet' : counted(r.tries, 'try', 'tries')}
            </span>{' '}
            <Needs what="send">
              <Do verb={stop} of={r.location} variant="link" size="sm" className="p-0">
                Stop asking
              </Do>
            </Needs>
          </li>
        ))}
      </ul>
      {list.hasNextPage && (
        <More list={list} onMore={() => void list.fetchNextPage()} variant="link" className="px-0">
          More
        </More>
      )}
    </>
  )
}
