import { useInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useClients } from '../api/queries'
import { dayTime, useZone } from '../app/clock'
import { listingPath, pathOf } from '../app/place'
import { Pending, ViewHead } from '../app/View'
import { More, rowsOf } from '../kit/paged'
import { DataTable, type Column } from '../kit/table'

type Line = Schemas['LogLine']

// LogView is what was done, by whom and when. It cannot be changed.
export function LogView() {
  const zone = useZone()
  const clients = useClients()
  const [actor, setActor] = useState('')
  const [kind, setKind] = useState('')
  const [client, setClient] = useState('')
  const filter = { actor: actor || undefined, kind: kind || undefined, client: client || undefined }
  const log = useInfiniteQuery({
    queryKey: ['log', actor, kind, client],
    queryFn: ({ pageParam }) => told(api.GET('/api/log', { params: { query: { ...filter, before: pageParam, most: 100 } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.lines.length === 100 ? last.lines.at(-1)?.id : undefined),
    placeholderData: (before) => before,
  })
  if (!log.data) return <Pending error={log.error} />
  const lines = rowsOf(log, (p) => p.lines)
  const query = new URLSearchParams(Object.entries(filter).filter((e): e is [string, string] => !!e[1])).toString()
  return (
    <>
      <ViewHead
        title="Log"
        says="What was done, by whom and when. Nothing in it is changed: each line is chained to those before, and uvent log verify goes along the chain."
      >
        <a className="btn btn-outline-secondary" href={'/api/log.csv' + (query && '?' + query)} download="log.csv">
          Export CSV
        </a>
      </ViewHead>
      <form className="d-flex gap-2 mb-2" role="search" onSubmit={(e) => e.preventDefault()}>
        <Form.Control className="w-auto" aria-label="Who" placeholder="Who" value={actor} onChange={(e) => setActor(e.target.value)} />
        <Form.Select className="w-auto" aria-label="What kind" value={kind} onChange={(e) => setKind(e.target.value)}>
          <option value="">Everything</option>
          {log.data.pages[0]?.kinds.map((k) => (
            <option key={k} value={k}>
              {k.replaceAll('_', ' ')}
            </option>
          ))}
        </Form.Select>
        <Form.Select className="w-auto" aria-label="Client" value={client} onChange={(e) => setClient(e.target.value)}>
          <option value="">All clients</option>
          {clients.data?.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </Form.Select>
      </form>
      {lines.length === 0 ? (
        <div className="empty">
          <h2>Nothing was done that fits</h2>
          <p>Widen what you look for.</p>
        </div>
      ) : (
        <DataTable rows={lines} columns={columnsOf(zone)} rowKey={(l) => String(l.id)} />
      )}
      {log.hasNextPage && (
        <p className="mt-2">
          <More list={log} variant="outline-secondary" onMore={() => void log.fetchNextPage()}>
            Older
          </More>
        </p>
      )}
    </>
  )
}

const columnsOf = (zone: string): Column<Line>[] => [
  { id: 'at', head: 'When', className: 'mono text-nowrap small', cell: (l) => dayTime(new Date(l.at), zone) },
  { id: 'actor', head: 'Who', className: 'text-nowrap', cell: (l) => l.actor },
  { id: 'says', head: 'What', cell: (l) => l.says },
  {
    id: 'about',
    head: 'About',
    cell: (l) =>
      l.location && l.label ? (
        <Link to={l.directory ? listingPath(l.location, l.directory) : pathOf('record', { location: l.location })}>
          {l.label}
          {l.directory_name && ` on ${l.directory_name}`}
        </Link>
      ) : (
        l.client_name || l.directory_name
      ),
  },
  {
    id: 'number',
    head: 'Number',
    num: true,
    cell: (l) => (
      <span title={l.sealed ? 'chained to those before' : 'about to be chained'}>
        {l.id}
        {!l.sealed && '…'}
      </span>
    ),
  },
]
