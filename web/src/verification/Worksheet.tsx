import { useMutation, useMutationState, useQuery, useQueryClient } from '@tanstack/react-query'
import { useLayoutEffect, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Listing, type Schemas } from '../api/client'
import { pathOf } from '../app/place'
import { useCopy } from '../app/copy'
import { typing } from '../app/say'
import { Needs } from '../app/Needs'
import { counted, Pending } from '../app/View'
import { Failed } from './Failed'

type Sheet = Schemas['Worksheet']
type Line = Schemas['WorksheetLine']
type Tick = { key: string; text: string; given: boolean; page?: string }

// ticked is a worksheet with one more value given, or taken back.
function ticked(sheet: Sheet, tick: Tick): Sheet {
  return { ...sheet, lines: sheet.lines.map((x) => (x.value.key === tick.key ? { ...x, given: tick.given } : x)) }
}

// Worksheet lays out the values for a directory that people work on, in the order of
// its form: c copies the one that is marked, ticks it and goes on to the next.
export function Worksheet({ listing: l, onGiven }: { listing: Listing; onGiven: () => void }) {
  const path = { location: l.row.location, directory: l.row.directory }
  const key = ['worksheet', path.location, path.directory]
  const queries = useQueryClient()
  const sheet = useQuery({
    queryKey: key,
    queryFn: () => told(api.GET('/api/listings/{location}/{directory}/worksheet', { params: { path } })),
  })
  const tick = useMutation({
    mutationKey: key,
    scope: { id: key.join('/') }, // a tick and its taking back reach the server in their order
    mutationFn: (body: Tick) => told(api.POST('/api/listings/{location}/{directory}/worksheet/ticks', { params: { path }, body })),
    // What is being read may be older than the tick.
    onSuccess: async (_, body) => {
      await queries.cancelQueries({ queryKey: key })
      queries.setQueryData<Sheet>(key, (old) => old && ticked(old, body))
    },
    // The last one has it read anew, and is shown as under way until then.
    onSettled: () => (queries.isMutating({ mutationKey: key }) === 1 ? queries.invalidateQueries({ queryKey: key }) : undefined),
  })
  // Whatever is read meanwhile, ticks that are under way are shown.
  const underWay = useMutationState({
    filters: { mutationKey: key, status: 'pending' },
    select: (m) => m.state.variables as Tick,
  })
  if (!sheet.data) return <Pending error={sheet.error} />
  return (
    <Lines
      sheet={underWay.reduce(ticked, sheet.data)}
      listing={l}
      error={tick.error}
      onTick={(x, given) => tick.mutate({ key: x.value.key, text: x.value.text, given })}
      onPage={(page) => tick.mutate({ key: '', text: '', given: false, page })}
      onGiven={onGiven}
    />
  )
}

