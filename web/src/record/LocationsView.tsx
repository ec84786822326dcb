import { Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { type Schemas } from '../api/client'
import { useClient, useClients, useSeesAll } from '../api/queries'
import { pathOf, usePlace } from '../app/place'
import { counted, Pending, ViewHead } from '../app/View'
import { DataTable, type Column } from '../kit/table'
import { Strand } from '../marks/Strand'
import { useAway } from './AwayView'
import { ClientLeaves } from './Leaving'
import { NoClients } from './NoClients'

const kinds: Record<string, string> = {
  premises: 'premises',
  goes_to_customers: 'goes to customers',
  both: 'premises, and goes to customers',
}

type Row = Schemas['Client']['locations'][number] & { client: string; client_name: string }

const columns: Column<Row>[] = [
  {
    id: 'label',
    head: 'Location',
    names: true,
    by: (l) => l.label,
    cell: (l) => (
      <Link to={pathOf('record', { location: l.id })} data-row title={l.client_name}>
        {l.label}
      </Link>
    ),
  },
  { id: 'kind', head: 'Kind', by: (l) => l.kind, cell: (l) => kinds[l.kind] },
  { id: 'town', head: 'Town', by: (l) => l.locality, cell: (l) => l.locality },
  {
    id: 'missing',
    head: 'Still missing',
    by: (l) => l.missing,
    cell: (l) =>
      l.missing > 0 && <Link to={{ pathname: pathOf('record', { location: l.id }), hash: 'missing' }}>{counted(l.missing, 'thing')}</Link>,
  },
  { id: 'strand', head: 'Weightiest listing', cell: (l) => <Strand strand={l.strand} /> },
]

// LocationsView lists the records in a scope that is wider than one location.
export function LocationsView() {
  const { scope } = usePlace()
  const clients = useClients()
  const all = useSeesAll()
  const away = useAway('')
  if (!clients.data) return <Pending error={clients.error} />
  const shown = clients.data.filter((c) => !scope.client || c.id === scope.client)
  const count = shown.reduce((n, c) => n + c.locations.length, 0)
  const client = scope.client ? shown[0] : undefined
  const base = client ? `/record/c/${client.id}` : '/record'
  const title = client ? `Record, ${client.name}` : 'Record'
  return (
    <>
      <ViewHead
        title={title}
        says={
          client ? <ClientLine id={client.id} /> : `${counted(shown.length, 'client')}, ${counted(count, 'location')}, one record each.`
        }
      >
        {client ? (
          <>
            <ClientLeaves client={client.id} name={client.name} />
            <Link className="btn btn-outline-secondary" to={`${base}/handover`}>
              Hand back
            </Link>
            <Link className="btn btn-outline-secondary" to={`${base}/facts`}>
              Edit client
            </Link>
            <Link className="btn btn-outline-secondary" to={`${base}/new`}>
              Add a location
            </Link>
          </>
        ) : (
          all && (
            <Link className="btn btn-outline-secondary" to="/record/new-client">
              Add a client
            </Link>
          )
        )}
        {all && (
          <Link className="btn btn-outline-secondary" to={`${base}/import`}>
            Bring in locations
          </Link>
        )}
        {count > 0 && (
          <Link className="btn btn-outline-secondary" to={`${base}/course`}>
            Close or reopen
          </Link>
        )}
        {count > 0 && (
          <Dropdown>
            <Dropdown.Toggle variant="outline-secondary">Take out</Dropdown.Toggle>
            <Dropdown.Menu align="end">
              <Dropdown.Item href={'/api/export.xlsx' + (client ? `?client=${client.id}` : '')} download="locations.xlsx">
                As a spreadsheet
              </Dropdown.Item>
              <Dropdown.Item href={'/api/export.csv' + (client ? `?client=${client.id}` : '')} download="locations.csv">
                As CSV
              </Dropdown.Item>
            </Dropdown.Menu>
          </Dropdown>
        )}
      </ViewHead>
      {clients.data.length === 0 ? (
        <NoClients />
      ) : client && count === 0 ? (
        <div className="empty">
          <h2>No locations yet</h2>
          <p>Each place where {client.name} meets its customers, or starts out from, has a record of its own.</p>
          <Link className="btn btn-primary" to={`${base}/new`}>
            Add a location
          </Link>
          {all && (
            <Link className="btn btn-outline-secondary" to={`${base}/import`}>
              Bring in locations
            </Link>
          )}
        </div>
      ) : (
        <DataTable
          rows={shown.flatMap((c) => c.locations.map((l) => ({ ...l, client: c.id, client_name: c.name })))}
          columns={columns}
          rowKey={(l) => l.id}
          group={(l) =>
            client ? undefined : { id: l.client, head: <Link to={pathOf('record', { client: l.client })}>{l.client_name}</Link> }
          }
        />
      )}
      {!client && !!away.data?.pages[0]?.rows.length && (
        <p className="second m-3">
          <Link to="/record/put-away">What is put away</Link>
        </p>
      )}
    </>
  )
}

function ClientLine({ id }: { id: string }) {
  const c = useClient(id).data
  if (!c) return <>&nbsp;</> // keeps the line, so that nothing jumps
  return (
    <>
      {[c.legal_name, c.owner_name && `owner ${c.owner_name}`, c.owner_email].filter(Boolean).join(' · ') ||
        'No legal name or owner said yet.'}
    </>
  )
}
