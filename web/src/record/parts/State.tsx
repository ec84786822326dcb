import { Form } from 'react-bootstrap'
import type { FieldProblem, Rec } from '../../api/client'
import { Field, problemAt, TextField } from '../Field'

const states: [string, string][] = [
  ['open', 'Open for business'],
  ['opening_soon', 'Opening soon'],
  ['closed_for_a_time', 'Closed for a time'],
  ['closed_for_good', 'Closed for good'],
  ['moved', 'Moved'],
]

// State is whether the location does business, and since when.
export function State({
  state,
  opened,
  problems,
  onChange,
}: {
  state: Rec['state']
  opened: string
  problems: FieldProblem[]
  onChange: (part: Partial<Rec>) => void
}) {
  return (
    <>
      <Field label="State" width="w2" problem={problemAt(problems, 'state.kind')}>
        {(id, invalid) => (
          <Form.Select
            id={id}
            value={state.kind}
            isInvalid={invalid}
            onChange={(e) => onChange({ state: { ...state, kind: e.target.value } })}
          >
            {states.map(([kind, words]) => (
              <option key={kind} value={kind}>
                {words}
              </option>
            ))}
          </Form.Select>
        )}
      </Field>
      <TextField
        label="Opened"
        width="w2"
        value={opened}
        placeholder="1987, or 2026-12-01"
        problem={problemAt(problems, 'opened')}
        onChange={(t) => onChange({ opened: t })}
      />
      {state.kind === 'closed_for_a_time' && (
        <TextField
          label="Closed until"
          width="w2"
          type="date"
          value={state.until}
          problem={problemAt(problems, 'state.until')}
          onChange={(until) => onChange({ state: { ...state, until } })}
        />
      )}
      {state.kind === 'moved' && (
        <TextField
          label="Moved to"
          width="w2"
          value={state.to}
          problem={problemAt(problems, 'state.to')}
          onChange={(to) => onChange({ state: { ...state, to } })}
        />
      )}
    </>
  )
}
