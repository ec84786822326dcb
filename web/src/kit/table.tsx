import { createSortedRowModel, rowSortingFeature, tableFeatures, useTable, type ColumnDef } from '@tanstack/react-table'
import { Fragment, type ReactNode } from 'react'
import { useWindow } from './window'

// Column is one column of a table.
export type Column<R> = {
  id: string
  head: ReactNode
  cell: (row: R, at: number) => ReactNode
  // What rows are put in order by once the head is pressed. A column without it has a plain head.
  by?: (row: R) => string | number
  // Numbers stand at the right.
  num?: boolean
  // The cell that names its row.
  names?: boolean
  className?: string
}

type Props<R> = {
  rows: R[]
  columns: Column<R>[]
  rowKey: (row: R) => string
  label?: string
  className?: string
  rowClass?: (row: R) => string | undefined
  // What a row stands under: a heading is drawn where it changes.
  group?: (row: R) => { id: string; head: ReactNode } | undefined
  // What stands across all columns in place of a row, such as the form that changes it.
  instead?: (row: R) => ReactNode
  // What stands across all columns under a row.
  beneath?: (row: R) => ReactNode
}

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel() })

// From this many rows on, only those that are looked at are drawn.
const many = 150
const height = 32

// DataTable is every table of rows in Uvent: its heads put in order, and many rows are as quick as few.
export function DataTable<R extends object>(props: Props<R>) {
  const { columns } = props
  const defs: ColumnDef<typeof features, R>[] = columns.map((c) => ({
    id: c.id,
    accessorFn: (row: R) => c.by?.(row),
    enableSorting: !!c.by,
    sortFn: (a, b) => compare(c.by!(a.original), c.by!(b.original)),
    sortDescFirst: c.by && props.rows[0] && typeof c.by(props.rows[0]) === 'number', // of numbers, the most first
  }))
  const table = useTable({ features, data: props.rows, columns: defs, getRowId: props.rowKey })
  const sorted = table.state.sorting.length > 0
  const lines = linesOf(
    table.getRowModel().rows.map((r) => r.original),
    props,
    sorted,
  )
  return (
    <Drawn
      lines={lines}
      width={columns.length}
      label={props.label}
      className={'grid ' + (props.className ?? '')}
      head={
        <tr>
          {columns.map((c) => {
            const at = table.getColumn(c.id)!
            const way = at.getIsSorted()
            return (
              <th
                key={c.id}
                scope="col"
                className={className(c)}
                aria-sort={way ? (way === 'asc' ? 'ascending' : 'descending') : undefined}
              >
                {c.by ? (
                  <button type="button" className="order" title="Put in order by this" onClick={at.getToggleSortingHandler()}>
                    {c.head}
                    <span aria-hidden="true">{way === 'asc' ? ' ↑' : way === 'desc' ? ' ↓' : ''}</span>
                  </button>
                ) : (
                  c.head
                )}
              </th>
            )
          })}
        </tr>
      }
    />
  )
}

type Line = { key: string; className?: string; cells: ReactNode }

const className = (c: { num?: boolean; className?: string }) => [c.num && 'num', c.className].filter(Boolean).join(' ') || undefined

// compare puts words in the order of the reader's language, and numbers by size.
function compare(a: string | number, b: string | number): number {
  if (typeof a === 'number' && typeof b === 'number') return a - b
  return String(a).localeCompare(String(b), undefined, { numeric: true })
}

// linesOf are a table's lines: rows with what stands under them, below the heading of their group. Rows
// that were put in another order stand under none.
function linesOf<R>(rows: R[], p: Props<R>, sorted: boolean): Line[] {
  const lines: Line[] = []
  const across = (key: string, className: string, cell: ReactNode) => lines.push({ key, className, cells: cell })
  let group: string | undefined
  rows.forEach((row, at) => {
    const key = p.rowKey(row)
    const g = sorted ? undefined : p.group?.(row)
    if (g && g.id !== group) {
      group = g.id
      across('group ' + g.id, 'group', <th colSpan={p.columns.length} scope="rowgroup" children={g.head} />)
    }
    const instead = p.instead?.(row)
    if (instead) return across(key, '', <td colSpan={p.columns.length} children={instead} />)
    lines.push({
      key,
      className: p.rowClass?.(row),
      cells: p.columns.map((c) =>
        c.names ? (
          <th key={c.id} scope="row" className={className(c)} children={c.cell(row, at)} />
        ) : (
          <td key={c.id} className={className(c)} children={c.cell(row, at)} />
        ),
      ),
    })
    const beneath = p.beneath?.(row)
    if (beneath) across(key + ' beneath', 'beneath', <td colSpan={p.columns.length} children={beneath} />)
  })
  return lines
}

type DrawnProps = { lines: Line[]; width: number; label?: string; className: string; head: ReactNode }

function Drawn(p: DrawnProps) {
  return p.lines.length > many ? <DrawnInPart {...p} /> : <Whole {...p} />
}

function Whole({ lines, label, className, head }: DrawnProps) {
  return (
    <table className={className} aria-label={label}>
      <thead>{head}</thead>
      <tbody>
        {lines.map((l) => (
          <tr key={l.key} className={l.className} children={l.cells} />
        ))}
      </tbody>
    </table>
  )
}

function DrawnInPart({ lines, width, label, className, head }: DrawnProps) {
  const { seen, before, after, table, measure } = useWindow(lines.length, height)
  return (
    <table className={className} aria-label={label} ref={table} aria-rowcount={lines.length + 1}>
      <thead>{head}</thead>
      <tbody>
        <Room height={before} width={width} />
        {seen.map((at) => {
          const l = lines[at]
          return (
            <Fragment key={l?.key ?? at}>
              {l && <tr ref={measure} data-index={at} aria-rowindex={at + 2} className={l.className} children={l.cells} />}
            </Fragment>
          )
        })}
        <Room height={after} width={width} />
      </tbody>
    </table>
  )
}

// Room is what lines that are not drawn take.
export function Room({ height, width }: { height: number; width: number }) {
  if (height <= 0) return null
  return (
    <tr aria-hidden="true" style={{ height }}>
      <td colSpan={width} />
    </tr>
  )
}
