import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told } from '../api/client'
import { Pending, ViewHead } from '../app/View'

type Parameter = { name: string; in: string; required?: boolean; $ref?: string; description?: string }
type Operation = {
  summary?: string
  operationId?: string
  parameters?: Parameter[]
  requestBody?: { content?: Record<string, { schema?: unknown }> }
}
type Spec = {
  paths: Record<string, Record<string, Operation> & { parameters?: Parameter[] }>
  components: { parameters: Record<string, Parameter> }
}

const methods = ['get', 'post', 'put', 'delete']

// InterfaceView lists all that can be asked over HTTP, and lets one try it.
export function InterfaceView() {
  const spec = useQuery({
    queryKey: ['contract'],
    queryFn: () => told(api.GET('/api/openapi.json')) as unknown as Promise<Spec>,
    staleTime: Infinity,
  })
  const [find, setFind] = useState('')
  const [open, setOpen] = useState<string>()
  if (!spec.data) return <Pending error={spec.error} />
  const s = spec.data
  const all = Object.entries(s.paths).flatMap(([path, item]) =>
    methods
      .filter((m) => item[m])
      .map((m) => ({
        key: m + ' ' + path,
        method: m.toUpperCase(),
        path,
        op: item[m]!,
        parameters: [...(item.parameters ?? []), ...(item[m]!.parameters ?? [])].map((p) =>
          p.$ref ? s.components.parameters[p.$ref.split('/').at(-1)!]! : p,
        ),
      })),
  )
  const words = find.toLowerCase().split(/\s+/)
  const shown = all.filter((o) => words.every((w) => (o.key + ' ' + (o.op.summary ?? '')).toLowerCase().includes(w)))
  return (
    <>
      <ViewHead title="Interface" says={`All ${all.length} things that can be asked over HTTP. Tried here, they are asked in your name.`}>
        <a className="btn btn-outline-secondary" href="/api/openapi.json" download="uvent-openapi.json">
          The contract (OpenAPI)
        </a>
      </ViewHead>
      <Form.Control
        className="mb-2"
        style={{ maxWidth: 420 }}
        aria-label="Find"
        placeholder="Find by words or path"
        value={find}
        onChange={(e) => setFind(e.target.value)}
      />
      <ul className="rows operations">
        {shown.map((o) => (
          <li key={o.key}>
            <div>
              <button
                className="btn btn-link p-0 text-start"
                aria-expanded={open === o.key}
                onClick={() => setOpen(open === o.key ? undefined : o.key)}
              >
                <span className="mono">
                  <b>{o.method}</b> {o.path}
                </span>
              </button>
              <span className="second d-block">{o.op.summary}</span>
              {open === o.key && <Try key={o.key} method={o.method} path={o.path} op={o.op} parameters={o.parameters} />}
            </div>
          </li>
        ))}
      </ul>
    </>
  )
}

function Try({ method, path, op, parameters }: { method: string; path: string; op: Operation; parameters: Parameter[] }) {
  const [values, setValues] = useState<Record<string, string>>({})
  const [body, setBody] = useState('{}')
  const [answer, setAnswer] = useState<{ status: string; text: string }>()
  const kind = Object.keys(op.requestBody?.content ?? {})[0]
  const send = async (e: React.FormEvent) => {
    e.preventDefault()
    const query = new URLSearchParams()
    let to = path
    for (const p of parameters) {
      const v = values[p.name] ?? ''
      if (p.in === 'path') to = to.replace(`{${p.name}}`, encodeURIComponent(v))
      else if (v) query.set(p.name, v)
    }
    try {
      const r = await fetch(to + (query.size ? '?' + query.toString() : ''), {
        method,
        headers: kind === 'application/json' ? { 'Content-Type': kind } : undefined,
        body: kind === 'application/json' ? body : undefined,
      })
      const text = await r.text()
      let shown = text
      try {
        shown = JSON.stringify(JSON.parse(text), null, 2)
      } catch {
        // it is no JSON; shown as it is
      }
      setAnswer({ status: `${r.status} ${r.statusText}`, text: shown.slice(0, 20000) })
    } catch (err) {
      setAnswer({ status: 'No answer', text: (err as Error).message })
    }
  }
  return (
    <form className="try" onSubmit={(e) => void send(e)}>
      {parameters.map((p) => (
        <Form.Group key={p.in + p.name} controlId={'try-' + p.name} className="d-flex gap-2 mb-1 align-items-baseline">
          <Form.Label className="mono mb-0">
            {p.name}
            {p.required && ' *'}
          </Form.Label>
          <Form.Control
            size="sm"
            required={p.required}
            placeholder={p.description}
            value={values[p.name] ?? ''}
            onChange={(e) => setValues({ ...values, [p.name]: e.target.value })}
          />
        </Form.Group>
      ))}
      {kind === 'application/json' && (
        <Form.Control
          as="textarea"
          rows={4}
          className="mono mb-1"
          aria-label="Body"
          value={body}
          onChange={(e) => setBody(e.target.value)}
        />
      )}
      {kind && kind !== 'application/json' && <p className="second mb-1">It takes a file ({kind}); send it with a program.</p>}
      <Button type="submit" size="sm" variant="outline-secondary" disabled={!!kind && kind !== 'application/json'}>
        {method === 'GET' ? 'Ask' : `Send ${method}`}
      </Button>
      {answer && (
        <>
          <p className="mono mt-2 mb-1">{answer.status}</p>
          <pre className="answer">{answer.text}</pre>
        </>
      )}
    </form>
  )
}
