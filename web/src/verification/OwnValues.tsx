import { useQuery } from '@tanstack/react-query'
import { useEffect, useId, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Listing, type Schemas } from '../api/client'
import { useTimes } from '../app/clock'
import { Needs } from '../app/Needs'
import { Do, Failed, reason, useVerb } from '../kit/verb'

type OwnValue = Schemas['OwnValue']
type Place = { location: string; directory: string }

export const useOwnValues = (location: string, directory: string) =>
  useQuery({
    queryKey: ['own', location, directory],
    queryFn: () => told(api.GET('/api/listings/{location}/{directory}/own-values', { params: { path: { location, directory } } })),
  })

const placeOf = (l: Listing): Place => ({ location: l.row.location, directory: l.row.directory })

const put = (at: Place, key: string, body: { text: string; why: string }) =>
  told(api.PUT('/api/listings/{location}/{directory}/own-values/{key}', { params: { path: { ...at, key } }, body }))

const drop = (at: Place, key: string) =>
  told(api.DELETE('/api/listings/{location}/{directory}/own-values/{key}', { params: { path: { ...at, key } } }))

const changes = ['own', 'fit', 'preview', 'listing']

// OwnNote says why a value is the listing's own, and asks whether it still holds where the record has changed.
export function OwnNote({ listing: l, item: i, value: v }: { listing: Listing; item: Schemas['FitItem']; value: OwnValue }) {
  const at = useTimes(l.row.zone)
  const holds = useVerb({
    does: () =>
      told(api.POST('/api/listings/{location}/{directory}/own-values/{key}/holds', { params: { path: { ...placeOf(l), key: v.key } } })),
    changes,
    says: () => `${i.title}: it still holds.`,
    tells: true,
  })
  const back = useVerb({
    does: () => drop(placeOf(l), v.key),
    changes,
    says: () => `${i.title}: what the record says goes again.`,
    undo: () => put(placeOf(l), v.key, { text: v.text, why: v.why }).then(() => undefined),
    tells: true,
  })
  return (
    <div className={'own' + (v.asks ? ' asks' : '')}>
      <p>
        <b>Its own:</b> {v.why} <span className="second">{`${v.by}, ${at(v.at)}`}</span>
      </p>
      {v.asks && <p className="says">The record has changed since. Does it still hold?</p>}
      <p className="second">{v.record ? <>The record would give “{v.record}”.</> : 'The record would give nothing.'}</p>
      <Needs what="edit">
        {v.asks && (
          <Do verb={holds} of={undefined} variant="outline-secondary" size="sm" className="me-2">
            It still holds
          </Do>
        )}
        <Do verb={back} of={undefined} variant="link" size="sm" className="p-0">
          Give what the record says
        </Do>
      </Needs>
    </div>
  )
}

// OwnEditor writes a value of the listing's own, and says what would become of it meanwhile.
export function OwnEditor({
  listing: l,
  rule,
  photos,
  start,
  why: whyBefore,
  before,
  onDone,
}: {
  listing: Listing
  rule: Schemas['OwnRule']
  photos: Schemas['OwnValues']['photos']
  start: string
  why: string
  before?: OwnValue
  onDone: () => void
}) {
  const [text, setText] = useState(start)
  const [why, setWhy] = useState(whyBefore)
  const id = useId()
  const at = placeOf(l)
  const save = useVerb({
    does: () => put(at, rule.key, { text, why }),
    changes,
    then: onDone,
    says: () => `${rule.title}: its own on ${l.row.directory_name}.`,
    undo: () => (before ? put(at, rule.key, { text: before.text, why: before.why }) : drop(at, rule.key)).then(() => undefined),
  })
  return (
    <Needs what="edit">
      <Form
        className="own-form"
        onSubmit={(e) => {
          e.preventDefault()
          save.mutate()
        }}
        onKeyDown={(e) => e.key === 'Escape' && onDone()}
      >
        <Form.Group controlId={id + 'text'}>
          <Form.Label>
            {rule.title}, on {l.row.directory_name} alone
          </Form.Label>
          {rule.most > 0 && rule.kind !== 'photos' && (
            <span className={'ms-2 mono small ' + ([...text.trim()].length > rule.most ? 'text-danger' : 'second')}>
              {[...text.trim()].length} of {rule.most}
            </span>
          )}
          <Value rule={rule} photos={photos} text={text} onText={setText} />
        </Form.Group>
        <Trial at={at} rule={rule} text={text} />
        <Form.Group controlId={id + 'why'}>
          <Form.Label>Why it is another here</Form.Label>
          <Form.Control value={why} maxLength={300} onChange={(e) => setWhy(e.target.value)} placeholder="for whoever asks later" />
        </Form.Group>
        <Failed error={save.error} />
        <p className="mb-0">
          <Button type="submit" size="sm" className="me-2" disabled={save.isPending || !text.trim() || !why.trim()}>
            {save.isPending ? 'Keeping' : 'Keep it'}
          </Button>
          <Button variant="link" size="sm" className="p-0" onClick={onDone}>
            Leave it
          </Button>
        </p>
      </Form>
    </Needs>
  )
}

