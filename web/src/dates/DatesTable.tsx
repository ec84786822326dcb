import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { spanWords, useNow } from '../app/clock'
import { pathOf } from '../app/place'
import { DataTable, type Column } from '../kit/table'
import { keyOf, undecided, type DateRow, type Decide } from './decide'
import { OtherHours } from './OtherHours'

// DatesTable lists dates, with what holds on each and what is left to decide.
export function DatesTable({
  dates,
  picked,
  decide,
  onChoose,
}: {
  dates: DateRow[]
  picked: DateRow[]
  decide: Decide
  onChoose: (keys: ReadonlySet<string>) => void
}) {
  const now = useNow()
  const [open, setOpen] = useState<string>()
  const left = dates.filter((d) => undecided(d).length > 0)
  const chosen = new Set(picked.map(keyOf))
  const choose = (key: string, on: boolean) => onChoose(new Set(on ? [...chosen, key] : [...chosen].filter((k) => k !== key)))
  const columns: Column<DateRow>[] = [
    {
      id: 'choose',
      head: (
        <Form.Check
          aria-label="Choose every undecided date"
          checked={picked.length > 0 && picked.length === left.length}
          onChange={(e) => onChoose(new Set(e.target.checked ? left.map(keyOf) : []))}
        />
      ),
      cell: (d) =>
        undecided(d).length > 0 && (
          <Form.Check
            aria-label={`Choose ${spanWords(d, now)}`}
            checked={chosen.has(keyOf(d))}
            onChange={(e) => choose(keyOf(d), e.target.checked)}
          />
        ),
    },
    {
      id: 'date',
      head: 'Date',
      names: true,
      cell: (d) => (
        <button
          type="button"
          className="unfold"
          data-row
          aria-expanded={open === keyOf(d)}
          onClick={() => setOpen(open === keyOf(d) ? undefined : keyOf(d))}
        >
          {spanWords(d, now)}
          {d.name && <span className="second fw-normal"> {d.name}</span>}
        </button>
      ),
    },
    { id: 'holds', head: 'What holds', cell: summary },
    {
      id: 'decided',
      head: 'Decided',
      num: true,
      cell: (d) => `${d.places.length - undecided(d).length} of ${d.places.length}`,
    },
    {
      id: 'acts',
      head: 'Where nothing is said',
      className: 'acts-cell',
      cell: (d) => undecided(d).length > 0 && <Acts date={d} decide={decide} words={spanWords(d, now)} />,
    },
  ]
  return (
    <DataTable
      className="dates"
      rows={dates}
      columns={columns}
      rowKey={keyOf}
      rowClass={(d) => (undecided(d).length > 0 ? undefined : 'settled')}
      beneath={(d) => open === keyOf(d) && <Places date={d} />}
    />
  )
}

// Acts decide one date where nothing is said of it.
function Acts({ date, decide, words }: { date: DateRow; decide: Decide; words: string }) {
  const [typing, setTyping] = useState(false)
  const busy = decide.isPending
  if (typing)
    return (
      <OtherHours
        label={`Hours on ${words}`}
        onHours={(sittings) => decide.mutate({ dates: [date], what: { sittings } }, { onSuccess: () => setTyping(false) })}
        onCancel={() => setTyping(false)}
      />
    )
  return (
    <>
      <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => decide.mutate({ dates: [date], what: {} })}>
        Closed
      </Button>
      <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => decide.mutate({ dates: [date], what: { usual: true } })}>
        Usual hours
      </Button>
      <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => setTyping(true)}>
        Other hours
      </Button>
    </>
  )
}

// Places says what holds on a date at each location.
function Places({ date: d }: { date: DateRow }) {
  return (
    <ul>
      {d.places.map((p) => (
        <li key={p.location}>
          <Link to={pathOf('record', { location: p.location }) + '#hours'}>{p.label}</Link> <span className="second">{p.client_name}</span>
          <span>{p.decided ? p.words : `nothing said: would show as ${p.words}`}</span>
        </li>
      ))}
    </ul>
  )
}

// summary says what holds where something is said: “closed ×4, 10–16 ×2”.
function summary(d: DateRow): string {
  const counts = new Map<string, number>()
  for (const p of d.places) if (p.decided) counts.set(p.words, (counts.get(p.words) ?? 0) + 1)
  return [...counts].map(([words, n]) => (n > 1 ? `${words} ×${n}` : words)).join('; ')
}
