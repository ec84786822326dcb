import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { api, told, type Rec, type Schemas } from '../api/client'
import { useClient, useLocationRecord } from '../api/queries'
import { dayTime, useZone } from '../app/clock'
import { listingPath, pathOf } from '../app/place'
import { useSay } from '../app/say'
import { Pending } from '../app/View'
import { Copies } from './Copies'
import { useDraft } from './draft'
import { History } from './History'
import { RecordForm } from './RecordForm'

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
