import { Link } from 'react-router'
import { useClient, useClients } from '../api/queries'
import { pathOf, usePlace } from '../app/place'
import { counted, Pending, ViewHead } from '../app/View'
import { Strand } from '../marks/Strand'
import { NoClients } from './NoClients'

const kinds: Record<string, string> = {
  premises: 'premises',
  goes_to_customers: 'goes to customers',
  both: 'premises, and goes to customers',
}

// LocationsView lists the records in a scope that is wider than one location.
export function LocationsView() {
  const { scope } = usePlace()
  const clients = useClients()
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
            <Link className="btn btn-outline-secondary" to={`${base}/facts`}>
              Edit client
            </Link>
            <Link className="btn btn-outline-secondary" to={`${base}/new`}>
              Add a location
            </Link>
          </>
        ) : (
          <Link className="btn btn-outline-secondary" to="/record/new-client">
            Add a client
          </Link>
        )}
        <Link className="btn btn-outline-secondary" to={`${base}/import`}>
          Bring in a CSV
        </Link>
        {count > 0 && (
          <Link className="btn btn-outline-secondary" to={`${base}/course`}>
            Close or reopen
          </Link>
        )}
        {count > 0 && (
          <a
            className="btn btn-outline-secondary"
            href={'/api/export.csv' + (client ? `?client=${client.id}` : '')}
            download="locations.csv"
          >
            Take out a CSV
          </a>
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
          <Link className="btn btn-outline-secondary" to={`${base}/import`}>
            Bring in a CSV
          </Link>
        </div>
      ) : (
        <table className="grid">
          <thead>
            <tr>
              <th scope="col">Location</th>
              <th scope="col">Kind</th>
              <th scope="col">Town</th>
              <th scope="col">Still missing</th>
              <th scope="col">Weightiest listing</th>
            </tr>
          </thead>
          {shown.map((c) => (
            <tbody key={c.id}>
              {!client && (
                <tr className="group">
                  <th colSpan={5} scope="rowgroup">
                    <Link to={pathOf('record', { client: c.id })}>{c.name}</Link>
                  </th>
                </tr>
              )}
              {c.locations.map((l) => (
                <tr key={l.id}>
                  <th scope="row">
                    <Link to={pathOf('record', { location: l.id })} data-row>
                      {l.label}
                    </Link>
                  </th>
                  <td>{kinds[l.kind]}</td>
                  <td>{l.locality}</td>
                  <td>
                    {l.missing > 0 && (
                      <Link to={{ pathname: pathOf('record', { location: l.id }), hash: 'missing' }}>{counted(l.missing, 'thing')}</Link>
                    )}
                  </td>
                  <td>
                    <Strand strand={l.strand} />
                  </td>
                </tr>
              ))}
            </tbody>
          ))}
        </table>
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
