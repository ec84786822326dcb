import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { Link, useNavigate } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useFacts, useImport } from '../api/queries'
import { pathOf } from '../app/place'
import { counted, Pending, ViewHead } from '../app/View'
import { DataTable, type Column } from '../kit/table'
import { Do, Failed, useVerb } from '../kit/verb'
import { ImportColumns } from './ImportColumns'

type Import = Schemas['Import']

// ImportPreview is what a file would do, before it is brought in, and what it did, after.
export function ImportPreview({ id }: { id: string }) {
  const found = useImport(id)
  const facts = useFacts()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const path = { params: { path: { import: id } } }
  const then = (i: Import) => queries.setQueryData(['import', id], i)
  const match = useVerb({
    does: (columns: string[]) => told(api.PUT('/api/imports/{import}/columns', { ...path, body: columns })),
    then,
  })
  const apply = useVerb({ does: () => told(api.POST('/api/imports/{import}/apply', path)), changes: ['clients'], then })
  if (!found.data || !facts.data) return <Pending error={found.error ?? facts.error} />
  const i = found.data
  const p = i.plan
  const good = p.new + p.changed
  const back = i.client ? pathOf('record', { client: i.client }) : '/record'
  return (
    <>
      <ViewHead title={i.applied ? `${i.file_name} is in` : `What ${i.file_name} would do`} says={`${counted(i.rows, 'row')}.`}>
        {p.bad + p.partly > 0 && (
          <a className="btn btn-outline-secondary" href={`/api/imports/${id}/bad.csv`} download={`mend ${i.file_name}`}>
            Take out {counted(p.bad + p.partly, 'row')} to mend
          </a>
        )}
        {i.applied ? (
          <Button onClick={() => navigate(back)}>See the locations</Button>
        ) : (
          <>
            <Link className="btn btn-outline-secondary" to={back}>
              Cancel
            </Link>
            <Do verb={apply} of={undefined} running="Bringing in" disabled={good === 0 || match.isPending}>
              {good === 0 ? 'Nothing to bring in' : `Bring in ${good}`}
            </Do>
          </>
        )}
      </ViewHead>
      <Failed error={match.error ?? apply.error} />
      <Counts import={i} />
      {p.problems.length > 0 && <ToMend problems={p.problems} applied={i.applied} />}
      <ReadAs plan={p} />
      {!i.applied && <ImportColumns import={i} columns={facts.data.columns} match={match} />}
    </>
  )
}

function Counts({ import: i }: { import: Import }) {
  const p = i.plan
  const counts = [
    [p.new, 'new'],
    [p.changed, 'changed'],
    [p.unchanged, 'unchanged'],
    [p.partly, 'without a cell'],
    [p.bad, 'waiting'],
  ] as const
  return (
    <section className="sheet">
      <h2>{i.applied ? 'Brought in' : 'Would be brought in'}</h2>
      <div className="counts">
        {counts.map(([n, what]) => (
          <span key={what}>
            <b>{n}</b>
            {what}
          </span>
        ))}
      </div>
      {p.clients.length > 0 && (
        <p className="second mt-2 mb-0">
          {counted(p.clients.length, 'client')} {i.applied ? 'added' : 'would be added'}: {p.clients.slice(0, 6).join(', ')}
          {p.clients.length > 6 && ` and ${p.clients.length - 6} more`}.
        </p>
      )}
    </section>
  )
}

type Problem = Schemas['CellProblem']

const problemColumns: Column<Problem>[] = [
  { id: 'line', head: 'Line', num: true, cell: (c) => c.line },
  { id: 'of', head: 'Business and place', cell: (c) => c.of },
  { id: 'column', head: 'Column', className: 'text-nowrap', cell: (c) => c.column },
  { id: 'reason', head: 'What is wrong', cell: (c) => `${c.reason.charAt(0).toUpperCase()}${c.reason.slice(1)}.` },
  { id: 'then', head: 'What happens', className: 'text-nowrap', cell: (c) => (c.left ? 'Comes in without it' : 'The row waits') },
]

// ToMend lists the cells that are left out, and those that keep their rows out.
function ToMend({ problems, applied }: { problems: Problem[]; applied: boolean }) {
  return (
    <section className="sheet">
      <h2>Cells to mend</h2>
      <p className="second">
        A row comes in without a cell that it can do without; without its name or its address it waits.
        {applied
          ? ' Take the rows out as a CSV, mend them, and bring that in.'
          : ' What is not mended can be taken out as a CSV, also later.'}
      </p>
      <DataTable className="border-0" rows={problems} columns={problemColumns} rowKey={(c) => `${c.line} ${c.column} ${c.reason}`} />
    </section>
  )
}

type Reading = Schemas['ReadAs']

const readingColumns: Column<Reading>[] = [
  { id: 'cells', head: 'Cells', num: true, cell: (r) => r.cells },
  { id: 'column', head: 'Column', className: 'text-nowrap', cell: (r) => r.column },
  { id: 'from', head: 'The file says', cell: (r) => `“${r.from}”` },
  {
    id: 'to',
    head: 'Read as',
    cell: (r) => (
      <>
        {r.to}
        {!r.sure && <span className="text-nowrap"> (a guess)</span>}
      </>
    ),
  },
]

// ReadAs lists what cells were read as, guesses first, and the rows that are no locations.
function ReadAs({ plan }: { plan: Schemas['Plan'] }) {
  const guesses = plan.readings.filter((r) => !r.sure).length
  if (plan.readings.length === 0 && plan.skipped.length === 0) return null
  return (
    <section className="sheet">
      <h2>We read this as</h2>
      <p className="second">
        {guesses > 0 ? `${counted(guesses, 'reading is a guess', 'readings are guesses')}; look at them first.` : 'No reading is a guess.'}
        {plan.skipped.map((s) => ` Line ${s.line} is left out: ${s.says}.`).join('')}
      </p>
      {plan.readings.length > 0 && (
        <DataTable className="border-0" rows={plan.readings} columns={readingColumns} rowKey={(r) => `${r.column} ${r.from} ${r.to}`} />
      )}
    </section>
  )
}
