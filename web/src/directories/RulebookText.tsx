import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useEffect, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useNavigate } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useCoverageNames } from '../api/queries'
import { useTimes } from '../app/clock'
import { useCopy } from '../app/copy'
import { useSay } from '../app/say'
import { counted } from '../app/View'
import { Failed } from '../verification/Failed'
import { FitTable } from '../verification/Fit'

const begun = `id: pierbook
name: Pierbook
kind: ferry timetable
summary: The booklet on every ferry, which lists shops near the piers.
weight: 6
worked: by_hand
page: https://pierbook.example/shops

calendar: {country: US, zone: America/Los_Angeles}

listing:
  kinds: [premises, both]

facts:
  - {fact: name, required: true, most_characters: 40}
  - {fact: address, required: true}
  - {fact: category, required: true}
  - {fact: hours}

hours: {sittings_per_day: 1, past_midnight: false}

categories:
  most: 1
  map:
    bakery: Food
  other: Shops

verification: []

publishing: {window: {min: 1, max: 10, unit: business_days}, look_every_hours: 48}
`

// RulebookText is a rulebook as text: mistakes stand at their lines as it is typed, and
// it is tried on a location before it is saved. Each save is a version.
export function RulebookText({ directory: d, location }: { directory?: Schemas['Directory']; location?: string }) {
  const kept = 'rulebook ' + (d?.id ?? 'new')
  const [text, setText] = useState(() => localStorage.getItem(kept) ?? d?.rulebook ?? begun)
  const changed = text !== (d?.rulebook ?? begun)
  const [trial, setTrial] = useState(location ?? '')
  const late = useDeferredValue(text)
  const queries = useQueryClient()
  const navigate = useNavigate()
  const say = useSay()
  const copy = useCopy()
  const names = useCoverageNames()
  const at = useTimes('UTC')
  const area = useRef<HTMLTextAreaElement>(null)
  useEffect(() => {
    if (changed) localStorage.setItem(kept, text)
    else localStorage.removeItem(kept)
  }, [kept, text, changed])
  const check = useQuery({
    queryKey: ['rulebook-check', late, trial],
    queryFn: () => told(api.POST('/api/rulebook-checks', { body: { text: late, location: trial || undefined } })),
    placeholderData: (before) => before,
    enabled: !d || changed || !!trial,
  })
  const versions = useQuery({
    queryKey: ['versions', d?.id],
    queryFn: () => told(api.GET('/api/directories/{directory}/versions', { params: { path: { directory: d!.id } } })),
    enabled: !!d,
  })
  const save = useMutation({
    mutationFn: () =>
      d
        ? told(api.PUT('/api/directories/{directory}', { params: { path: { directory: d.id } }, body: { text } }))
        : told(api.POST('/api/directories', { body: { text } })),
    onSuccess: (saved) => {
      localStorage.removeItem(kept)
      void queries.invalidateQueries()
      say(d ? `A new version of ${saved.name}’s rulebook is in force.` : `${saved.name} is in.`)
      if (!d) void navigate(`?directory=${saved.id}`)
    },
  })
  const problems = check.data?.problems ?? []
  const jump = (line: number) => {
    const el = area.current
    if (!el) return
    const start = text
      .split('\n')
      .slice(0, line - 1)
      .reduce((n, l) => n + l.length + 1, 0)
    el.focus()
    el.setSelectionRange(start, start + (text.split('\n')[line - 1]?.length ?? 0))
    el.scrollTop = (line - 4) * 18
  }
  const lines = text.split('\n').length
  return (
    <section className="sheet rulebook-text">
      <div className="sheet-head">
        <h2>{d ? 'The file' : 'A directory’s rulebook'}</h2>
        <span>
          <Button variant="link" className="p-0 me-3" onClick={() => void copy('The rulebook', text)}>
            Copy
          </Button>
          {changed && (
            <Button variant="link" className="p-0" onClick={() => setText(d?.rulebook ?? begun)}>
              Throw changes away
            </Button>
          )}
        </span>
      </div>
      <div className="editor">
        <pre aria-hidden="true">
          {Array.from({ length: lines }, (_, i) => (problems.some((p) => p.line === i + 1) ? `▸${i + 1}` : `${i + 1}`)).join('\n')}
        </pre>
        <textarea
          ref={area}
          aria-label="The rulebook"
          spellCheck={false}
          value={text}
          rows={Math.min(26, lines + 1)}
          onChange={(e) => setText(e.target.value)}
          onScroll={(e) => {
            const gutter = e.currentTarget.previousElementSibling
            if (gutter) gutter.scrollTop = e.currentTarget.scrollTop
          }}
        />
      </div>
      {problems.length > 0 && (
        <ul className="problems" role="alert">
          {problems.map((p, i) => (
            <li key={i}>
              <Button variant="link" className="p-0" onClick={() => jump(p.line)}>
                line {p.line}
              </Button>{' '}
              {p.path && <span className="mono">{p.path}</span>} {p.message}
            </li>
          ))}
        </ul>
      )}
      <Failed error={save.error} />
      <div className="tries">
        <Form.Group controlId="trial">
          <Form.Label>Try it on</Form.Label>
          <Form.Select value={trial} onChange={(e) => setTrial(e.target.value)}>
            <option value="">no location yet</option>
            {(names.data ?? []).map((n) => (
              <option key={n.location} value={n.location}>
                {n.client_name}, {n.label}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Button disabled={(!!d && !changed) || save.isPending || problems.length > 0 || check.isFetching} onClick={() => save.mutate()}>
          {save.isPending ? 'Saving' : d ? 'Save a new version' : 'Add this directory'}
        </Button>
      </div>
      {check.data?.trial && problems.length === 0 && (
        <div className="px-3 pb-3">
          {check.data.before !== undefined && (
            <p className="second">
              By the rulebook in force {Math.round(check.data.before)} %, by this one {Math.round(check.data.trial.percent)} %.
            </p>
          )}
          <FitTable fit={check.data.trial} location={trial} />
        </div>
      )}
      {versions.data && versions.data.length > 1 && (
        <details>
          <summary>{counted(versions.data.length, 'version')}</summary>
          <ul className="plain-list">
            {versions.data.map((v, i) => (
              <li key={v.version} className="d-flex justify-content-between">
                <div>
                  <b>{v.version === 0 ? 'As it came' : `Version ${v.version}`}</b>
                  <span>
                    {v.saved_at ? `${v.saved_by}, ${at(v.saved_at)}` : v.saved_by}
                    {i === 0 && '; in force'}
                  </span>
                </div>
                <Button variant="link" size="sm" onClick={() => setText(v.text)}>
                  Take this text
                </Button>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}
