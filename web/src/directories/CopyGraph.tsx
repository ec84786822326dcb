import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { DataTable, type Column } from '../kit/table'

type Directory = Schemas['Directory']

// CopyGraph draws who copies from whom: suppliers on the left, those that take from
// them on the right, with a line for each that says in how many days.
export function CopyGraph({ directories }: { directories: Directory[] }) {
  const name = (id: string) => directories.find((d) => d.id === id)?.name ?? id
  const edges = directories.flatMap((d) => d.copies.map((c) => ({ ...c, to: d.id }))).sort((a, b) => a.from.localeCompare(b.from))
  const sources = [...new Set(edges.map((e) => e.from))].sort(
    (a, b) => edges.filter((e) => e.from === b).length - edges.filter((e) => e.from === a).length,
  )
  const targets = sources.flatMap((s) => edges.filter((e) => e.from === s).map((e) => e.to)).filter((id, i, all) => all.indexOf(id) === i)
  if (edges.length === 0)
    return (
      <div className="empty">
        <h2>Nobody copies from anybody</h2>
        <p>Where a rulebook says that a directory takes facts from another, it is drawn here.</p>
      </div>
    )
  const step = 52
  const height = Math.max(sources.length * step * 1.6, targets.length * step) + 20
  const ys = (n: number, i: number) => (height / n) * (i + 0.5)
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Who copies from whom</h2>
        <span className="second">a wrong phone is mended at its source</span>
      </div>
      <svg
        className="copy-graph"
        viewBox={`0 0 1040 ${height}`}
        role="img"
        aria-label="Who copies from whom; the table below says the same"
      >
        {edges.map((e) => {
          const y1 = ys(sources.length, sources.indexOf(e.from))
          const y2 = ys(targets.length, targets.indexOf(e.to))
          return (
            <g key={e.from + e.to}>
              <path
                d={`M190 ${y1} C 380 ${y1}, 420 ${y2}, 600 ${y2}`}
                className={e.on_request ? 'on-request' : e.overwrites ? 'overwrites' : ''}
              />
              <path d={`M600 ${y2} l -9 -4.5 v 9 z`} className="head" />
              <text x="802" y={y2 + 4}>
                {e.on_request ? 'when asked, ' : ''}
                {e.says}
                {e.overwrites ? ', overwrites' : ''}
              </text>
            </g>
          )
        })}
        {sources.map((s, i) => (
          <g key={s}>
            <rect x="20" y={ys(sources.length, i) - 15} width="170" height="30" />
            <text x="105" y={ys(sources.length, i) + 5} textAnchor="middle" className="name">
              {name(s)}
            </text>
          </g>
        ))}
        {targets.map((t, i) => (
          <g key={t}>
            <rect x="600" y={ys(targets.length, i) - 15} width="190" height="30" />
            <text x="695" y={ys(targets.length, i) + 5} textAnchor="middle" className="name">
              {name(t)}
            </text>
          </g>
        ))}
      </svg>
      <DataTable rows={edges} rowKey={(e) => e.from + e.to} columns={columnsOf(name)} />
    </section>
  )
}

type Edge = Directory['copies'][number] & { to: string }

const columnsOf = (name: (id: string) => string): Column<Edge>[] => [
  { id: 'from', head: 'From', by: (e) => name(e.from), cell: (e) => <Link to={`?directory=${e.from}`}>{name(e.from)}</Link> },
  { id: 'to', head: 'To', by: (e) => name(e.to), cell: (e) => <Link to={`?directory=${e.to}`}>{name(e.to)}</Link> },
  { id: 'says', head: 'Within', cell: (e) => e.says },
  {
    id: 'how',
    head: 'How',
    cell: (e) =>
      e.on_request ? 'once, when it is asked to' : e.overwrites ? 'over and over; it overwrites what was put right' : 'over and over',
  },
]
