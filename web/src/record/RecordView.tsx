import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useLocation, useNavigate, useParams } from 'react-router'
import { api, Refusal, told, type FieldProblem, type Rec, type Schemas } from '../api/client'
import { useClient, useLocationRecord } from '../api/queries'
import { dayTime, useZone } from '../app/clock'
import { listingPath, pathOf } from '../app/place'
import { useSay } from '../app/say'
import { Pending, ViewHead } from '../app/View'
import { Copies } from './Copies'
import { useDraft } from './draft'
import { Field, problemAt, TextField } from './Field'
import { History } from './History'
import { HoursEditor } from './HoursEditor'
import { Kinds } from './Kinds'
import { PhoneFields } from './PhoneFields'
import { ReadFromHours } from './ReadFromHours'
import { SpecialDates } from './SpecialDates'
import { Prose, WordsFields } from './WordsFields'

const kinds: [string, string][] = [
  ['premises', 'Premises: people come'],
  ['goes_to_customers', 'Goes to customers'],
  ['both', 'Both'],
]

// RecordView is a location's record: the one set of facts that every directory
// is compared with.
export function RecordView() {
  const { location: id = '' } = useParams()
  const location = useLocationRecord(id)
  if (!location.data) return <Pending error={location.error} />
  return <Edit key={id} location={location.data} />
}

function Edit({ location }: { location: Schemas['Location'] }) {
  const { draft, keep, drop } = useDraft(location.id)
  const queries = useQueryClient()
  const say = useSay()
  const zone = useZone()
  const record = draft ? { ...location.record, ...draft.record } : location.record
  const stale = !!draft && draft.version !== location.version
  const put = (version: number, body: Rec) =>
    told(api.PUT('/api/locations/{location}', { params: { path: { location: location.id }, query: { version } }, body }))
  const show = (saved: Schemas['Location']) => {
    queries.setQueryData(['location', location.id], saved)
    drop()
  }
  const save = useMutation({
    mutationFn: () => put(draft?.version ?? location.version, record),
    onSuccess: (saved) => {
      const before = location.record
      show(saved)
      say('The record is saved.', async () => {
        try {
          show(await put(saved.version, before))
          say('The record is as it was before.')
        } catch (e) {
          say((e as Error).message)
        }
      })
    },
  })
  const changed = !!draft
  const [history, setHistory] = useState(false)
  const [copies, setCopies] = useState(false)
  return (
    <RecordForm
      title={location.record.label}
      says={
        <>
          {location.client_name} · the one record every directory is compared with
          {draft && <> · not saved yet, kept here since {dayTime(new Date(draft.at), zone)}</>}
        </>
      }
      record={record}
      error={save.error}
      onChange={(r) => keep(draft?.version ?? location.version, r)}
      onSave={() => changed && save.mutate()}
      notice={
        stale && (
          <p className="note" role="alert">
            Somebody saved this record while you were editing it. What you typed is kept here.{' '}
            <Button variant="link" className="p-0 align-baseline" onClick={() => keep(location.version, record)}>
              Keep mine
            </Button>{' '}
            or{' '}
            <Button variant="link" className="p-0 align-baseline" onClick={drop}>
              load theirs
            </Button>
            .
          </p>
        )
      }
      acts={
        <>
          {changed && (
            <Button variant="outline-secondary" onClick={drop}>
              Discard
            </Button>
          )}
          <Button variant="outline-secondary" onClick={() => setHistory(true)}>
            History
          </Button>
          <Button variant="outline-secondary" onClick={() => setCopies(true)}>
            Copies
          </Button>
          <Button type="submit" disabled={!changed || save.isPending}>
            Save record
          </Button>
        </>
      }
      aside={
        <section className="sheet">
          <Copies
            location={location.id}
            label={location.record.label}
            show={copies}
            onHide={() => setCopies(false)}
            onRead={(read) => keep(draft?.version ?? location.version, read)}
          />
          <History location={location.id} zone={location.zone} show={history} onHide={() => setHistory(false)} />
          <h2>What directories can do with this record</h2>
          <ul className="plain-list">
            {location.read.map((d) => (
              <li key={d.directory}>
                <b className="with-mark">
                  <Link to={listingPath(location.id, d.directory)}>{d.name}</Link>
                </b>
                <span>{d.missing.length === 0 ? 'Takes it as it is.' : d.missing.join(' ')}</span>
              </li>
            ))}
          </ul>
        </section>
      }
    />
  )
}

const blank: Rec = {
  label: '',
  store_code: '',
  name: '',
  legal_name: '',
  former_names: [],
  kind: 'premises',
  address: { street: '', unit: '', locality: '', region: '', postal_code: '', country: 'US' },
  mailing: { contact: '', address: { street: '', unit: '', locality: '', region: '', postal_code: '', country: '' } },
  pin: null,
  phones: [],
  email: '',
  website: '',
  category: '',
  other_categories: [],
  attributes: {},
  words: { tagline: '', short: '', medium: '', long: '', story: '', keywords: [], specialities: [] },
  directions: '',
  parking: '',
  state: { kind: 'open', until: '', to: '' },
  opened: '',
  hours: '',
  zone: '',
}

// NewLocation adds a location to a client.
export function NewLocation() {
  const { client: id = '' } = useParams()
  const client = useClient(id)
  if (!client.data) return <Pending error={client.error} />
  return <Add key={id} client={client.data} />
}

function Add({ client }: { client: Schemas['ClientRow'] }) {
  const { draft, keep, drop } = useDraft('new ' + client.id)
  const record = draft?.record ?? { ...blank, name: client.name, legal_name: client.legal_name }
  const navigate = useNavigate()
  const queries = useQueryClient()
  const add = useMutation({
    mutationFn: () => told(api.POST('/api/clients/{client}/locations', { params: { path: { client: client.id } }, body: record })),
    onSuccess: async (l) => {
      drop()
      await queries.invalidateQueries()
      navigate(pathOf('record', { location: l.id }))
    },
  })
  return (
    <RecordForm
      title="Add a location"
      says={client.name}
      record={record}
      error={add.error}
      onChange={(r) => keep(0, r)}
      onSave={() => add.mutate()}
      acts={
        <>
          <Link className="btn btn-outline-secondary" to={pathOf('record', { client: client.id })} onClick={drop}>
            Cancel
          </Link>
          <Button type="submit" disabled={add.isPending}>
            Add location
          </Button>
        </>
      }
    />
  )
}

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

function RecordForm({
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

const states: [string, string][] = [
  ['open', 'Open for business'],
  ['opening_soon', 'Opening soon'],
  ['closed_for_a_time', 'Closed for a time'],
  ['closed_for_good', 'Closed for good'],
  ['moved', 'Moved'],
]

// State is whether the location does business, and since when.
function State({
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

type Address = Rec['address']

function AddressFields({
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

// Degrees are the pin's coordinates. What is typed is kept as it is until it is
// a number.
function Degrees({ pin, problems, onChange }: { pin: Rec['pin']; problems: FieldProblem[]; onChange: (p: Rec['pin']) => void }) {
  const [typed, setTyped] = useState({ latitude: pin ? String(pin.latitude) : '', longitude: pin ? String(pin.longitude) : '' })
  const set = (key: 'latitude' | 'longitude', t: string) => {
    const next = { ...typed, [key]: t }
    setTyped(next)
    if (!next.latitude.trim() && !next.longitude.trim()) onChange(null)
    else onChange({ latitude: Number(next.latitude), longitude: Number(next.longitude) })
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
