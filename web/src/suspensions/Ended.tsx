import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { casePath } from '../app/place'
import { DataTable, type Column } from '../kit/table'

type Case = Schemas['CaseRow']
type Took = Schemas['CaseList']['took'][number]

const outcomes: Record<string, string> = { won: 'won', lost: 'not won', given_up: 'given up' }

const columns: Column<Case>[] = [
  {
    id: 'listing',
    head: 'Listing',
    names: true,
    by: (c) => c.row.label + c.row.directory_name,
    cell: (c) => (
      <>
        <Link to={casePath(c.row.location, c.row.directory, c.facts.id)} data-row>
          {c.row.label} on {c.row.directory_name}
        </Link>{' '}
        <span className="second">{c.row.client_name}</span>
      </>
    ),
  },
  { id: 'what', head: 'What it was', by: (c) => c.facts.title, cell: (c) => <What title={c.facts.title} cause={c.facts.cause_title} /> },
  {
    id: 'how',
    head: 'How it ended',
    by: (c) => outcomes[c.facts.outcome ?? ''] ?? '',
    cell: (c) => (
      <>
        {outcomes[c.facts.outcome ?? '']} <span className="second">{c.facts.says}</span>
      </>
    ),
  },
  { id: 'days', head: 'Days', num: true, by: (c) => c.facts.days, cell: (c) => c.facts.days },
]

// Ended lists the cases that are closed.
export function Ended({ cases, keyOf }: { cases: Case[]; keyOf: (c: Case) => string }) {
  return (
    <section>
      <div className="group-head">
        <h2>Ended</h2>
        <span>{cases.length}</span>
      </div>
      <DataTable rows={cases} columns={columns} rowKey={keyOf} />
    </section>
  )
}

const tookColumns: Column<Took>[] = [
  { id: 'directory', head: 'Directory', names: true, by: (t) => t.directory_name, cell: (t) => t.directory_name },
  { id: 'what', head: 'What it was', by: (t) => t.kind_title, cell: (t) => <What title={t.kind_title} cause={t.cause_title} /> },
  { id: 'won', head: 'Won', num: true, by: (t) => t.won, cell: (t) => t.won },
  { id: 'lost', head: 'Not won', num: true, by: (t) => t.lost, cell: (t) => t.lost },
  { id: 'given_up', head: 'Given up', num: true, by: (t) => t.given_up, cell: (t) => t.given_up },
  { id: 'days', head: 'Days, half of them', num: true, by: (t) => t.median_days, cell: (t) => t.median_days.toFixed(1) },
]

// Took says how long cases took, by directory and cause.
export function Took({ took }: { took: Took[] }) {
  return (
    <section>
      <div className="group-head">
        <h2>How long it took</h2>
        <span>by directory and cause</span>
      </div>
      <DataTable rows={took} columns={tookColumns} rowKey={(t) => t.directory_name + t.kind_title + t.cause_title} />
    </section>
  )
}

function What({ title, cause }: { title: string; cause?: string }) {
  return (
    <>
      {title}
      {cause && <span className="second">: {cause}</span>}
    </>
  )
}
