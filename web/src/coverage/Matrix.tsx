import { useEffect } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { pathOf, type Scope } from '../app/place'
import { Room } from '../kit/table'
import { useWindow } from '../kit/window'
import { ChooseColumn } from './ChooseColumn'
import { page, type Order } from './pages'
import { Row } from './Row'

const height = 30

type Line = { client?: string; name?: string; row?: Schemas['CoverageRow'] }

// grouped puts each client's name before its locations.
function grouped(rows: Schemas['CoverageRow'][]): Line[] {
  return rows.flatMap((row, i) =>
    rows[i - 1]?.client === row.client ? [{ row }] : [{ client: row.client, name: row.client_name }, { row }],
  )
}

// Matrix is every location of a scope by every directory. Rows that are not looked at are neither drawn
// nor read: onLook says which pages are wanted.
export function Matrix({
  first,
  rows,
  columns,
  scope,
  order,
  fitted,
  onLook,
}: {
  first: Schemas['Coverage']
  rows: Map<number, Schemas['CoverageRow']>
  columns: Schemas['Directory'][]
  scope: Scope
  order: Order
  fitted: boolean
  onLook: (pages: number[]) => void
}) {
  const count = first.locations
  // As long as one page holds all of them, each client's stand under its name.
  const lines = order === 'place' && count <= page && !scope.location ? grouped(first.rows) : undefined
  const { seen, before, after, table } = useWindow(lines?.length ?? count, height)
  const pages = `${Math.floor((seen[0] ?? 0) / page)}-${Math.floor((seen.at(-1) ?? 0) / page)}`
  useEffect(() => {
    const [a = 0, b = 0] = pages.split('-').map(Number)
    onLook(Array.from({ length: b - a + 1 }, (_, i) => a + i))
  }, [pages, onLook])
  const width = columns.length + 2
  const drawn = (at: number) => {
    const line = lines?.[at]
    if (line?.client) return <ClientLine key={line.client} client={line.client} name={line.name} width={width} />
    const row = line ? line.row : rows.get(at)
    if (!row) return <Awaited key={at} at={at} width={width} />
    const named = !line && (order === 'gain' || rows.get(at - 1)?.client !== row.client)
    return <Row key={at} row={row} index={at} height={height} columns={columns} fitted={fitted} named={named} />
  }
  return (
    <table className="grid coverage" ref={table} aria-rowcount={count + 1}>
      <thead>
        <tr>
          <th scope="col" className="place">
            {fitted ? 'Per cent of a complete listing' : 'Weight in the score'}
          </th>
          {columns.map((d) => (
            <th scope="col" key={d.id} className="turned">
              <ChooseColumn directory={d} scope={scope} />
              <small title="How much it counts, 0 to 100">{d.weight}</small>
            </th>
          ))}
          <th scope="col" className="share">
            {fitted ? 'Fill in next' : 'Public weight'}
          </th>
        </tr>
      </thead>
      <tbody>
        <Room height={before} width={width} />
        {seen.map(drawn)}
        <Room height={after} width={width} />
      </tbody>
    </table>
  )
}

function ClientLine({ client, name, width }: { client: string; name?: string; width: number }) {
  return (
    <tr className="group" style={{ height }}>
      <th colSpan={width} scope="rowgroup">
        <Link to={pathOf('coverage', { client })}>{name}</Link>
      </th>
    </tr>
  )
}

// Awaited stands for a row that is being read.
function Awaited({ at, width }: { at: number; width: number }) {
  return (
    <tr style={{ height }} aria-rowindex={at + 2}>
      <td className="quiet" colSpan={width}>
        …
      </td>
    </tr>
  )
}
