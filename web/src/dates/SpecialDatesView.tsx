import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useSpecialDates } from '../api/queries'
import { spanWords, useNow } from '../app/clock'
import { pathOf, usePlace } from '../app/place'
import { useSay } from '../app/say'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import type { Sitting } from '../record/parts/week'
import { OtherHours } from './OtherHours'

type DateRow = Schemas['SpecialDate']

const keyOf = (d: DateRow) => d.from + d.to

const undecided = (d: DateRow) => d.places.filter((p) => !p.decided)

// SpecialDatesView shows public holidays and other dates over the locations of a
// scope, and decides them for many at once.
export function SpecialDatesView() {
  const { scope } = usePlace()
  const dates = useSpecialDates(scope)
  const name = useScopeName(scope)
  const now = useNow()
  const [chosen, setChosen] = useState<Set<string>>(new Set())
  const [open, setOpen] = useState<string>()
  const [typing, setTyping] = useState<string>()
  const { decide, busy, wrong } = useDecide()
  if (!dates.data) return <Pending error={dates.error} />
  const rows = dates.data
  const left = rows.filter((d) => undecided(d).length > 0)
  const picked = left.filter((d) => chosen.has(keyOf(d)))
  const done = () => {
    setChosen(new Set())
    setTyping(undefined)
  }
  return (
    <>
      <ViewHead
        title={name ? `Special dates, ${name}` : 'Special dates'}
        says={
          left.length === 0
            ? 'Every public holiday of the next twelve months is decided.'
            : `${counted(left.length, 'date')} of the next twelve months undecided somewhere. Directories show the usual hours until something else is said.`
        }
      >
        {picked.length > 0 && (
          <>
            <Button variant="outline-secondary" disabled={busy} onClick={() => decide(picked, { usual: true }, done)}>
              Usual hours on {picked.length}
            </Button>
            <Button disabled={busy} onClick={() => decide(picked, {}, done)}>
              Closed on {picked.length}
            </Button>
          </>
        )}
      </ViewHead>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      {rows.length === 0 ? (
        <div className="empty">
          <h2>No dates yet</h2>
          <p>Public holidays stand here for each location that has hours, by its own country and region, until they are decided.</p>
          <Link className="btn btn-primary" to={pathOf('record', scope)}>
            Go to the record
          </Link>
        </div>
      ) : (
        <table className="grid dates">
          <thead>
            <tr>
              <th>
                <Form.Check
                  aria-label="Choose every undecided date"
                  checked={picked.length > 0 && picked.length === left.length}
                  onChange={(e) => setChosen(e.target.checked ? new Set(left.map(keyOf)) : new Set())}
                />
              </th>
              <th scope="col">Date</th>
              <th scope="col">What holds</th>
              <th scope="col" className="num">
                Decided
              </th>
              <th scope="col">Where nothing is said</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((d) => {
              const key = keyOf(d)
              const missing = undecided(d)
              return [
                <tr key={key} className={missing.length > 0 ? '' : 'settled'}>
                  <td>
                    {missing.length > 0 && (
                      <Form.Check
                        aria-label={`Choose ${spanWords(d, now)}`}
                        checked={chosen.has(key)}
                        onChange={(e) => {
                          const next = new Set(chosen)
                          if (e.target.checked) next.add(key)
                          else next.delete(key)
                          setChosen(next)
                        }}
                      />
                    )}
                  </td>
                  <th scope="row">
                    <button
                      type="button"
                      className="unfold"
                      data-row
                      aria-expanded={open === key}
                      onClick={() => setOpen(open === key ? undefined : key)}
                    >
                      {spanWords(d, now)}
                      {d.name && <span className="second fw-normal"> {d.name}</span>}
                    </button>
                  </th>
                  <td>{summary(d)}</td>
                  <td className="num">
                    {d.places.length - missing.length} of {d.places.length}
                  </td>
                  <td className="acts-cell">
                    {missing.length > 0 &&
                      (typing === key ? (
                        <OtherHours
                          label={`Hours on ${spanWords(d, now)}`}
                          onHours={(sittings) => decide([d], { sittings }, done)}
                          onCancel={() => setTyping(undefined)}
                        />
                      ) : (
                        <>
                          <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => decide([d], {}, done)}>
                            Closed
                          </Button>
                          <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => decide([d], { usual: true }, done)}>
                            Usual hours
                          </Button>
                          <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => setTyping(key)}>
                            Other hours
                          </Button>
                        </>
                      ))}
                  </td>
                </tr>,
                open === key && (
                  <tr key={key + 'open'} className="places">
                    <td />
                    <td colSpan={4}>
                      <ul>
                        {d.places.map((p) => (
                          <li key={p.location}>
                            <Link to={pathOf('record', { location: p.location }) + '#hours'}>{p.label}</Link>{' '}
                            <span className="second">{p.client_name}</span>
                            <span>{p.decided ? p.words : `nothing said: would show as ${p.words}`}</span>
                          </li>
                        ))}
                      </ul>
                    </td>
                  </tr>
                ),
              ]
            })}
          </tbody>
        </table>
      )}
    </>
  )
}

// summary says what holds where something is said: “closed ×4, 10–16 ×2”.
function summary(d: DateRow): string {
  const counts = new Map<string, number>()
  for (const p of d.places) if (p.decided) counts.set(p.words, (counts.get(p.words) ?? 0) + 1)
  return [...counts].map(([words, n]) => (n > 1 ? `${words} ×${n}` : words)).join('; ')
}

// useDecide writes a decision into the records that say nothing yet, and offers
// to undo it.
function useDecide() {
  const queries = useQueryClient()
  const say = useSay()
  const change = useMutation({ mutationFn: (body: Schemas['DateDecision']) => told(api.POST('/api/special-dates', { body })) })
  const decide = async (rows: DateRow[], what: { usual?: boolean; sittings?: Sitting[] }, done: () => void) => {
    // Dates that are open at the same locations are decided together.
    const groups = new Map<string, { locations: string[]; dates: Schemas['Span'][] }>()
    for (const d of rows) {
      const locations = undecided(d).map((p) => p.location)
      const key = locations.join()
      const group = groups.get(key) ?? { locations, dates: [] }
      group.dates.push({ from: d.from, to: d.to })
      groups.set(key, group)
    }
    const changes: string[] = []
    let saved = 0
    try {
      for (const g of groups.values()) {
        const out = await change.mutateAsync({ ...g, usual: what.usual ?? false, sittings: what.sittings ?? [] })
        changes.push(out.change)
        saved += out.saved
      }
      done()
      say(`${counted(rows.length, 'date')} decided in ${counted(saved, 'record')}.`, async () => {
        for (const c of changes.reverse()) await told(api.POST('/api/record-changes/{change}/undo', { params: { path: { change: c } } }))
        await queries.invalidateQueries()
        say('The records are as they were before.')
      })
    } finally {
      await queries.invalidateQueries()
    }
  }
  return {
    decide: (rows: DateRow[], what: { usual?: boolean; sittings?: Sitting[] }, done: () => void) =>
      void decide(rows, what, done).catch(() => {}),
    busy: change.isPending,
    wrong: change.error?.message,
  }
}
