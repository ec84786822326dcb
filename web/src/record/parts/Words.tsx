import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Form } from 'react-bootstrap'
import { api, told, type Rec } from '../../api/client'
import { useDirectories, useFacts } from '../../api/queries'
import type { Misspelt } from '../../spelling/check'
import { useSpelling } from '../../spelling/useSpelling'
import { Chips } from '../Chips'
import { Field, problemAt } from '../Field'
import { factAt, useHeld, withFact } from '../held'

const texts = [
  ['tagline', 'Tagline', 1, 'A few words under the name.'],
  ['short', 'Short description', 2, 'One or two sentences.'],
  ['medium', 'Description', 4, 'What most directories take.'],
  ['long', 'Long description', 6, 'All of it, in paragraphs.'],
  ['story', 'Story', 5, 'The same in a warmer voice, for social networks.'],
] as const

// Words are what the business says of itself, each length with its count and
// what is to be mended in it.
export function Words() {
  const { record: r, set, problems } = useHeld()
  const limits = useFacts().data?.limits ?? {}
  const words = r.words
  return (
    <section className="sheet">
      <h2>Words</h2>
      <div className="fields">
        {texts.map(([key, label, rows, help]) => (
          <Prose key={key} label={label} path={'words.' + key} rows={rows} help={help} limit={limits[key]} />
        ))}
        <Chips
          label="Keywords"
          path="words.keywords"
          width="w3"
          items={words.keywords}
          problem={problemAt(problems, 'words.keywords')}
          help="What people type. Enter adds one."
          onChange={(keywords) => set({ words: { ...words, keywords } })}
        />
        <Chips
          label="Specialities"
          path="words.specialities"
          width="w3"
          items={words.specialities}
          problem={problemAt(problems, 'words.specialities')}
          help="What they are known for."
          onChange={(specialities) => set({ words: { ...words, specialities } })}
        />
      </div>
    </section>
  )
}

// Prose is one text of the record in hand, with its count and findings.
export function Prose({ label, path, rows, help, limit }: { label: string; path: string; rows: number; help?: string; limit?: number }) {
  const { record, set, problems } = useHeld()
  const value = factAt(record, path) as string
  const problem = problemAt(problems, path)
  const onChange = (text: string) => set(withFact(record, path, text))
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
  const spelt = useSpelling(settled, record.address.country, knownWords(record))
  const fresh = settled === value && value !== ''
  const findings = fresh
    ? [...(found ?? []).map((f) => ({ ...f, instead: [] as string[] })), ...spelt.map(misspelt)].sort((a, b) => a.start - b.start)
    : []
  const replace = (f: { start: number; end: number }, by: string) =>
    onChange([...chars.slice(0, f.start), by, ...chars.slice(f.end)].join(''))
  return (
    <Field label={label} path={path} width="w6" problem={problem} help={value ? undefined : help}>
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
            <span className="counts" id={id + '-count'}>
              <span className={'count-of' + (limit && chars.length > limit ? ' over' : '')}>
                {chars.length} of {limit} characters
              </span>
              <Taken path={path} length={chars.length} />
            </span>
          )}
          {findings.length > 0 && (
            <ul className="findings">
              {findings.map((f) => (
                <li key={f.start + f.says}>
                  <mark>{chars.slice(f.start, f.end).join('')}</mark> {f.says}
                  {f.instead.map((by) => (
                    <button key={by} type="button" title={`Write ${by}`} onClick={() => replace(f, by)}>
                      {by}
                    </button>
                  ))}
                </li>
              ))}
            </ul>
          )}
        </>
      )}
    </Field>
  )
}

const misspelt = (m: Misspelt) => ({ ...m, says: m.instead.length > 0 ? 'It is in no dictionary; perhaps' : 'It is in no dictionary.' })

// knownWords are names and terms of a record that no dictionary need know.
const knownWords = (r: Rec) => [
  r.name,
  r.legal_name,
  r.label,
  r.address.street,
  r.address.locality,
  ...r.former_names,
  ...r.words.keywords,
  ...r.words.specialities,
  ...r.area.towns.map((t) => t.name),
  ...r.team.map((m) => m.name),
  r.mailing.contact,
  ...r.socials.map((s) => s.name),
]

// Taken says what directories' limits make of a text of a length: each that it goes over,
// and the tightest of those that it is within.
function Taken({ path, length }: { path: string; length: number }) {
  const directories = useDirectories().data ?? []
  const limits = directories.flatMap((d) => d.limits.texts.filter((t) => 'words.' + t.text === path).map((t) => ({ ...t, name: d.name })))
  const over = limits.filter((t) => length > t.most)
  const within = limits.filter((t) => length <= t.most).sort((a, b) => a.most - b.most)
  const tightest = within[0]
  return (
    <>
      {over.map((t) => (
        <span key={t.name + t.label} className="count-of over">
          ≠ {t.name}, {t.label.toLowerCase()}: {length - t.most} over its {t.most}
        </span>
      ))}
      {tightest && (
        <span className="count-of" title={within.map((t) => `${t.name}, ${t.label.toLowerCase()}: ${t.most}`).join('\n')}>
          = {tightest.name}, {tightest.label.toLowerCase()}: within {tightest.most}
          {within.length > 1 && `, and ${within.length - 1} with more`}
        </span>
      )}
    </>
  )
}
