import { useEffect, useRef, useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { ago, useNow } from '../app/clock'
import { usePlace } from '../app/place'
import { typing } from '../app/say'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { More, rowsOf } from '../kit/paged'
import { DataTable, type Column } from '../kit/table'
import { Failed, useVerb } from '../kit/verb'
import { OwnFile } from './OwnFile'
import { Workbench } from './Workbench'
import { useImports } from './work'

// ImportView brings locations in from a file: choose or paste it, mend what needs it, then bring it in. The file
// is kept by the server meanwhile.
export function ImportView() {
  const { import: id } = useParams()
  return id ? <Workbench key={id} id={id} /> : <Choose />
}

function useSend(client: string | undefined) {
  const navigate = useNavigate()
  return useVerb({
    does: (file: File) => {
      const body = new FormData()
      if (client) body.append('client', client)
      body.append('file', file)
      return told(api.POST('/api/imports', { body: body as never, bodySerializer: (b) => b as never }))
    },
    changes: ['imports'],
    then: (i) => navigate(`/record/import/${i.id}`),
  })
}

function Choose() {
  const { scope } = usePlace()
  const name = useScopeName(scope)
  const picker = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const { mutate, isPending, error } = useSend(scope.client)
  useEffect(() => {
    const paste = (e: ClipboardEvent) => {
      if (typing(e.target)) return
      const file = e.clipboardData?.files[0]
      const text = e.clipboardData?.getData('text/plain') ?? ''
      if (file) mutate(file)
      else if (text.trim()) mutate(new File([text], 'pasted table.txt', { type: 'text/plain' }))
    }
    window.addEventListener('paste', paste)
    return () => window.removeEventListener('paste', paste)
  }, [mutate])
  return (
    <>
      <ViewHead
        title="Bring in locations"
        says={
          name
            ? `Rows that name no client go to ${name}.`
            : 'Each row is a location; a column may name its client. Nothing is changed before you have seen what would be.'
        }
      />
      <Failed error={error} />
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
          if (file) mutate(file)
        }}
      >
        <p>
          Drop a spreadsheet here, or paste a table (<kbd>Ctrl</kbd> <kbd>V</kbd>).
        </p>
        <input
          ref={picker}
          id="file"
          type="file"
          className="visually-hidden"
          accept=".csv,.tsv,.txt,.xlsx,text/csv,text/tab-separated-values,application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
          aria-label="File of locations"
          onChange={(e) => {
            const file = e.target.files?.[0]
            if (file) mutate(file)
            e.target.value = ''
          }}
        />
        <Button onClick={() => picker.current?.click()} disabled={isPending}>
          {isPending ? 'Reading' : 'Choose a file'}
        </Button>
        <p className="second mt-3 mb-0">
          XLSX or CSV, whatever its columns are called, in which order, and how it is written. Phones, hours, countries and dates are read
          as people write them. Up to 32 MB and 100,000 rows.
        </p>
      </div>
      <Kept client={scope.client} />
      <OwnFile client={scope.client} />
    </>
  )
}

type Line = Schemas['ImportLine']

const stateWords: Record<Line['state'], string> = {
  reading: 'being read',
  ready: 'not in yet',
  bringing: 'coming in',
  in: 'in',
  taking_back: 'being taken back',
  failed: 'cannot be read',
}

// Kept lists the files that were brought, the latest first: each can be gone on with, or taken back.
function Kept({ client }: { client: string | undefined }) {
  const list = useImports(client)
  const now = useNow()
  const rows = rowsOf(list, (p) => p)
  const columns: Column<Line>[] = [
    {
      id: 'file',
      head: 'File',
      names: true,
      cell: (i) => (
        <Link to={`/record/import/${i.id}`} data-row>
          {i.file_name}
        </Link>
      ),
    },
    { id: 'rows', head: 'Rows', num: true, cell: (i) => i.rows },
    { id: 'state', head: 'How far', cell: (i) => (i.trouble && i.state === 'ready' ? 'stopped half-way' : stateWords[i.state]) },
    { id: 'open', head: 'Still open', num: true, cell: (i) => (i.counts.by.decide ?? 0) + (i.counts.by.waits ?? 0) || '' },
    { id: 'who', head: 'Brought by', cell: (i) => `${i.person}, ${ago(new Date(i.created_at), now)}` },
  ]
  if (!list.data) return <Pending error={list.error} />
  if (rows.length === 0) return null
  return (
    <section>
      <div className="group-head">
        <h2>Files so far</h2>
        <span>{counted(rows.length, 'file')} shown</span>
      </div>
      <DataTable rows={rows} columns={columns} rowKey={(i) => i.id} />
      {list.hasNextPage && (
        <More list={list} onMore={() => void list.fetchNextPage()} variant="link">
          Earlier files
        </More>
      )}
    </section>
  )
}
