import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../../api/client'
import { spanWords, useNow, useZone } from '../../app/clock'
import { OtherHours } from '../../dates/OtherHours'
import { useHours, type HoursPlace } from './HoursEditor'
import { readSittings, sittingsWords, type Sitting } from './week'

type Row = { from: string; to: string; name: string; decided: boolean; sittings: Sitting[]; byName: boolean }

// SpecialDates lists the public holidays to come and other dates of a record,
// and what holds on each. It writes into the same text as the usual week.
export function SpecialDates({ text, place, onChange }: { text: string; place: HoursPlace; onChange: (text: string) => void }) {
  const read = useHours(text, place)
  const now = useNow()
  const [typing, setTyping] = useState<string>()
  const [adding, setAdding] = useState(false)
  const today = new Intl.DateTimeFormat('sv-SE', { timeZone: useZone(), dateStyle: 'short' }).format(now)
  if (!read || read.errors.length > 0) return null
  const specials = read.specials.filter((s) => s.to >= today)
  const rows: Row[] = [
    ...specials.map((s) => ({
      from: s.from,
      to: s.to,
      name: read.holidays
        .filter((h) => h.date >= s.from && h.date <= s.to)
        .map((h) => h.name)
        .join(', '),
      decided: true,
      sittings: s.sittings ?? [],
      byName: true,
    })),
    ...read.holidays
      .filter((h) => !specials.some((s) => s.from <= h.date && h.date <= s.to))
      .map((h) => ({ from: h.date, to: h.date, name: h.name, decided: h.decided, sittings: h.sittings, byName: false })),
  ].sort((a, b) => a.from.localeCompare(b.from))

  const send = async (more: Partial<Schemas['HoursQuestion']>) => {
    const answer = await told(api.POST('/api/hours', { body: { text, ...place, ...more } }))
    setTyping(undefined)
    setAdding(false)
    onChange(answer.text)
  }
  const lay = (r: { from: string; to: string }, sittings: Sitting[]) => send({ lay: { from: r.from, to: r.to, sittings, comment: '' } })

  return (
    <>
      <div className="sheet-head">
        <h2>Special dates</h2>
        {!adding && (
          <Button variant="link" className="p-0" onClick={() => setAdding(true)}>
            Add dates
          </Button>
        )}
      </div>
      {adding && <AddDates today={today} onAdd={lay} onCancel={() => setAdding(false)} />}
      {rows.length === 0 && read && <p className="second">{nothing(read.holidays_known, place.country)}</p>}
      <ul className="plain-list special">
        {rows.map((r) => {
          const key = r.from + r.to
          const words = spanWords(r, now)
          return (
            <li key={key} className={r.decided ? '' : 'open'}>
              <div>
                <b>
                  {words}
                  {r.name && <span> {r.name}</span>}
                </b>
                <span>{r.decided ? sittingsWords(r.sittings) : `nothing said: would show as ${sittingsWords(r.sittings)}`}</span>
              </div>
              <div className="acts-cell">
                {typing === key ? (
                  <OtherHours label={`Hours on ${words}`} onHours={(s) => lay(r, s)} onCancel={() => setTyping(undefined)} />
                ) : r.byName ? (
                  <Button variant="link" size="sm" onClick={() => send({ drop: { from: r.from, to: r.to } })}>
                    Take out
                  </Button>
                ) : (
                  <>
                    <Button variant="outline-secondary" size="sm" onClick={() => lay(r, [])}>
                      Closed
                    </Button>
                    {r.sittings.length > 0 && !r.decided && (
                      <Button variant="outline-secondary" size="sm" onClick={() => lay(r, r.sittings)}>
                        Usual hours
                      </Button>
                    )}
                    <Button variant="outline-secondary" size="sm" onClick={() => setTyping(key)}>
                      Other hours
                    </Button>
                  </>
                )}
              </div>
            </li>
          )
        })}
      </ul>
    </>
  )
}

function AddDates({
  today,
  onAdd,
  onCancel,
}: {
  today: string
  onAdd: (span: { from: string; to: string }, s: Sitting[]) => void
  onCancel: () => void
}) {
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const [text, setText] = useState('')
  const sittings = text.trim() === '' ? [] : readSittings(text)
  const good = from && (to || from) >= from && sittings
  return (
    <div
      className="fields pb-2"
      onKeyDown={(e) => {
        if (e.key === 'Enter') {
          e.preventDefault()
          if (good) onAdd({ from, to: to || from }, sittings)
        }
      }}
    >
      <div className="w1 wide">
        <Form.Label htmlFor="dates-from">From</Form.Label>
        <Form.Control id="dates-from" type="date" min={today} value={from} onChange={(e) => setFrom(e.target.value)} />
      </div>
      <div className="w1 wide">
        <Form.Label htmlFor="dates-to">To</Form.Label>
        <Form.Control id="dates-to" type="date" min={from || today} value={to} onChange={(e) => setTo(e.target.value)} />
      </div>
      <div className="w2">
        <Form.Label htmlFor="dates-hours">Hours</Form.Label>
        <Form.Control
          id="dates-hours"
          placeholder="closed, or 10-16"
          value={text}
          isInvalid={!sittings}
          onChange={(e) => setText(e.target.value.replace(/^closed$/i, ''))}
        />
      </div>
      <div className="w2 d-flex align-items-end gap-2">
        <Button variant="outline-secondary" disabled={!good} onClick={() => good && onAdd({ from, to: to || from }, sittings)}>
          Add
        </Button>
        <Button variant="link" onClick={onCancel}>
          Cancel
        </Button>
      </div>
    </div>
  )
}

// nothing says why no date is shown.
function nothing(known: boolean, country: string): string {
  if (known) return 'Public holidays show here once there are hours; no dates are named.'
  if (!/^[A-Z]{2}$/i.test(country)) return 'Public holidays are not known without a country; no dates are named.'
  return `There is no calendar of public holidays for ${new Intl.DisplayNames('en', { type: 'region' }).of(country.toUpperCase())}; no dates are named.`
}