type Writing = {
  rule: Schemas['OwnRule']
  photos: Schemas['OwnValues']['photos']
  text: string
  onText: (text: string) => void
}

// Value is the field to write in, by what kind of value it is.
function Value({ rule, photos, text, onText }: Writing) {
  const type = (e: { target: { value: string } }) => onText(e.target.value)
  switch (rule.kind) {
    case 'category':
      return (
        <Form.Select value={text} onChange={type} autoFocus>
          {!rule.choices.includes(text) && <option value={text}>{text || 'Choose one of theirs'}</option>}
          {rule.choices.map((c) => (
            <option key={c}>{c}</option>
          ))}
        </Form.Select>
      )
    case 'photos':
      return <PhotoChoice rule={rule} photos={photos} text={text} onText={onText} />
    case 'text':
      return <Form.Control as="textarea" rows={4} value={text} onChange={type} autoFocus />
  }
  return <Form.Control value={text} onChange={type} autoFocus />
}

// PhotoChoice chooses photos, in the order in which they are to stand.
function PhotoChoice({ rule, photos, text, onText }: Writing) {
  const chosen = text.split('\n').filter(Boolean)
  if (photos.length === 0) return <p className="second mb-0">The location has no photos yet.</p>
  return (
    <div className="own-photos" role="group" aria-label={`${rule.title}: at most ${rule.most}, in this order`}>
      {photos.map((p) => {
        const n = chosen.indexOf(p.id)
        return (
          <button
            type="button"
            key={p.id}
            aria-pressed={n >= 0}
            title={p.name}
            onClick={() => onText((n >= 0 ? chosen.filter((c) => c !== p.id) : [...chosen, p.id]).join('\n'))}
          >
            <img src={`/api/photos/${p.id}/small`} alt={p.name} />
            {n >= 0 && <span className="mono">{n + 1}</span>}
          </button>
        )
      })}
    </div>
  )
}

// Trial says what would become of a value before it is kept.
function Trial({ at, rule, text }: { at: Place; rule: Schemas['OwnRule']; text: string }) {
  const [later, setLater] = useState(text.trim())
  useEffect(() => {
    const timer = setTimeout(() => setLater(text.trim()), 250)
    return () => clearTimeout(timer)
  }, [text])
  const trial = useQuery({
    queryKey: ['own-try', at.location, at.directory, rule.key, later],
    queryFn: ({ signal }) =>
      told(
        api.POST('/api/listings/{location}/{directory}/own-values/try', {
          params: { path: at },
          body: { key: rule.key, text: later },
          signal,
        }),
      ),
    enabled: later !== '',
    retry: false,
    placeholderData: (before) => before,
  })
  if (!later) return <p className="own-trial second">Write what it is to be given.</p>
  if (trial.error) return <p className="own-trial says">{reason(trial.error)}</p>
  const t = trial.data
  if (!t) return <p className="own-trial second">Reckoning</p>
  const part = (x: number) => `${Math.round(100 * x)} %`
  return (
    <div className="own-trial" aria-live="polite">
      <b className="mono">{t.item.mark}</b>{' '}
      {t.item.mark === '='
        ? 'A visitor learns what the record says.'
        : t.item.lost.length > 0
          ? `Not learnt there: ${t.item.lost.join(', ')}.`
          : 'In other words.'}
      {t.value.says
        .filter((s) => !s.startsWith('A value of its own'))
        .map((s) => (
          <span className="says" key={s}>
            {s}
          </span>
        ))}
      {t.agrees < t.agreed && (
        <span className="says">
          Of what people see of this location, {part(t.agrees)} would say name, address and phone as the record does; it is {part(t.agreed)}{' '}
          now. Where they differ, directories take one business for two.
        </span>
      )}
    </div>
  )
}
