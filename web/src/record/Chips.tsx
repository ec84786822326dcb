import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { Field, type Width } from './Field'

// Chips is a list of short texts: Enter or a comma adds one, Backspace in the
// empty field takes the last one out.
export function Chips({
  label,
  path,
  width,
  items,
  problem,
  help,
  onChange,
}: {
  label: string
  path?: string
  width: Width
  items: string[]
  problem?: string
  help?: string
  onChange: (items: string[]) => void
}) {
  const [typed, setTyped] = useState('')
  const add = () => {
    const next = typed.trim()
    if (next && !items.some((i) => i.toLowerCase() === next.toLowerCase())) onChange([...items, next])
    setTyped('')
  }
  return (
    <Field label={label} path={path} width={width} problem={problem} help={help}>
      {(id, invalid) => (
        <div className={'chips form-control' + (invalid ? ' is-invalid' : '')}>
          {items.map((item) => (
            <span key={item}>
              {item}
              <button type="button" aria-label={`Take out ${item}`} onClick={() => onChange(items.filter((i) => i !== item))}>
                ×
              </button>
            </span>
          ))}
          <Form.Control
            id={id}
            plaintext
            value={typed}
            autoComplete="off"
            onBlur={add}
            onChange={(e) => setTyped(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Enter' || e.key === ',') {
                e.preventDefault()
                add()
              }
              if (e.key === 'Backspace' && typed === '') onChange(items.slice(0, -1))
            }}
          />
        </div>
      )}
    </Field>
  )
}
