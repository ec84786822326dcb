import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../../api/client'
import { useFacts } from '../../api/queries'
import { Options } from '../../kit/options'
import { Uploads, useUploads } from '../../app/Uploads'
import { Failed, useVerb } from '../../kit/verb'
import { Entries } from '../Entries'
import { useHeld, useWhose } from '../held'
import { Origin } from '../Origin'

type Paper = Schemas['Paper']

// Papers are documents that prove something, and the licences to trade.
export function Papers() {
  const whose = useWhose()
  return (
    <>
      {whose ? (
        <Documents query={whose} />
      ) : (
        <section className="sheet">
          <h2>Papers</h2>
          <p className="second">Papers can be brought in once this is added.</p>
        </section>
      )}
      <Licences />
    </>
  )
}

function Documents({ query }: { query: { client?: string; location?: string } }) {
  const facts = useFacts().data
  const queries = useQueryClient()
  const file = useRef<HTMLInputElement>(null)
  const papers = useQuery({ queryKey: ['papers', query], queryFn: () => told(api.GET('/api/papers', { params: { query } })) })
  const fetched = () => void queries.invalidateQueries({ queryKey: ['papers'] })
  const { sending, send, drop } = useUploads<Paper>(facts?.paper_bytes, fetched)
  const take = (files: File[]) => void send(files, '/api/papers?' + new URLSearchParams(query as Record<string, string>).toString(), {})
  const remove = useVerb({
    does: (p: Paper) => told(api.DELETE('/api/papers/{paper}', { params: { path: { paper: p.id } } })),
    changes: ['papers'],
    says: (_, p) => `${p.file_name} is taken out.`,
    undo: async (_, p) => {
      await told(api.POST('/api/papers/{paper}/restore', { params: { path: { paper: p.id } } }))
      return `${p.file_name} is back.`
    },
    tells: true,
  })
  const [over, setOver] = useState(false)
  const list = papers.data ?? []
  return (
    <section
      className={'sheet photo-drop' + (over ? ' over' : '')}
      onDragOver={(e) => {
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault()
        setOver(false)
        take([...e.dataTransfer.files])
      }}
    >
      <div className="sheet-head">
        <h2>Papers</h2>
        <Button variant="link" className="p-0" onClick={() => file.current?.click()}>
          Bring in papers
        </Button>
      </div>
      <input
        ref={file}
        id="papers"
        type="file"
        multiple
        hidden
        aria-label="Papers"
        accept=".pdf,image/*"
        onChange={(e) => {
          take([...(e.target.files ?? [])])
          e.target.value = ''
        }}
      />
      <p className="second">
        Licences, bills, registrations: PDF, or a photo of the paper. Drop them here. The text of a PDF is read, so that it can be held
        against the record before a directory sees it.
      </p>
      <Uploads sending={sending} onDrop={drop} />
      {list.map((p) => (
        <Document key={p.id} paper={p} kinds={facts?.paper_kinds ?? []} onRemove={() => remove.mutate(p)} />
      ))}
    </section>
  )
}

function Document({ paper: p, kinds, onRemove }: { paper: Paper; kinds: Schemas['Column'][]; onRemove: () => void }) {
  const save = useVerb({
    does: (body: Schemas['PaperFacts']) => told(api.PUT('/api/papers/{paper}', { params: { path: { paper: p.id } }, body })),
    changes: ['papers'],
  })
  const set = (part: Partial<Schemas['PaperFacts']>) => save.mutate({ kind: p.kind, issued: p.issued, until: p.until, ...part })
  const words = p.words.split(/\s+/).filter(Boolean).length
  return (
    <div className="paper">
      <div className="sheet-head">
        <b className="text-truncate">{p.file_name}</b>
        <span>
          <a href={`/api/papers/${p.id}/file`} className="me-3">
            Take out
          </a>
          <Button variant="link" className="p-0" aria-label={`Remove ${p.file_name}`} onClick={onRemove}>
            Remove
          </Button>
        </span>
      </div>
      <Failed error={save.error} />
      <div className="fields">
        <div className="w2">
          <Form.Label htmlFor={p.id + 'kind'}>It is</Form.Label>
          <Form.Select id={p.id + 'kind'} value={p.kind} onChange={(e) => set({ kind: e.target.value })}>
            <Options of={kinds} />
          </Form.Select>
        </div>
        <div className="w2">
          <Form.Label htmlFor={p.id + 'issued'}>Issued</Form.Label>
          <Form.Control
            id={p.id + 'issued'}
            type="date"
            defaultValue={p.issued}
            onBlur={(e) => e.target.value !== p.issued && set({ issued: e.target.value })}
          />
        </div>
        <div className="w2">
          <Form.Label htmlFor={p.id + 'until'}>Holds until</Form.Label>
          <Form.Control
            id={p.id + 'until'}
            type="date"
            defaultValue={p.until}
            onBlur={(e) => e.target.value !== p.until && set({ until: e.target.value })}
          />
        </div>
      </div>
      <details className="px-3">
        <summary>
          {p.shared && 'the client’s · '}
          {p.format.toUpperCase()}, {p.pages} {p.pages === 1 ? 'page' : 'pages'} ·{' '}
          {words > 0 ? `${words} words read` : p.format === 'pdf' ? 'no text in it: it is a scan' : 'a picture, whose text is not read'}
        </summary>
        {words > 0 && <pre className="paper-text">{p.words}</pre>}
      </details>
    </div>
  )
}

function Licences() {
  const { record: r, set } = useHeld()
  return (
    <section className="sheet">
      <h2>
        Licences <Origin path="licences" />
      </h2>
      <Entries
        path="licences"
        one="Licence"
        items={r.licences}
        blank={{ name: '', number: '', authority: '', until: '' }}
        columns={[
          { key: 'name', title: 'Licence' },
          { key: 'number', title: 'Number' },
          { key: 'authority', title: 'Given by' },
          { key: 'until', title: 'Until', type: 'date' },
        ]}
        onChange={(licences) => set({ licences })}
      />
    </section>
  )
}
