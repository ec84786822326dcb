import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { type Scope } from '../app/place'
import { useSay } from '../app/say'
import { counted } from '../app/View'
import { Failed } from '../verification/Failed'

// HandIn makes the file for a directory that takes one, and notes that it was handed in.
export function HandIn({ directory: d, scope }: { directory: Schemas['Directory']; scope: Scope }) {
  const say = useSay()
  const queries = useQueryClient()
  const query = new URLSearchParams()
  if (scope.client) query.set('client', scope.client)
  if (scope.location) query.set('location', scope.location)
  const done = useMutation({
    mutationFn: () =>
      told(
        api.POST('/api/directories/{directory}/handed-in', {
          params: { path: { directory: d.id }, query: { client: scope.client, location: scope.location } },
        }),
      ),
    onSuccess: (a) => {
      void queries.invalidateQueries()
      say(`Kept: ${counted(a.locations, 'location')} handed in to ${d.name}.`)
    },
  })
  return (
    <div className="px-3 pb-3">
      <Failed error={done.error} />
      <a className="btn btn-primary me-2" href={`/api/directories/${d.id}/file.csv?${query.toString()}`} download={`${d.id}.csv`}>
        Make the file
      </a>
      <Button variant="outline-secondary" disabled={done.isPending} onClick={() => done.mutate()}>
        It was handed in
      </Button>
    </div>
  )
}
