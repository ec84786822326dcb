import { Link } from 'react-router'
import type { ListingRow, Schemas } from '../api/client'
import { useDirectories, useListings } from '../api/queries'
import { listingPath, pathOf, usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { Strand } from '../marks/Strand'
import { NoClients } from '../record/NoClients'

const kinds: Record<string, string> = { premises: 'premises', goes_to_customers: 'goes to customers', both: 'premises + visits' }

const legend: [Schemas['Strand'], string][] = [
  [{ control: 'held', verification: 'verified', visibility: 'public' }, 'held, verified, public'],
  [{ control: 'held', verification: 'code_on_its_way', visibility: 'hidden' }, 'waiting'],
  [{ control: 'held', verification: 'lapsed', visibility: 'hidden' }, 'stopped'],
  [{ control: 'none', verification: 'not_begun', visibility: 'absent' }, 'not begun'],
]

type LocationCells = { row: ListingRow; cells: Map<string, ListingRow> }

// byLocation gathers the listings of each location, in the server's order.
function byLocation(rows: ListingRow[]): { client: string; name: string; locations: LocationCells[] }[] {
  const out: { client: string; name: string; locations: LocationCells[] }[] = []
  for (const r of rows) {
    let client = out.at(-1)
    if (client?.client !== r.client) out.push((client = { client: r.client, name: r.client_name, locations: [] }))
    let location = client.locations.at(-1)
    if (location?.row.location !== r.location) client.locations.push((location = { row: r, cells: new Map() }))
    location.cells.set(r.directory, r)
  }
  return out
}

// CoverageView shows every location on every directory.
export function CoverageView() {
  const { scope } = usePlace()
  const listings = useListings(scope)
  const directories = useDirectories()
  const name = useScopeName(scope)
  if (!listings.data || !directories.data) return <Pending error={listings.error ?? directories.error} />
  const rows = listings.data
  const title = name ? `Coverage, ${name}` : 'Coverage'
  if (rows.length === 0)
    return (
      <>
        <ViewHead title={title} />
        <NoClients />
      </>
    )
  const wanted = rows.filter((r) => !r.not_for)
  const isPublic = (r: ListingRow) => r.strand.visibility === 'public'
  const begun = (r: ListingRow) => !isPublic(r) && r.strand.control !== 'none'
  const says = `${counted(wanted.length, 'listing')} wanted, ${wanted.filter(isPublic).length} public, ${wanted.filter(begun).length} under way, ${wanted.filter((r) => r.strand.control === 'none').length} not begun.`
  return (
    <>
      <ViewHead title={title} says={says}>
        <div className="legend">
          {legend.map(([strand, words]) => (
            <span key={words}>
              <Strand strand={strand} /> {words}
            </span>
          ))}
        </div>
      </ViewHead>
      <table className="grid coverage">
        <thead>
          <tr>
            <th scope="col">Weight in the score</th>
            {directories.data.map((d) => (
              <th scope="col" key={d.id} className="turned">
                <span>{d.name}</span>
                <small title="How much it counts, 0 to 100">{d.weight}</small>
              </th>
            ))}
            <th scope="col" className="share">
              Public weight
            </th>
            <th className="rest" aria-hidden="true" />
          </tr>
        </thead>
        {byLocation(rows).map((c) => (
          <tbody key={c.client}>
            <tr className="group">
              <th colSpan={directories.data.length + 3} scope="rowgroup">
                <Link to={pathOf('coverage', { client: c.client })}>{c.name}</Link>
              </th>
            </tr>
            {c.locations.map(({ row, cells }) => {
              const all = [...cells.values()].filter((r) => !r.not_for)
              const weight = (of: ListingRow[]) => of.reduce((n, r) => n + r.weight, 0)
              const share = weight(all) ? Math.round((100 * weight(all.filter(isPublic))) / weight(all)) : 0
              return (
                <tr key={row.location}>
                  <th scope="row" style={{ whiteSpace: 'nowrap' }}>
                    <Link to={pathOf('record', { location: row.location })}>{row.label}</Link>{' '}
                    <span className="second fw-normal">{kinds[row.kind]}</span>
                  </th>
                  {directories.data.map((d) => {
                    const cell = cells.get(d.id)
                    return (
                      <td key={d.id} className="cell">
                        {!cell || cell.not_for ? (
                          <span className="second" title={cell?.not_for}>
                            –
                          </span>
                        ) : (
                          <Link
                            to={listingPath(cell.location, cell.directory)}
                            data-row
                            aria-label={`${cell.label} on ${cell.directory_name}: ${cell.says}`}
                          >
                            <Strand strand={cell.strand} />
                          </Link>
                        )}
                      </td>
                    )
                  })}
                  <td className="share">
                    <i aria-hidden="true">
                      <b style={{ width: `${share}%` }} />
                    </i>
                    <span className="mono">{share}%</span>
                  </td>
                  <td aria-hidden="true" />
                </tr>
              )
            })}
          </tbody>
        ))}
      </table>
    </>
  )
}
