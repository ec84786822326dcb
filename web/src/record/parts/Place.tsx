import { useState } from 'react'
import { Form } from 'react-bootstrap'
import type { FieldProblem, Rec } from '../../api/client'
import { Field, problemAt, TextField } from '../Field'

type Address = Rec['address']

// AddressFields are an address in its parts.
export function AddressFields({
  path,
  address: a,
  problems,
  onChange,
}: {
  path: string
  address: Address
  problems: FieldProblem[]
  onChange: (a: Address) => void
}) {
  const part = (key: keyof Address) => ({
    value: a[key],
    onChange: (t: string) => onChange({ ...a, [key]: t }),
    problem: problemAt(problems, `${path}.${key}`),
  })
  return (
    <>
      <TextField label="Street and number" width="w4" {...part('street')} />
      <TextField label="Unit" width="w2" {...part('unit')} />
      <TextField label="Town" width="w2" {...part('locality')} />
      <TextField label="Region" width="w1" {...part('region')} placeholder="WA" />
      <TextField label="Postal code" width="w2" {...part('postal_code')} />
      <TextField label="Country" width="w1" {...part('country')} placeholder="US" />
    </>
  )
}

// degrees is a number, or none: half a pin is refused at the field when it is saved, not taken for one at zero.
const degrees = (t: string) => (t.trim() ? Number(t) : NaN)

// Degrees are the pin's coordinates. What is typed is kept as it is until it is
// a number.
export function Degrees({ pin, problems, onChange }: { pin: Rec['pin']; problems: FieldProblem[]; onChange: (p: Rec['pin']) => void }) {
  const written = (p: Rec['pin']) => ({ latitude: p ? String(p.latitude) : '', longitude: p ? String(p.longitude) : '' })
  const [typed, setTyped] = useState(written(pin))
  const [seen, setSeen] = useState(pin)
  if (pin !== seen) {
    // It was dragged, or read from elsewhere.
    setSeen(pin)
    if (pin?.latitude !== Number(typed.latitude) || pin?.longitude !== Number(typed.longitude)) {
      if (pin && Number.isFinite(pin.latitude) && Number.isFinite(pin.longitude)) setTyped(written(pin))
    }
  }
  const set = (key: 'latitude' | 'longitude', t: string) => {
    const next = { ...typed, [key]: t }
    setTyped(next)
    if (!next.latitude.trim() && !next.longitude.trim()) onChange(null)
    else onChange({ latitude: degrees(next.latitude), longitude: degrees(next.longitude) })
  }
  const wrong = (t: string) =>
    t.trim() && !Number.isFinite(Number(t)) ? 'it is no number of degrees; write it with a point: 48.5123' : undefined
  return (
    <>
      {(['latitude', 'longitude'] as const).map((key) => (
        <Field key={key} label={`Pin, ${key}`} width="w2" problem={wrong(typed[key]) ?? problemAt(problems, `pin.${key}`)}>
          {(id, invalid) => (
            <Form.Control
              id={id}
              className="mono"
              inputMode="decimal"
              value={typed[key]}
              isInvalid={invalid}
              onChange={(e) => set(key, e.target.value)}
            />
          )}
        </Field>
      ))}
    </>
  )
}
