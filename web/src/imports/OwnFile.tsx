import { useRef } from 'react'
import { Button } from 'react-bootstrap'
import { api, Refusal, told } from '../api/client'
import { counted } from '../app/View'
import { useVerb } from '../kit/verb'

// OwnFile takes out what listings are given otherwise than their record says, as a file that comes in again.
export function OwnFile({ client }: { client: string | undefined }) {
  const picker = useRef<HTMLInputElement>(null)
  const bring = useVerb({
    does: (file: File) => {
      const body = new FormData()
      body.append('file', file)
      return told(api.POST('/api/own-values', { body: body as never, bodySerializer: (b) => b as never }))
    },
    changes: 'all',
    says: (a) => (a.changed === 0 ? 'All of it was so already.' : `${counted(a.changed, 'value')} changed.`),
  })
  const lines = bring.error instanceof Refusal ? bring.error.fields : []
  return (
    <section className="own-file">
      <div className="group-head">
        <h2>Values of listings’ own</h2>
        <span>what single listings are given otherwise than the record says</span>
      </div>
      <p>
        <a
          className="btn btn-outline-secondary me-2"
          href={'/api/own-values.csv' + (client ? `?client=${client}` : '')}
          download="own values.csv"
        >
          Take them out
        </a>
        <input
          ref={picker}
          id="own-file"
          type="file"
          className="visually-hidden"
          aria-label="File of values of listings’ own"
          accept=".csv,.tsv,.txt,.xlsx"
          tabIndex={-1}
          onChange={(e) => {
            const file = e.target.files?.[0]
            if (file) bring.mutate(file)
            e.target.value = ''
          }}
        />
        <Button variant="outline-secondary" disabled={bring.isPending} onClick={() => picker.current?.click()}>
          {bring.isPending ? 'Bringing in' : 'Bring them in'}
        </Button>
        <span className="second ms-3">
          Columns <span className="mono">client, location, directory, field, value, reason</span>; a row without a value goes back to the
          record.
        </span>
      </p>
      {bring.error && (
        <div className="wrong" role="alert">
          {bring.error.message}
          <ul className="mb-0">
            {lines.slice(0, 20).map((f) => (
              <li key={f.path + f.message}>
                <span className="mono">{f.path}</span> {f.message}
              </li>
            ))}
            {lines.length > 20 && <li>and {lines.length - 20} more</li>}
          </ul>
        </div>
      )}
    </section>
  )
}
