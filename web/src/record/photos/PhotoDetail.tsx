import { useEffect, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../../api/client'
import { Options } from '../../kit/options'
import { Failed, useVerb } from '../../kit/verb'
import { Cut } from './Cut'
import { FocusField } from './FocusField'

type Photo = Schemas['Photo']
type Facts = Schemas['PhotoFacts']

const size = (bytes: number) => (bytes > 1048576 ? `${(bytes / 1048576).toFixed(1)} MB` : `${Math.round(bytes / 1024)} KB`)

// PhotoDetail is one photo: what must be seen of it, what is said of it, and what
// each directory shows.
export function PhotoDetail({
  photo,
  others,
  groups,
  onSaved,
  onRemove,
}: {
  photo: Photo
  others: Photo[]
  groups: Schemas['Column'][]
  onSaved: (p: Photo) => void
  onRemove: () => void
}) {
  const said: Facts = { group: photo.group, caption: photo.caption, alternative: photo.alternative, focus: photo.focus }
  const [typed, setTyped] = useState<Partial<Facts>>({})
  const facts = { ...said, ...typed }
  const save = useVerb({
    does: (body: Facts) => told(api.PUT('/api/photos/{photo}', { params: { path: { photo: photo.id } }, body })),
    then: onSaved,
  })
  const { mutate } = save
  const set = (part: Partial<Facts>) => {
    setTyped({ ...typed, ...part })
    if (part.focus || part.group) mutate({ ...facts, ...part })
  }
  // What is typed is kept when one stops typing, and when one goes elsewhere.
  const waiting = useRef<Facts>(undefined)
  useEffect(() => {
    waiting.current = facts.caption !== photo.caption || facts.alternative !== photo.alternative ? facts : undefined
    const timer = setTimeout(() => waiting.current && mutate(waiting.current), 500)
    return () => clearTimeout(timer)
  })
  useEffect(() => () => waiting.current && mutate(waiting.current), [mutate])
  const like = others.find((o) => o.id === photo.like)
  const shown: Photo = { ...photo, focus: facts.focus }
  return (
    <section className="sheet detail">
      <div className="sheet-head">
        <h2 className="text-truncate">{photo.file_name}</h2>
        <span>
          <a href={`/api/photos/${photo.id}/original`} download={photo.file_name} className="me-3">
            Take out
          </a>
          <Button variant="link" className="p-0" onClick={onRemove}>
            Remove
          </Button>
        </span>
      </div>
      <div className="looked-at">
        <div>
          <FocusField photo={shown} onFocus={(focus) => set({ focus })} />
          <p className="second photo-says">
            {photo.width} × {photo.height}, {size(photo.bytes)}
            {photo.shared && ' · the client’s, for all its locations'} · click what must be seen, or drag a box around it
          </p>
          {photo.blurred && (
            <p className="warn px-3">
              It looks blurred: sharpness {Math.round(photo.sharpness)}, where 60 and more look sharp. Directories may refuse it.
            </p>
          )}
          {like && <p className="warn px-3">It shows the same picture as {like.file_name}.</p>}
          <Failed error={save.error} />
        </div>
        <div>
          <Cuts photo={shown} />
        </div>
      </div>
      <Said facts={facts} groups={groups} onChange={set} />
    </section>
  )
}

// Cuts are what directories show of a photo, where there is room and where there is little.
function Cuts({ photo }: { photo: Photo }) {
  return (
    <>
      <h3 className="sub">
        What directories show{' '}
        <span>{photo.fits.length === 0 ? 'no directory takes a photo of this group' : 'in full, and where there is little room'}</span>
      </h3>
      <div className="cuts">
        {photo.fits.map((f) => (
          <figure key={f.directory + f.label}>
            <div>
              {[f.circle || f.width === f.height ? 120 : 176, f.tiny_width].map(
                (width) =>
                  width > 0 && (
                    <Cut key={width} photo={photo.id} shape={f} width={width} label={`${f.label} on ${f.name}, ${width} pixels wide`} />
                  ),
              )}
            </div>
            <figcaption>
              <b>{f.name}</b>, {f.label.toLowerCase()} {f.width} × {f.height}
              {f.circle && ', in a circle'}
              {f.faults.length === 0 ? (
                <span>= fits</span>
              ) : (
                f.faults.map((x) => (
                  <span key={x} className="wrong-text">
                    ≠ {x}
                  </span>
                ))
              )}
            </figcaption>
          </figure>
        ))}
      </div>
    </>
  )
}

// Said is what is said of a photo.
function Said({ facts, groups, onChange: set }: { facts: Facts; groups: Schemas['Column'][]; onChange: (part: Partial<Facts>) => void }) {
  return (
    <div className="fields">
      <div className="w2">
        <Form.Label htmlFor="detail-group">It shows</Form.Label>
        <Form.Select id="detail-group" value={facts.group} onChange={(e) => set({ group: e.target.value })}>
          <Options of={groups} />
        </Form.Select>
      </div>
      <div className="w4">
        <Form.Label htmlFor="detail-caption">Caption</Form.Label>
        <Form.Control id="detail-caption" value={facts.caption} onChange={(e) => set({ caption: e.target.value })} />
        {facts.caption && <span className="count-of">{[...facts.caption].length} characters</span>}
      </div>
      <div className="w6">
        <Form.Label htmlFor="detail-alternative">Alternative text</Form.Label>
        <Form.Control
          id="detail-alternative"
          value={facts.alternative}
          placeholder="What it shows, for those who do not see it"
          onChange={(e) => set({ alternative: e.target.value })}
        />
        {facts.alternative && <span className="count-of">{[...facts.alternative].length} characters</span>}
      </div>
    </div>
  )
}
