import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { api, Refusal, told, type FieldProblem, type Rec, type Schemas } from '../api/client'
import { useClient, useLocationRecord } from '../api/queries'
import { dayTime, useZone } from '../app/clock'
import { listingPath, pathOf } from '../app/place'
import { useSay } from '../app/say'
import { Pending, ViewHead } from '../app/View'
import { CategoryField } from './CategoryField'
import { useDraft } from './draft'
import { Field, problemAt, TextField } from './Field'
import { History } from './History'
import { HoursEditor } from './HoursEditor'
import { PhoneFields } from './PhoneFields'
import { ReadFromHours } from './ReadFromHours'
import { SpecialDates } from './SpecialDates'

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
  const record = draft?.record ?? location.record
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
          <Button variant="outline-secondary" onClick={() => setHistory(true)}>
            History
          </Button>
          <a
            className="btn btn-outline-secondary"
            href={`/api/export.csv?location=${location.id}`}
            download={`${location.record.label}.csv`}
          >
            Take out a CSV
          </a>
          {changed && (
            <Button variant="outline-secondary" onClick={drop}>
              Discard
            </Button>
          )}
          <Button type="submit" disabled={!changed || save.isPending}>
            Save record
          </Button>
        </>
      }
      aside={
        <section className="sheet">
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

const sections = [
  ['identity', 'Identity'],
  ['address', 'Address and pin'],
  ['contact', 'Contact'],
  ['hours', 'Hours'],
  ['special-dates', 'Special dates'],
  ['post', 'Post'],
] as const

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
  useEffect(() => {
    // The form comes after the address was read, so its part is sought again.
    document.getElementById(window.location.hash.slice(1))?.scrollIntoView()
  }, [])
  useEffect(() => {
    if (error) document.querySelector('.is-invalid, .wrong')?.scrollIntoView({ block: 'center' })
  }, [error])
  const set = (part: Partial<Rec>) => onChange({ ...r, ...part })
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
        {sections.map(([id, name]) => (
          <a key={id} href={'#' + id}>
            {name}
          </a>
        ))}
      </nav>
      {notice}
      {error && (
        <p className="wrong" role="alert">
          {error.message}
        </p>
      )}
      <div className="record">
        <div>
          <section className="sheet" id="identity">
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
              <div className="w4">
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
              <CategoryField
                width="w2"
                value={r.category}
                problem={problemAt(problems, 'category')}
                onChange={(category) => set({ category })}
              />
            </div>
          </section>

          <section className="sheet" id="address">
            <h2>Address and pin</h2>
            <div className="fields">
              <AddressFields path="address" address={r.address} problems={problems} onChange={(address) => set({ address })} />
              <Degrees pin={r.pin} problems={problems} onChange={(pin) => set({ pin })} />
              <TextField label="Time zone" width="w2" {...text('zone')} placeholder="by the address" />
            </div>
          </section>

          <section className="sheet" id="contact">
            <h2>Contact</h2>
            <div className="fields">
              <PhoneFields phones={r.phones} country={r.address.country} problems={problems} onChange={(phones) => set({ phones })} />
              <TextField label="Email" width="w3" type="email" {...text('email')} />
              <TextField label="Website" width="w3" type="url" {...text('website')} placeholder="https://" />
            </div>
          </section>

          <section className="sheet" id="hours">
            <h2>Hours</h2>
            <HoursEditor text={r.hours} place={place} problem={problemAt(problems, 'hours')} onChange={(hours) => set({ hours })} />
          </section>

          <section className="sheet" id="special-dates">
            <SpecialDates text={r.hours} place={place} onChange={(hours) => set({ hours })} />
          </section>

          <section className="sheet" id="post">
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
