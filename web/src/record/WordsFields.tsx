import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Form } from 'react-bootstrap'
import { api, told, type FieldProblem, type Rec } from '../api/client'
import { useFacts } from '../api/queries'
import { Chips } from './Chips'
import { Field, problemAt } from './Field'

const texts = [
  ['tagline', 'Tagline', 1, 'A few words under the name.'],
  ['short', 'Short description', 2, 'One or two sentences.'],
  ['medium', 'Description', 4, 'What most directories take.'],
  ['long', 'Long description', 6, 'All of it, in paragraphs.'],
  ['story', 'Story', 5, 'The same in a warmer voice, for social networks.'],
] as const

// WordsFields are what the business says of itself, each length with its count
// and what is to be mended in it.
export function WordsFields({
  words,
  problems,
  onChange,
}: {
  words: Rec['words']
  problems: FieldProblem[]
  onChange: (w: Rec['words']) => void
}) {
  const limits = useFacts().data?.limits ?? {}
  return (
    <div className="fields">
      {texts.map(([key, label, rows, help]) => (
        <Prose
          key={key}
          label={label}
          rows={rows}
          help={help}
          value={words[key]}
          limit={limits[key]}
          problem={problemAt(problems, 'words.' + key)}
          onChange={(text) => onChange({ ...words, [key]: text })}
        />
      ))}
      <Chips
        label="Keywords"
        width="w3"
        items={words.keywords}
        problem={problemAt(problems, 'words.keywords')}
        help="What people type. Enter adds one."
        onChange={(keywords) => onChange({ ...words, keywords })}
      />
      <Chips
        label="Specialities"
        width="w3"
        items={words.specialities}
        problem={problemAt(problems, 'words.specialities')}
        help="What they are known for."
        onChange={(specialities) => onChange({ ...words, specialities })}
      />
    </div>
  )
}

// Prose is one text with its count and findings.
export function Prose({
  label,
  rows,
  help,
  value,
  limit,
  problem,
  onChange,
}: {
  label: string
  rows: number
  help?: string
  value: string
  limit?: number
  problem?: string
  onChange: (text: string) => void
}) {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), 250)
    return () => clearTimeout(timer)
  }, [value])
  const found = useQuery({
    queryKey: ['prose', settled],
    queryFn: () => told(api.POST('/api/prose', { body: { text: settled } })),
    enabled: settled !== '',
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  }).data
  const chars = [...value]
  const findings = settled === value && value ? (found ?? []) : []
  return (
    <Field label={label} width="w6" problem={problem} help={value ? undefined : help}>
      {(id, invalid) => (
        <>
          <Form.Control
            as="textarea"
            id={id}
            rows={rows}
            value={value}
            isInvalid={invalid || (!!limit && chars.length > limit)}
            spellCheck
            aria-describedby={id + '-count'}
            onChange={(e) => onChange(rows === 1 ? e.target.value.replaceAll('\n', ' ') : e.target.value)}
          />
          {value && (
            <span className={'count-of' + (limit && chars.length > limit ? ' over' : '')} id={id + '-count'}>
              {chars.length} of {limit} characters
            </span>
          )}
          {findings.length > 0 && (
            <ul className="findings">
              {findings.map((f) => (
                <li key={f.start}>
                  <mark>{chars.slice(f.start, f.end).join('')}</mark> {f.says}
                </li>
              ))}
            </ul>
          )}
        </>
      )}
    </Field>
  )
}
