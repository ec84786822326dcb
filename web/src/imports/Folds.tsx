import { Form } from 'react-bootstrap'
import type { Schemas } from '../api/client'
import { counted } from '../app/View'
import { DataTable, type Column } from '../kit/table'
import { useBench } from './work'

const delimiters: Record<string, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'bars' }

// Folds are two folded lines: how the file is written, and what its columns hold. Both can be changed.
export function Folds({ columns }: { columns: Schemas['Column'][] }) {
  const { import: i, titles } = useBench()
  const left = i.header.filter((_, n) => !i.columns[n])
  const facts = i.columns.filter(Boolean).length
  const renamed = i.header
    .map((h, n) => [h, i.columns[n]] as const)
    .filter(([h, key]) => key && h.toLowerCase().replace(/[^\p{L}\d]/gu, '') !== titles[key]?.toLowerCase().replace(/[^\p{L}\d]/gu, ''))
    .map(([h, key]) => `${h} is ${(titles[key!] ?? key!).toLowerCase()}`)
  const said = [
    ...renamed.slice(0, 4),
    left.length > 0 && `${left.map((h) => `“${h || 'no name'}”`).join(', ')} ${left.length === 1 ? 'is' : 'are'} left out`,
  ]
  return (
    <section className="folds sheet" aria-label="How the file is read">
      <details>
        <summary>
          <b>
            Read as {i.encoding}
            {i.delimiter && `, ${delimiters[i.delimiter] ?? i.delimiter}`}
          </b>
          <span className="second">“{i.samples[0]?.filter(Boolean).slice(0, 4).join('; ')}”</span>
          <span className="fold-act">{i.encodings.length > 1 ? 'Other encoding' : 'First rows'}</span>
        </summary>
        <Encoding />
      </details>
      <details>
        <summary>
          <b>
            {counted(i.header.length, 'column')}: {facts} {facts === 1 ? 'is a fact' : 'are facts'}
            {left.length > 0 && `, ${left.length} ${left.length === 1 ? 'is' : 'are'} left out`}
          </b>
          <span className="second">{said.filter(Boolean).join('; ')}</span>
          <span className="fold-act">Change</span>
        </summary>
        <Columns columns={columns} />
      </details>
    </section>
  )
}

function Encoding() {
  const { import: i, edit } = useBench()
  return (
    <div className="body">
      {i.encodings.length > 1 && (
        <Form.Select
          size="sm"
          className="w-auto mb-2"
          aria-label="Encoding"
          value={i.encoding}
          disabled={edit.isPending}
          onChange={(e) => edit.mutate({ kind: 'encoding', to: e.target.value })}
        >
          {i.encodings.map((e) => (
            <option key={e}>{e}</option>
          ))}
        </Form.Select>
      )}
      <p className="second mb-0">
        If letters with marks look broken, choose another.
        {i.samples.map((s, n) => (
          <span key={n} className="d-block">
            {s.filter(Boolean).join(' · ')}
          </span>
        ))}
      </p>
    </div>
  )
}

function Columns({ columns: known }: { columns: Schemas['Column'][] }) {
  const { import: i, edit } = useBench()
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
          disabled={edit.isPending}
          onChange={(e) => edit.mutate({ kind: 'columns', columns: i.columns.map((c, m) => (m === at ? e.target.value : c)) })}
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
    <DataTable
      className="columns border-0"
      rows={i.header.map((head, at) => ({ at, head }))}
      columns={columns}
      rowKey={(h) => String(h.at)}
      rowClass={(h) => (i.columns[h.at] ? undefined : 'left-out')}
    />
  )
}
