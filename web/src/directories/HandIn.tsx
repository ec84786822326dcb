import { api, told, type Schemas } from '../api/client'
import { type Scope } from '../app/place'
import { counted } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'

// HandIn makes the file for a directory that takes one, and notes that it was handed in.
export function HandIn({ directory: d, scope }: { directory: Schemas['Directory']; scope: Scope }) {
  const query = new URLSearchParams()
  if (scope.client) query.set('client', scope.client)
  if (scope.location) query.set('location', scope.location)
  const done = useVerb({
    does: () =>
      told(
        api.POST('/api/directories/{directory}/handed-in', {
          params: { path: { directory: d.id }, query: { client: scope.client, location: scope.location } },
        }),
      ),
    changes: 'all',
    says: (a) => `Kept: ${counted(a.locations, 'location')} handed in to ${d.name}.`,
  })
  return (
    <div className="px-3 pb-3">
      <Failed error={done.error} />
      <a className="btn btn-primary me-2" href={`/api/directories/${d.id}/file.csv?${query.toString()}`} download={`${d.id}.csv`}>
        Make the file
      </a>
      <Do verb={done} of={undefined} variant="outline-secondary">
        It was handed in
      </Do>
    </div>
  )
}
