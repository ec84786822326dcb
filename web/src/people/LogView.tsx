import { useInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useClients } from '../api/queries'
import { dayTime, useZone } from '../app/clock'
import { listingPath, pathOf } from '../app/place'
import { counted, Pending, ViewHead } from '../app/View'
import { More, rowsOf } from '../kit/paged'
import { DataTable, type Column } from '../kit/table'

type Line = Schemas['LogLine'] & { looks?: Schemas['LogLine'][] }

// What is kept of a look at a page.
const looked = ['seen_public', 'not_seen']

// foldLooks makes one line of looks that come one after the other.
function foldLooks(lines: Schemas['LogLine'][]): Line[] {
  const out: Line[] = []
  for (const line of lines) {
    const last = out.at(-1)
    if (!looked.includes(line.kind)) out.push(line)
    else if (last?.looks) last.looks.push(line)
    else out.push({ ...line, looks: [line] })
  }
  return out.map((l) => (l.looks?.length === 1 ? { ...l, looks: undefined } : l))
}

// LogView is what was done, by whom and when. It cannot be changed.
export function LogView() {
  const zone = useZone()
  const clients = useClients()
  const [actor, setActor] = useState('')
  const [kind, setKind] = useState('')
  const [client, setClient] = useState('')
  const [text, setText] = useState('')
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const filter = {
    actor: actor || undefined,
    kind: kind || undefined,
    client: client || undefined,
    text: text || undefined,
    from: from || undefined,
    to: to || undefined,
  }
  const log = useInfiniteQuery({
    queryKey: ['log', filter],
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
      <form className="log-filters" role="search" onSubmit={(e) => e.preventDefault()}>
        <Form.Control
          type="search"
          aria-label="Words in it"
          placeholder="Words in it"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <Form.Control aria-label="Who" placeholder="Who" value={actor} onChange={(e) => setActor(e.target.value)} />
        <Form.Select aria-label="What kind" value={kind} onChange={(e) => setKind(e.target.value)}>
          <option value="">Everything</option>
          {log.data.pages[0]?.kinds.map((k) => (
            <option key={k.id} value={k.id}>
              {k.title}
            </option>
          ))}
        </Form.Select>
        <Form.Select aria-label="Client" value={client} onChange={(e) => setClient(e.target.value)}>
          <option value="">All clients</option>
          {clients.data?.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </Form.Select>
        <Form.Control type="date" aria-label="From" value={from} onChange={(e) => setFrom(e.target.value)} />
        <span className="second">to</span>
        <Form.Control type="date" aria-label="To" value={to} onChange={(e) => setTo(e.target.value)} />
      </form>
      {lines.length === 0 ? (
        <div className="empty">
          <h2>Nothing was done that fits</h2>
          <p>Widen what you look for.</p>
        </div>
      ) : (
        <DataTable rows={foldLooks(lines)} columns={columnsOf(zone)} rowKey={(l) => String(l.id)} />
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
  {
    id: 'says',
    head: 'What',
    cell: (l) =>
      l.looks ? (
        <details>
          <summary>Looked at {counted(l.looks.length, 'page')}.</summary>
          <ul className="mb-0">
            {l.looks.map((one) => (
              <li key={one.id}>
                {one.label} on {one.directory_name}, {dayTime(new Date(one.at), zone)}: {one.says}
              </li>
            ))}
          </ul>
        </details>
      ) : (
        l.says
      ),
  },
  {
    id: 'about',
    head: 'About',
    className: 'text-nowrap',
    cell: (l) =>
      l.looks ? null : l.location && l.label ? (
        <>
          <span className="second">{l.client_name}, </span>
          <Link to={l.directory ? listingPath(l.location, l.directory) : pathOf('record', { location: l.location })}>
            {l.label}
            {l.directory_name && ` on ${l.directory_name}`}
          </Link>
        </>
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
