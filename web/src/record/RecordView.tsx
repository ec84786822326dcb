import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { api, Refusal, told, type Rec, type Schemas } from '../api/client'
import { useClient, useFacts, useLocationRecord } from '../api/queries'
import { listingPath, pathOf } from '../app/place'
import { Pending } from '../app/View'
import { useVerb } from '../kit/verb'
import { heir } from './blank'
import { Copies } from './Copies'
import { Dangers } from './Dangers'
import { useDraft } from './draft'
import { useEdit } from './edit'
import { FromDate } from './FromDate'
import { History } from './History'
import { IsAway, LocationLeaves } from './Leaving'
import { BothChanged, Others, Plans, Remarks } from './Notices'
import { usePresence } from './presence'
import { RecordForm } from './RecordForm'
import { Grouped } from './parts/Grouped'

// RecordView is a location's record: the one set of facts that every directory
// is compared with.
export function RecordView() {
  const { location: id = '' } = useParams()
  const location = useLocationRecord(id)
  if (!location.data) return <Pending error={location.error} />
  return <Edit key={id} location={location.data} />
}

function Edit({ location }: { location: Schemas['Location'] }) {
  const { edit, record, merging, error, set, drop, decide, noted } = useEdit(location)
  const others = usePresence(location.id, !!edit)
  const queries = useQueryClient()
  const [open, setOpen] = useState<'history' | 'copies' | 'date'>()
  const close = () => setOpen(undefined)
  const put = (version: number, body: Rec) =>
    told(api.PUT('/api/locations/{location}', { params: { path: { location: location.id }, query: { version } }, body }))
  const show = (saved: Schemas['Location']) => {
    queries.setQueryData(['location', location.id], saved)
    drop()
  }
  const save = useVerb({
    does: async () => {
      const before = edit?.base ?? location.record
      return { before, saved: await put(edit?.version ?? location.version, record) }
    },
    then: ({ saved }) => show(saved),
    says: () => 'The record is saved.',
    undo: async ({ before, saved }) => {
      show(await put(saved.version, before))
      return 'The record is as it was before.'
    },
    failed: (e) => {
      // Somebody was quicker: their record is fetched, and both are put together.
      if (e instanceof Refusal && e.status === 409) void queries.invalidateQueries({ queryKey: ['location', location.id] })
    },
  })
  const overtaken = save.error instanceof Refusal && save.error.status === 409
  const undecided = !!edit?.merged?.conflicts.length
  return (
    <RecordForm
      title={location.record.label}
      says={
        <>
          {location.client_name} · the one record every directory is compared with
          {edit && <> · not saved yet, kept as typed</>}
          <Others others={others} />
        </>
      }
      record={record}
      shared={location.shared}
      client={location.client}
      location={location.id}
      error={overtaken ? error : (save.error ?? error)}
      onChange={set}
      onSave={() => edit && !undecided && !merging && save.mutate()}
      notice={
        <>
          {location.put_away_at && <IsAway location={location.id} label={location.record.label} since={location.put_away_at} />}
          {edit?.merged && <BothChanged merged={edit.merged} onDecide={decide} onNoted={noted} />}
          <Remarks location={location.id} />
          <Plans location={location.id} />
          <Dangers location={location.id} />
          <Copies location={location.id} label={location.record.label} show={open === 'copies'} onHide={close} onRead={set} />
          <History location={location.id} zone={location.zone} show={open === 'history'} onHide={close} />
          {edit && <FromDate location={location.id} edit={edit} show={open === 'date'} onHide={close} onPlanned={drop} />}
        </>
      }
      acts={
        <>
          {edit && (
            <>
              <Button variant="outline-secondary" onClick={drop}>
                Discard
              </Button>
              <Button variant="outline-secondary" disabled={undecided} onClick={() => setOpen('date')}>
                From a date
              </Button>
            </>
          )}
          {!edit && !location.put_away_at && <LocationLeaves location={location.id} record={location.record} client={location.client} />}
          <Link className="btn btn-outline-secondary" to={`/record/l/${location.id}/course`}>
            Close or move
          </Link>
          <Button variant="outline-secondary" onClick={() => setOpen('history')}>
            History
          </Button>
          <Button variant="outline-secondary" onClick={() => setOpen('copies')}>
            Copies
          </Button>
          <Button
            type="submit"
            disabled={!edit || undecided || merging || save.isPending}
            title={undecided ? 'Choose first between what you and others changed' : undefined}
          >
            Save record
          </Button>
        </>
      }
      aside={<WhatTheyCan location={location.id} read={location.read} />}
    />
  )
}

type Held = Schemas['DirectoryFit']

// worst is what stands first of a directory: the mark, its meaning, and what there is to say.
function worst(d: Held): { mark: string; means: string; says: string } {
  const wrong = d.wrong.join(' ')
  if (d.not) return { mark: '·', means: 'not listed there', says: d.not }
  if (d.missing.length > 0) return { mark: '∅', means: 'something that it requires is missing', says: [...d.missing, wrong].join(' ') }
  if (wrong) return { mark: '≠', means: 'it would show something otherwise than it is', says: wrong }
  if (d.lost.length > 0) return { mark: '≈', means: 'less of it goes', says: d.lost.join(' ') }
  return { mark: '=', means: 'it goes as it is', says: 'As the record says it.' }
}

// WhatTheyCan says of each directory what becomes of the record there.
function WhatTheyCan({ location, read }: { location: string; read: Held[] }) {
  const list = read.map((d) => ({
    ...worst(d),
    directory: d.directory,
    name: d.name,
    to: listingPath(location, d.directory) + '?look=fit',
  }))
  return <Grouped title="What directories can do with this record" list={list} />
}

// NewLocation adds a location to a client.
export function NewLocation() {
  const { client: id = '' } = useParams()
  const client = useClient(id)
  if (!client.data) return <Pending error={client.error} />
  return <Add key={id} client={client.data} />
}

function Add({ client }: { client: Schemas['ClientRow'] }) {
  const { draft, keep, drop } = useDraft<Rec>('new ' + client.id)
  const inheritable = useFacts().data?.inheritable
  const record = { ...heir(client.shared, inheritable ?? []), ...draft }
  const navigate = useNavigate()
  const add = useVerb({
    does: () => told(api.POST('/api/clients/{client}/locations', { params: { path: { client: client.id } }, body: record })),
    changes: ['clients'],
    then: (l) => {
      drop()
      navigate(pathOf('record', { location: l.id }))
    },
  })
  return (
    <RecordForm
      title="Add a location"
      says={client.name}
      record={record}
      shared={client.shared}
      client={client.id}
      error={add.error}
      onChange={keep}
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
