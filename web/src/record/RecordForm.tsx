import { useEffect } from 'react'
import { Form } from 'react-bootstrap'
import { Link, useLocation, useNavigate } from 'react-router'
import { Refusal, type Rec } from '../api/client'
import { ViewHead } from '../app/View'
import { problemAt, TextField } from './Field'
import { HoursEditor } from './HoursEditor'
import { Kinds } from './Kinds'
import { PhoneFields } from './PhoneFields'
import { AddressFields, Degrees } from './Place'
import { ReadFromHours } from './ReadFromHours'
import { SpecialDates } from './SpecialDates'
import { State } from './State'
import { Prose, WordsFields } from './WordsFields'

const kinds: [string, string][] = [
  ['premises', 'Premises: people come'],
  ['goes_to_customers', 'Goes to customers'],
  ['both', 'Both'],
]

const parts = [
  ['identity', 'Identity'],
  ['contact', 'Contact'],
  ['hours', 'Hours'],
  ['categories', 'Categories'],
  ['words', 'Words'],
] as const

type Part = (typeof parts)[number][0]

// partOf is the part in which a fact is kept, by its path.
function partOf(path: string): Part {
  if (/^(address|mailing|pin|phones|email|website|zone|directions|parking)/.test(path)) return 'contact'
  if (path.startsWith('hours')) return 'hours'
  if (/^(category|other_categories|attributes)/.test(path)) return 'categories'
  return path.startsWith('words') ? 'words' : 'identity'
}

// RecordForm is a record to fill in, part by part; what is wrong is shown in the
// part where it stands.
export function RecordForm({
  title,
  says,
  record: r,
  error,
  notice,
  acts,
  aside,
  onChange,
  onSave,
}: {
  title: string
  says: React.ReactNode
  record: Rec
  error: Error | null
  notice?: React.ReactNode
  acts: React.ReactNode
  aside?: React.ReactNode
  onChange: (r: Rec) => void
  onSave: () => void
}) {
  const problems = error instanceof Refusal ? error.fields : []
  const { hash } = useLocation()
  const navigate = useNavigate()
  const part = parts.find(([id]) => '#' + id === hash)?.[0] ?? 'identity'
  useEffect(() => {
    // What is wrong is shown, whichever part it is in.
    const first = error instanceof Refusal ? error.fields[0] : undefined
    if (first) navigate({ hash: partOf(first.path) }, { replace: true })
  }, [error, navigate])
  const set = (some: Partial<Rec>) => onChange({ ...r, ...some })
  const text = (key: 'label' | 'store_code' | 'name' | 'legal_name' | 'email' | 'website' | 'zone') => ({
    value: r[key],
    onChange: (t: string) => set({ [key]: t }),
    problem: problemAt(problems, key),
  })
  const place = { country: r.address.country, region: r.address.region, zone: r.zone }
  return (
    <form
      noValidate
      onSubmit={(e) => {
        e.preventDefault()
        onSave()
      }}
    >
      <ViewHead title={title} says={says}>
        {acts}
      </ViewHead>
      <nav className="sections" aria-label="Parts of the record">
        {parts.map(([id, name]) => {
          const wrong = problems.filter((p) => partOf(p.path) === id).length
          return (
            <Link key={id} to={{ hash: id }} replace aria-current={part === id}>
              {name}
              {wrong > 0 && <span className="count">{wrong}</span>}
            </Link>
          )
        })}
      </nav>
      {notice}
      {error && (
        <p className="wrong" role="alert">
          {error.message}
        </p>
      )}
      <div className="record">
        <div>
          <section className="sheet" hidden={part !== 'identity'}>
            <h2>Identity</h2>
            <div className="fields">
              <TextField label="Trading name" width="w3" {...text('name')} help="As on the sign." />
              <TextField label="Legal name" width="w3" {...text('legal_name')} help="As on papers." />
              <TextField label="What we call this location" width="w2" {...text('label')} placeholder={r.address.locality} />
              <TextField label="Store code" width="w1" {...text('store_code')} />
              <TextField
                label="Former names"
                width="w3"
                value={r.former_names.join(' | ')}
                problem={problemAt(problems, 'former_names.0')}
                help="Parted by | ; searches look for them too."
                onChange={(t) => set({ former_names: t === '' ? [] : t.split('|').map((n) => n.trimStart()) })}
              />
              <div className="w6">
                <span className="form-label d-inline-block">Kind of location</span>
                <div className="checks" role="radiogroup" aria-label="Kind of location">
                  {kinds.map(([kind, words]) => (
                    <Form.Check
                      key={kind}
                      type="radio"
                      name="kind"
                      id={'kind-' + kind}
                      label={words}
                      checked={r.kind === kind}
                      onChange={() => set({ kind })}
                    />
                  ))}
                </div>
              </div>
              <State state={r.state} opened={r.opened} problems={problems} onChange={set} />
            </div>
          </section>

          <section className="sheet" hidden={part !== 'contact'}>
            <h2>Address and pin</h2>
            <div className="fields">
              <AddressFields path="address" address={r.address} problems={problems} onChange={(address) => set({ address })} />
              <Degrees pin={r.pin} problems={problems} onChange={(pin) => set({ pin })} />
              <TextField label="Time zone" width="w2" {...text('zone')} placeholder="by the address" />
              <Prose
                label="Directions"
                rows={2}
                value={r.directions}
                limit={500}
                problem={problemAt(problems, 'directions')}
                onChange={(directions) => set({ directions })}
                help="How to find it, in words."
              />
              <Prose
                label="Parking"
                rows={2}
                value={r.parking}
                limit={500}
                problem={problemAt(problems, 'parking')}
                onChange={(parking) => set({ parking })}
              />
            </div>
          </section>

          <section className="sheet" hidden={part !== 'contact'}>
            <h2>Contact</h2>
            <div className="fields">
              <PhoneFields phones={r.phones} country={r.address.country} problems={problems} onChange={(phones) => set({ phones })} />
              <TextField label="Email" width="w3" type="email" {...text('email')} />
              <TextField label="Website" width="w3" type="url" {...text('website')} placeholder="https://" />
            </div>
          </section>

          <section className="sheet" hidden={part !== 'hours'}>
            <h2>Hours</h2>
            <HoursEditor text={r.hours} place={place} problem={problemAt(problems, 'hours')} onChange={(hours) => set({ hours })} />
          </section>

          <section className="sheet" hidden={part !== 'hours'}>
            <SpecialDates text={r.hours} place={place} onChange={(hours) => set({ hours })} />
          </section>

          <section className="sheet" hidden={part !== 'categories'}>
            <h2>Categories and attributes</h2>
            <Kinds record={r} problems={problems} onChange={set} />
          </section>

          <section className="sheet" hidden={part !== 'words'}>
            <h2>Words</h2>
            <WordsFields words={r.words} problems={problems} onChange={(words) => set({ words })} />
          </section>

          <section className="sheet" hidden={part !== 'contact'}>
            <h2>Post</h2>
            <p className="second">For postcards; never published. Empty: the address above.</p>
            <div className="fields">
              <TextField
                label="Name on the envelope"
                width="w6"
                value={r.mailing.contact}
                problem={problemAt(problems, 'mailing.contact')}
                onChange={(contact) => set({ mailing: { ...r.mailing, contact } })}
              />
              <AddressFields
                path="mailing.address"
                address={r.mailing.address}
                problems={problems}
                onChange={(address) => set({ mailing: { ...r.mailing, address } })}
              />
            </div>
          </section>
        </div>
        <aside>
          {aside}
          <ReadFromHours text={r.hours} place={place} />
        </aside>
      </div>
    </form>
  )
}
