import { useId, type ReactNode } from 'react'
import { Form } from 'react-bootstrap'
import type { FieldProblem } from '../api/client'
import { factAt, useHeld, withFact } from './held'
import { Origin } from './Origin'

export type Width = 'w1' | 'w2' | 'w3' | 'w4' | 'w6'

// problemAt finds what is wrong with the fact at a path.
export const problemAt = (problems: FieldProblem[], path: string) => problems.find((p) => p.path === path)?.message

// Field is a labelled fact with room for what is wrong with it.
export function Field({
  label,
  path,
  width,
  problem,
  help,
  children,
}: {
  label: string
  path?: string
  width: Width
  problem?: string
  help?: ReactNode
  children: (id: string, invalid: boolean) => ReactNode
}) {
  const id = useId()
  return (
    <div className={width}>
      <Form.Label htmlFor={id}>{label}</Form.Label>
      {path && <Origin path={path} />}
      {children(id, !!problem)}
      {problem && (
        <Form.Control.Feedback type="invalid" className="d-block" id={id + '-problem'}>
          {problem.charAt(0).toUpperCase() + problem.slice(1)}.
        </Form.Control.Feedback>
      )}
      {!problem && help && <Form.Text>{help}</Form.Text>}
    </div>
  )
}

// TextField is a Field of one line of text.
export function TextField({
  value,
  onChange,
  placeholder,
  type,
  onBlur,
  ...field
}: {
  label: string
  path?: string
  width: Width
  value: string
  onChange: (text: string) => void
  onBlur?: () => void
  problem?: string
  help?: ReactNode
  placeholder?: string
  type?: string
}) {
  return (
    <Field {...field}>
      {(id, invalid) => (
        <Form.Control
          id={id}
          type={type}
          value={value}
          isInvalid={invalid}
          aria-describedby={invalid ? id + '-problem' : undefined}
          placeholder={placeholder}
          autoComplete="off"
          onBlur={onBlur}
          onChange={(e) => onChange(e.target.value)}
        />
      )}
    </Field>
  )
}

// FactField is a TextField of the fact at a path of the record in hand.
export function FactField({
  path,
  ...field
}: { path: string } & Omit<Parameters<typeof TextField>[0], 'value' | 'onChange' | 'problem' | 'path'>) {
  const { record, set, problems } = useHeld()
  return (
    <TextField
      {...field}
      path={path}
      value={(factAt(record, path) as string | undefined) ?? ''}
      problem={problemAt(problems, path)}
      onChange={(text) => set(withFact(record, path, text))}
    />
  )
}
