import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useFacts, useImport } from '../api/queries'
import { pathOf, usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'

// ImportView brings locations in from a CSV: choose the file, look at what it
// would do, then bring it in. The file is kept by the server meanwhile.
export function ImportView() {
  const { import: id } = useParams()
  return id ? <Preview id={id} /> : <Choose />
}

function Choose() {
  const { scope } = usePlace()
  const name = useScopeName(scope)
  const picker = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const navigate = useNavigate()
  const send = useMutation({
    mutationFn: (file: File) => {
      const body = new FormData()
      if (scope.client) body.append('client', scope.client)
      body.append('file', file)
      return told(api.POST('/api/imports', { body: body as never, bodySerializer: (b) => b as never }))
    },
    onSuccess: (i) => navigate(`/record/import/${i.id}`),
  })
  return (
    <>
      <ViewHead
        title="Bring in a CSV"
        says={
          name
            ? `Rows that name no client go to ${name}.`
            : 'Each row is a location; a column names its client. Nothing is changed before you have seen what would be.'
        }
      />
      {send.error && (
        <p className="wrong" role="alert">
          {send.error.message}
        </p>
      )}
      <div
        className={'drop' + (over ? ' over' : '')}
        onDragOver={(e) => {
          e.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault()
          setOver(false)
          const file = e.dataTransfer.files[0]
          if (file) send.mutate(file)
        }}
      >
        <p>Drop a file here, in UTF-8, with commas, semicolons or tabs; the first line names the columns.</p>
        <input
          ref={picker}
          id="csv"
          type="file"
          className="visually-hidden"
          accept=".csv,.tsv,.txt,text/csv,text/tab-separated-values"
          aria-label="CSV file"
          onChange={(e) => {
            const file = e.target.files?.[0]
            if (file) send.mutate(file)
            e.target.value = ''
          }}
        />
        <Button onClick={() => picker.current?.click()} disabled={send.isPending}>
          {send.isPending ? 'Reading' : 'Choose a file'}
        </Button>
      </div>
    </>
  )
}

function Preview({ id }: { id: string }) {
  const found = useImport(id)
  const facts = useFacts()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const path = { params: { path: { import: id } } }
  const show = (i: Schemas['Import']) => queries.setQueryData(['import', id], i)
  const match = useMutation({
    mutationFn: (columns: string[]) => told(api.PUT('/api/imports/{import}/columns', { ...path, body: columns })),
    onSuccess: show,
  })
  const apply = useMutation({
    mutationFn: () => told(api.POST('/api/imports/{import}/apply', path)),
    onSuccess: async (i) => {
      show(i)
      await queries.invalidateQueries()
    },
  })
  if (!found.data || !facts.data) return <Pending error={found.error ?? facts.error} />
  const i = found.data
  const p = i.plan
  const good = p.new + p.changed
  const back = i.client ? pathOf('record', { client: i.client }) : '/record'
  const error = match.error ?? apply.error
  return (
    <>
      <ViewHead title={i.applied ? `${i.file_name} is in` : `What ${i.file_name} would do`} says={`${counted(i.rows, 'row')}.`}>
        {p.bad > 0 && (
          <a className="btn btn-outline-secondary" href={`/api/imports/${id}/bad.csv`} download={`mend ${i.file_name}`}>
            Take out {counted(p.bad, 'bad row')}
          </a>
        )}
        {i.applied ? (
          <Button onClick={() => navigate(back)}>See the locations</Button>
        ) : (
          <>
            <Link className="btn btn-outline-secondary" to={back}>
              Cancel
            </Link>
            <Button disabled={good === 0 || apply.isPending || match.isPending} onClick={() => apply.mutate()}>
              {apply.isPending ? 'Bringing in' : good === 0 ? 'Nothing to bring in' : `Bring in ${good}`}
            </Button>
          </>
        )}
      </ViewHead>
      {error && (
        <p className="wrong" role="alert">
          {error.message}
        </p>
      )}
      <section className="sheet">
        <h2>{i.applied ? 'Brought in' : 'Would be brought in'}</h2>
        <div className="counts">
          <span>
            <b>{p.new}</b>new
          </span>
          <span>
            <b>{p.changed}</b>changed
          </span>
          <span>
            <b>{p.unchanged}</b>unchanged
          </span>
          <span>
            <b>{p.bad}</b>to mend
          </span>
        </div>
        {p.clients.length > 0 && (
          <p className="second mt-2 mb-0">
            {counted(p.clients.length, 'client')} {i.applied ? 'added' : 'would be added'}: {p.clients.slice(0, 6).join(', ')}
            {p.clients.length > 6 && ` and ${p.clients.length - 6} more`}.
          </p>
        )}
      </section>
      {p.problems.length > 0 && (
        <section className="sheet">
          <h2>Cells to mend</h2>
          <p className="second">
            {i.applied ? 'These rows were left out.' : 'These rows are left out.'} Take them out as a CSV, mend them, and bring that in.
          </p>
          <div className="scroll p-0">
            <table className="grid border-0">
              <thead>
                <tr>
                  <th scope="col" className="num" style={{ top: 0 }}>
                    Line
                  </th>
                  <th scope="col" style={{ top: 0 }}>
                    Column
                  </th>
                  <th scope="col" style={{ top: 0 }}>
                    What is wrong
                  </th>
                </tr>
              </thead>
              <tbody>
                {p.problems.slice(0, 500).map((c, n) => (
                  <tr key={n}>
                    <td className="num">{c.line}</td>
                    <td style={{ whiteSpace: 'nowrap' }}>{c.column}</td>
                    <td>{c.reason.charAt(0).toUpperCase() + c.reason.slice(1)}.</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {p.problems.length > 500 && <p className="second">{p.problems.length - 500} more are in the CSV of bad rows.</p>}
        </section>
      )}
      {!i.applied && (
        <section className="sheet">
          <h2>What each column holds</h2>
          <p className="second">
            Matched by their names; change what is wrong.{' '}
            {i.columns.includes('') && `Left out: ${i.header.filter((_, n) => !i.columns[n]).join(', ')}.`}
          </p>
          <div className="scroll p-0" style={{ maxHeight: 'none' }}>
            <table className="grid columns border-0">
              <thead>
                <tr>
                  <th scope="col">In the file</th>
                  <th scope="col">Holds</th>
                  <th scope="col">First rows</th>
                </tr>
              </thead>
              <tbody>
                {i.header.map((h, n) => (
                  <tr key={n} className={i.columns[n] ? '' : 'left-out'}>
                    <th scope="row">{h || <span className="second">no name</span>}</th>
                    <td>
                      <Form.Select
                        size="sm"
                        aria-label={`What ${h} holds`}
                        value={i.columns[n]}
                        disabled={match.isPending}
                        onChange={(e) => match.mutate(i.columns.map((c, m) => (m === n ? e.target.value : c)))}
                      >
                        <option value="">left out</option>
                        {facts.data.columns.map((c) => (
                          <option key={c.key} value={c.key} disabled={i.columns.includes(c.key) && i.columns[n] !== c.key}>
                            {c.title}
                          </option>
                        ))}
                      </Form.Select>
                    </td>
                    <td className="second">
                      {i.samples
                        .map((s) => s[n])
                        .filter(Boolean)
                        .join(' · ')}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </section>
      )}
    </>
  )
}
