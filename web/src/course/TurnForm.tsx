import { Form } from 'react-bootstrap'
import type { FieldProblem, Schemas } from '../api/client'
import { useNow, useZone } from '../app/clock'
import { Field, problemAt, TextField } from '../record/Field'

type Kind = Schemas['Turn']['state']['kind'] | 'moves'

// Wanted is what somebody has filled in so far.
export type Wanted = { kind: Kind; on: string; until: string; to: string; address: Schemas['Address']; lacks?: string }

const kinds: [Kind, string][] = [
  ['closed_for_a_time', 'Closes for a time'],
  ['closed_for_good', 'Closes for good'],
  ['moves', 'Moves to another address'],
  ['moved', 'Has gone; another location takes over'],
  ['open', 'Opens again'],
]

// first is what is likely: a location that is closed opens again.
export function first(record?: Schemas['Record']): Wanted {
  const address = record?.address ?? { street: '', unit: '', locality: '', region: '', postal_code: '', country: 'US' }
  const closed = !!record && !['open', 'opening_soon'].includes(record.state.kind)
  const wanted: Wanted = {
    kind: closed ? 'open' : 'closed_for_a_time',
    on: '',
    until: '',
    to: '',
    address: { ...address, street: '', unit: '' },
  }
  return { ...wanted, lacks: lack(wanted) }
}

const lack = (w: Wanted) =>
  w.kind === 'moves' && (!w.address.street || !w.address.locality) ? 'Say where it moves to: street and town.' : undefined

// turnOf is what is asked for; nothing while something lacks.
export function turnOf(w: Wanted, locations: string[]): Schemas['Turn'] | undefined {
  if (w.lacks || locations.length === 0) return undefined
  return {
    locations,
    state: {
      kind: w.kind === 'moves' ? 'open' : w.kind,
      until: (w.kind === 'closed_for_a_time' && w.until) || undefined,
      to: (w.kind === 'moved' && w.to) || undefined,
    },
    address: w.kind === 'moves' ? w.address : undefined,
    on: w.on || undefined,
  }
}

// TurnForm asks what happens to locations, and when.
export function TurnForm({
  wanted,
  single,
  problems,
  onChange,
}: {
  wanted: Wanted
  single: boolean
  problems: FieldProblem[]
  onChange: (w: Wanted) => void
}) {
  const now = useNow()
  const zone = useZone()
  const today = new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short' }).format(now)
  const set = (part: Partial<Wanted>) => {
    const next = { ...wanted, ...part }
    onChange({ ...next, lacks: lack(next) })
  }
  const line = (key: 'street' | 'unit' | 'locality' | 'region' | 'postal_code', label: string, width: 'w1' | 'w2' | 'w3') => (
    <TextField
      label={label}
      width={width}
      value={wanted.address[key]}
      problem={problemAt(problems, 'address.' + key)}
      onChange={(t) => set({ address: { ...wanted.address, [key]: t } })}
    />
  )
  return (
    <div className="fields">
      <Field label="What" width="w2">
        {(id) => (
          <Form.Select id={id} value={wanted.kind} onChange={(e) => set({ kind: e.target.value as Kind })}>
            {kinds
              .filter(([k]) => single || k !== 'moves')
              .map(([k, words]) => (
                <option key={k} value={k}>
                  {words}
                </option>
              ))}
          </Form.Select>
        )}
      </Field>
      <Field label="From" width="w1" problem={problemAt(problems, 'on')} help="Left empty: now.">
        {(id) => <Form.Control id={id} type="date" min={today} value={wanted.on} onChange={(e) => set({ on: e.target.value })} />}
      </Field>
      {wanted.kind === 'closed_for_a_time' && (
        <Field
          label="Last day closed"
          width="w1"
          problem={problemAt(problems, 'until')}
          help={wanted.until ? 'It opens again the day after.' : 'Left empty: until you say.'}
        >
          {(id, invalid) => (
            <Form.Control
              id={id}
              type="date"
              isInvalid={invalid}
              min={wanted.on || today}
              value={wanted.until}
              onChange={(e) => set({ until: e.target.value })}
            />
          )}
        </Field>
      )}
      {wanted.kind === 'moved' && (
        <TextField label="Where to" width="w3" value={wanted.to} problem={problemAt(problems, 'state.to')} onChange={(to) => set({ to })} />
      )}
      {wanted.kind === 'moves' && (
        <>
          {line('street', 'Street and number', 'w2')}
          {line('unit', 'Unit', 'w1')}
          {line('locality', 'Town', 'w2')}
          {line('region', 'Region', 'w1')}
          {line('postal_code', 'Postal code', 'w1')}
        </>
      )}
    </div>
  )
}