function Lines({
  sheet: s,
  listing: l,
  error,
  onTick,
  onPage,
  onGiven,
}: {
  sheet: Sheet
  listing: Listing
  error: Error | null
  onTick: (line: Line, given: boolean) => void
  onPage: (page: string) => void
  onGiven: () => void
}) {
  const toClipboard = useCopy()
  const first = s.lines.findIndex((x) => !x.given)
  const [at, setAt] = useState(Math.max(0, first))
  const rows = useRef<(HTMLTableRowElement | null)[]>([])
  const done = s.lines.filter((x) => x.given).length
  const go = (i: number) => {
    const next = Math.max(0, Math.min(s.lines.length - 1, i))
    setAt(next)
    rows.current[next]?.scrollIntoView({ block: 'nearest' })
  }
  const copy = async (i: number) => {
    const line = s.lines[i]
    if (!line || !(await toClipboard(line.value.label, line.value.text))) return
    onTick(line, true)
    const rest = s.lines.findIndex((x, j) => j > i && !x.given)
    go(rest >= 0 ? rest : i)
  }
  // Before the picture changes: a key pressed at once acts on what is shown, not on what was.
  useLayoutEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return
      const does: Record<string, () => void> = {
        c: () => void copy(at),
        j: () => go(at + 1),
        k: () => go(at - 1),
        ArrowDown: () => go(at + 1),
        ArrowUp: () => go(at - 1),
        x: () => s.lines[at] && onTick(s.lines[at], !s.lines[at].given),
      }
      const act = does[e.key]
      if (!act) return
      e.preventDefault()
      e.stopPropagation()
      act()
    }
    window.addEventListener('keydown', onKey, true)
    return () => window.removeEventListener('keydown', onKey, true)
  })
  const required = s.missing.filter((m) => m.required)
  return (
    <div className="worksheet">
      <div className="sheet-head">
        <p className="second m-0">
          {done} of {counted(s.lines.length, 'value')} given.{' '}
          <span className="no-print">
            <kbd>c</kbd> copies the marked one and goes on, <kbd>x</kbd> ticks it, <kbd>j</kbd> <kbd>k</kbd> move.
          </span>
        </p>
        <span className="no-print">
          {s.page && (
            <a className="btn btn-outline-secondary me-2" href={s.page} target="_blank" rel="noreferrer">
              Open {s.directory_name}
            </a>
          )}
          <Button variant="outline-secondary" onClick={() => window.print()}>
            Print
          </Button>
        </span>
      </div>
      <Failed error={error} />
      {required.length > 0 && (
        <section className="sheet">
          <h2>Before it can be brought there</h2>
          <ul className="plain-list">
            {required.map((m) => (
              <li key={m.key}>
                <b>{m.title}</b>
                <span>
                  {m.says} <Link to={pathOf('record', { location: l.row.location }) + '#' + m.part}>Fill in</Link>
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <table className="grid values" aria-label={`Values for ${s.directory_name}`}>
        <tbody>
          {s.lines.map((x, i) => (
            <tr
              key={x.value.key}
              ref={(el) => {
                rows.current[i] = el
              }}
              className={(i === at ? 'marked ' : '') + (x.given ? 'given' : '')}
              aria-current={i === at}
              onClick={() => setAt(i)}
            >
              <td>
                <input
                  type="checkbox"
                  className="form-check-input"
                  aria-label={`${x.value.label} is given`}
                  checked={x.given}
                  onChange={(e) => onTick(x, e.target.checked)}
                />
              </td>
              <th scope="row">{x.value.label}</th>
              <td className="text">
                {x.value.text}
                {x.value.tick && <span className="says">Tick “{x.value.tick}”, or nobody sees it.</span>}
                {x.value.says.map((t) => (
                  <span className="says second" key={t}>
                    {t}
                  </span>
                ))}
                {x.before && <span className="says">Last time: {x.before}</span>}
                {x.new && <span className="says">New since last time.</span>}
              </td>
              <td className="acts-cell no-print">
                <Button variant="link" size="sm" className="p-0" title="c" onClick={() => void copy(i)}>
                  Copy
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {s.letter ? (
        <Needs what="send">
          {' '}
          <Letter sheet={s} listing={l} blocked={required.length > 0} onGiven={onGiven} />
        </Needs>
      ) : (
        <Needs what="send">
          {' '}
          <Finish sheet={s} listing={l} blocked={required.length > 0} onPage={onPage} onGiven={onGiven} />
        </Needs>
      )}
    </div>
  )
}

function useGive(l: Listing, onGiven: () => void) {
  const queries = useQueryClient()
  const path = { location: l.row.location, directory: l.row.directory }
  return useMutation({
    mutationFn: (body: { page?: string; letter?: string }) =>
      told(api.POST('/api/listings/{location}/{directory}/given', { params: { path }, body })),
    onSuccess: (after) => {
      queries.setQueryData(['listing', path.location, path.directory], after)
      void queries.invalidateQueries({ queryKey: ['worksheet', path.location, path.directory] })
      onGiven()
    },
  })
}

// Finish notes that all was brought there, and where its page is.
function Finish({
  sheet: s,
  listing: l,
  blocked,
  onPage,
  onGiven,
}: {
  sheet: Sheet
  listing: Listing
  blocked: boolean
  onPage: (page: string) => void
  onGiven: () => void
}) {
  const [page, setPage] = useState(s.at)
  const give = useGive(l, onGiven)
  const left = s.lines.filter((x) => !x.given).length
  return (
    <form
      className="finish no-print"
      onSubmit={(e) => {
        e.preventDefault()
        give.mutate({ page })
      }}
    >
      <Failed error={give.error} />
      <Form.Group controlId="page-there">
        <Form.Label>Address of its page there, as far as you know it</Form.Label>
        <Form.Control value={page} onChange={(e) => setPage(e.target.value)} onBlur={() => page !== s.at && onPage(page)} maxLength={500} />
      </Form.Group>
      <Button type="submit" disabled={give.isPending || blocked}>
        {left > 0 ? `Given, all but ${left}` : `All ${s.lines.length} given`}
      </Button>
      <span className="second">What was given is kept as it is now.</span>
    </form>
  )
}

// Letter asks a directory's staff in writing.
function Letter({ sheet: s, listing: l, blocked, onGiven }: { sheet: Sheet; listing: Listing; blocked: boolean; onGiven: () => void }) {
  const [body, setBody] = useState<string>()
  const give = useGive(l, onGiven)
  const copy = useCopy()
  const letter = s.letter!
  const text = body ?? letter.body
  return (
    <section className="sheet to-staff no-print">
      <div className="sheet-head">
        <h2>Write to their staff</h2>
        <span className="second mono">{letter.to}</span>
      </div>
      <Failed error={give.error} />
      <Form.Control
        as="textarea"
        rows={Math.min(18, text.split('\n').length + 1)}
        aria-label="The letter"
        value={text}
        onChange={(e) => setBody(e.target.value)}
        maxLength={20000}
      />
      <p className="m-3">
        <Button disabled={give.isPending || blocked} onClick={() => give.mutate({ letter: text })}>
          {give.isPending ? 'Sending' : `Send to ${s.directory_name}`}
        </Button>{' '}
        <Button variant="outline-secondary" onClick={() => void copy('The letter', text)}>
          Copy the letter
        </Button>{' '}
        <span className="second">It cannot be taken back once it is sent.</span>
      </p>
    </section>
  )
}
