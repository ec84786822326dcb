import { useInfiniteQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { longDate, useZone } from '../app/clock'
import { pathOf } from '../app/place'
import { Pending, ViewHead } from '../app/View'
import { More, rowsOf } from '../kit/paged'
import { DataTable, type Column } from '../kit/table'
import { Do } from '../kit/verb'
import { useReturn } from './Leaving'

type Row = Schemas['AwayRow']

// useAway lists what is put away, a page at a time.
export const useAway = (search: string) =>
  useInfiniteQuery({
    queryKey: ['away', search],
    queryFn: ({ pageParam }) =>
      told(api.GET('/api/put-away', { params: { query: { search: search || undefined, after: pageParam || undefined } } })),
    initialPageParam: '',
    getNextPageParam: (last) => last.next || undefined,
    placeholderData: (before) => before,
  })

// AwayView lists what is put away, and brings it back.
export function AwayView() {
  const [typed, setTyped] = useState('')
  const search = useDeferredValue(typed.trim())
  const list = useAway(search)
  const back = useReturn((name) => `${name} is back.`)
  const zone = useZone()
  if (!list.data) return <Pending error={list.error} />
  const rows = rowsOf(list, (p) => p.rows)
  const columns: Column<Row>[] = [
    {
      id: 'label',
      head: 'What',
      names: true,
      cell: (r) => (r.of_client ? 'the client, without locations' : <Link to={pathOf('record', { location: r.id })}>{r.label}</Link>),
    },
    { id: 'client', head: 'Client', cell: (r) => r.client_name },
    { id: 'since', head: 'Put away', cell: (r) => longDate(new Date(r.at), zone) },
    {
      id: 'erased',
      head: 'Papers and people’s data',
      cell: (r) =>
        r.erased_at
          ? `erased ${longDate(new Date(r.erased_at), zone)}`
          : r.erase_at
            ? `erased on ${longDate(new Date(r.erase_at), zone)}`
            : 'kept; the client is here',
    },
    {
      id: 'back',
      head: '',
      cell: (r) => (
        <span className="d-flex gap-2 justify-content-end">
          {!r.of_client && r.erase_at !== undefined && (
            <Do verb={back} of={{ id: r.client, client: true, name: r.client_name }} variant="outline-secondary" size="sm">
              Bring the client back
            </Do>
          )}
          <Do
            verb={back}
            of={{ id: r.id, client: r.of_client, name: r.of_client ? r.client_name : r.label }}
            variant="outline-secondary"
            size="sm"
          >
            Bring back
          </Do>
        </span>
      ),
    },
  ]
  return (
    <>
      <ViewHead title="Put away" says="In no list and no count until it is brought back. Listings stay as they are.">
        <Form.Control value={typed} placeholder="Search" aria-label="Search what is put away" onChange={(e) => setTyped(e.target.value)} />
      </ViewHead>
      {rows.length === 0 ? (
        <div className="empty">
          <h2>{search ? 'Nothing put away is called that' : 'Nothing is put away'}</h2>
          <p>A location or a client that is no longer looked after is put away from its record.</p>
          <Link className="btn btn-outline-secondary" to="/record">
            To the records
          </Link>
        </div>
      ) : (
        <>
          <DataTable rows={rows} columns={columns} rowKey={(r) => r.id} />
          {list.hasNextPage && (
            <p className="m-3">
              <More list={list} onMore={() => void list.fetchNextPage()} variant="outline-secondary">
                Show more
              </More>
            </p>
          )}
        </>
      )}
    </>
  )
}
