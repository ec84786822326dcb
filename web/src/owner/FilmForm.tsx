import { useEffect, useMemo, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Schemas } from '../api/client'
import { upload } from '../app/upload'
import { Send } from '../kit/form'
import { Failed, useVerb } from '../kit/verb'
import { labelled, type Labels } from './labels'

// Shots is the list for whoever films.
export function Shots({ shots }: { shots: Schemas['Shot'][] }) {
  return (
    <ol className="shots">
      {shots.map((s) => (
        <li key={s.title} className={s.part === '' ? 'aside' : ''}>
          <b>{s.title}</b> {s.how}
        </li>
      ))}
    </ol>
  )
}

// ours is what the form says to ourselves; an owner's page has it in the owner's language.
export const ours = labelled({
  video: 'The video, MP4 or WebM',
  seen_how: 'Play the film and tick each part while it can be seen.',
  seen_now: 'It is seen now',
  seen_at: 'at second {second}',
  private: 'Nothing private is in it: no customers, no papers, no screens',
  sending_part: 'Sending, {part} %',
  send_video: 'Send the video',
})

// FilmForm sends a video. While it plays each part is ticked when it can be seen, and the second is taken from the player.
export function FilmForm<T>({
  path,
  shots,
  size,
  say,
  then,
}: {
  path: string
  shots: Schemas['Shot'][]
  size?: 'lg'
  say: Labels
  then: (after: T) => void
}) {
  const [file, setFile] = useState<File>()
  const [at, setAt] = useState<Record<string, string>>({})
  const [own, setOwn] = useState(false)
  const [part, setPart] = useState(0)
  const give = useVerb({
    does: (f: File) => upload<T>(path, { ...at, private: own ? 'yes' : '' }, f, setPart),
    then,
  })
  const parts = shots.filter((s) => s.part !== '')
  const ready = file && own && parts.every((s) => /^\d+$/.test(at[s.part] ?? ''))
  return (
    <Form
      className="film-form"
      onSubmit={(e) => {
        e.preventDefault()
        if (file) give.mutate(file)
      }}
    >
      <Failed error={give.error} />
      <Form.Label htmlFor="film-file">{say('video')}</Form.Label>
      <Form.Control
        id="film-file"
        type="file"
        accept="video/mp4,video/webm"
        onChange={(e) => {
          setFile((e.target as HTMLInputElement).files?.[0])
          setAt({})
        }}
      />
      {file && (
        <Ticks
          key={file.name + file.lastModified}
          file={file}
          parts={parts}
          at={at}
          onAt={(part, second) => setAt((all) => ({ ...all, [part]: second }))}
          say={say}
        />
      )}
      <Form.Check id="film-private" className="mb-2" checked={own} onChange={(e) => setOwn(e.target.checked)} label={say('private')} />
      <Send
        verb={give}
        running={say('sending_part', { part: Math.round(100 * part) })}
        size={size}
        variant={size ? 'primary' : 'outline-secondary'}
        disabled={!ready}
      >
        {say('send_video')}
      </Send>
    </Form>
  )
}

// Ticks plays the film, and notes of each part the second at which it was ticked. Where a browser cannot play it the seconds are
// typed.
function Ticks({
  file,
  parts,
  at,
  onAt,
  say,
}: {
  file: File
  parts: Schemas['Shot'][]
  at: Record<string, string>
  onAt: (part: string, second: string) => void
  say: Labels
}) {
  const player = useRef<HTMLVideoElement>(null)
  const [unplayable, setUnplayable] = useState(false)
  const source = useMemo(() => URL.createObjectURL(file), [file])
  useEffect(() => () => URL.revokeObjectURL(source), [source])
  return (
    <>
      {!unplayable && (
        <>
          <video ref={player} className="film-player" src={source} controls muted playsInline onError={() => setUnplayable(true)} />
          <p className="second">{say('seen_how')}</p>
        </>
      )}
      {parts.map((s) => (
        <div key={s.part} className="film-part">
          <span id={`film-${s.part}`}>
            {s.title}
            {at[s.part] !== undefined && !unplayable && <b> {say('seen_at', { second: at[s.part] ?? '' })}</b>}
          </span>
          {unplayable ? (
            <Form.Control
              inputMode="numeric"
              className="mono"
              aria-label={`${s.title}, ${say('seen_at', { second: '' })}`}
              value={at[s.part] ?? ''}
              onChange={(e) => onAt(s.part, e.target.value.trim())}
            />
          ) : (
            <Button
              variant={at[s.part] === undefined ? 'outline-secondary' : 'outline-primary'}
              aria-describedby={`film-${s.part}`}
              onClick={() => onAt(s.part, String(Math.floor(player.current?.currentTime ?? 0)))}
            >
              {say('seen_now')}
            </Button>
          )}
        </div>
      ))}
    </>
  )
}
