import { Form } from 'react-bootstrap'
import type { Schemas } from '../api/client'
import { DataTable, type Column } from '../kit/table'
import type { Verb } from '../kit/verb'

type Import = Schemas['Import']

// ImportColumns says what each column of a file holds; what is wrong can be changed.
export function ImportColumns({
  import: i,
  columns: known,
  match,
}: {
  import: Import
  columns: Schemas['Column'][]
  match: Verb<Import, string[]>
}) {
  const columns: Column<{ at: number; head: string }>[] = [
    { id: 'head', head: 'In the file', names: true, cell: (h) => h.head || <span className="second">no name</span> },
    {
      id: 'holds',
      head: 'Holds',
      cell: ({ at, head }) => (
        <Form.Select
          size="sm"
          aria-label={`What ${head} holds`}
          value={i.columns[at]}
          disabled={match.isPending}
          onChange={(e) => match.mutate(i.columns.map((c, m) => (m === at ? e.target.value : c)))}
        >
          <option value="">left out</option>
          {known.map((c) => (
            <option key={c.key} value={c.key} disabled={i.columns.includes(c.key) && i.columns[at] !== c.key}>
              {c.title}
            </option>
          ))}
        </Form.Select>
      ),
    },
    {
      id: 'samples',
      head: 'First rows',
      className: 'second',
      cell: ({ at }) =>
        i.samples
          .map((s) => s[at])
          .filter(Boolean)
          .join(' · '),
    },
  ]
  return (
    <section className="sheet">
      <h2>What each column holds</h2>
      <p className="second">
        Matched by their names; change what is wrong.{' '}
        {i.columns.includes('') && `Left out: ${i.header.filter((_, n) => !i.columns[n]).join(', ')}.`}
      </p>
      <DataTable
        className="columns border-0"
        rows={i.header.map((head, at) => ({ at, head }))}
        columns={columns}
        rowKey={(h) => String(h.at)}
        rowClass={(h) => (i.columns[h.at] ? undefined : 'left-out')}
      />
    </section>
  )
}
