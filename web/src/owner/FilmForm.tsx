import { useState } from 'react'
import { Form } from 'react-bootstrap'
import type { Schemas } from '../api/client'
import { upload } from '../app/upload'
import { Send } from '../kit/form'
import { Failed, useVerb } from '../kit/verb'

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

// FilmForm sends a video with the seconds at which each part can be seen.
export function FilmForm<T>({
  path,
  shots,
  size,
  then,
}: {
  path: string
  shots: Schemas['Shot'][]
  size?: 'lg'
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
      <Form.Label htmlFor="film-file">The video, MP4 or WebM</Form.Label>
      <Form.Control
        id="film-file"
        type="file"
        accept="video/mp4,video/webm"
        onChange={(e) => setFile((e.target as HTMLInputElement).files?.[0])}
      />
      {parts.map((s) => (
        <div key={s.part} className="film-part">
          <Form.Label htmlFor={`film-${s.part}`}>{s.title}, seen at second</Form.Label>
          <Form.Control
            id={`film-${s.part}`}
            inputMode="numeric"
            className="mono"
            value={at[s.part] ?? ''}
            onChange={(e) => setAt({ ...at, [s.part]: e.target.value.trim() })}
          />
        </div>
      ))}
      <Form.Check
        id="film-private"
        className="mb-2"
        checked={own}
        onChange={(e) => setOwn(e.target.checked)}
        label="Nothing private is in it: no customers, no papers, no screens"
      />
      <Send
        verb={give}
        running={`Sending, ${Math.round(100 * part)} %`}
        size={size}
        variant={size ? 'primary' : 'outline-secondary'}
        disabled={!ready}
      >
        Send the video
      </Send>
    </Form>
  )
}
