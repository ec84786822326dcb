import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { api, told, type Rec } from '../api/client'
import { useCopy } from '../app/copy'
import { useSay } from '../app/say'
import { Pending } from '../app/View'

const forWhom = [
  [false, 'For the public', 'As anybody may see it, such as on a website'],
  [true, 'The whole record', 'With what is private, to keep or to bring in elsewhere'],
] as const

function ForWhom({ whole, choose }: { whole: boolean; choose: (whole: boolean) => void }) {
  return (
    <div className="d-flex gap-3 mb-2" role="group" aria-label="For whom">
      {forWhom.map(([is, words, says]) => (
        <Form.Check
          key={words}
          type="radio"
          id={`copies-${words}`}
          name="for-whom"
          label={words}
          title={says}
          checked={whole === is}
          onChange={() => choose(is)}
        />
      ))}
    </div>
  )
}

// Copies takes a record out in open formats, saying what each has no place for,
// and brings one in as a draft to look at before it is saved.
export function Copies({
  location,
  label,
  show,
  onHide,
  onRead,
}: {
  location: string
  label: string
  show: boolean
  onHide: () => void
  onRead: (r: Rec) => void
}) {
  const [whole, setWhole] = useState(false)
  const copies = useQuery({
    queryKey: ['copies', location, whole],
    queryFn: () => told(api.GET('/api/locations/{location}/copies', { params: { path: { location }, query: { whole } } })),
    placeholderData: keepPreviousData,
    enabled: show,
  })
  const say = useSay()
  const copy = useCopy()
  const picker = useRef<HTMLInputElement>(null)
  const [format, setFormat] = useState('jsonld')
  const [wrong, setWrong] = useState('')
  const shown = copies.data?.find((c) => c.format === format)
  const read = async (text: string) => {
    setWrong('')
    try {
      onRead(await told(api.POST('/api/locations/{location}/copies/{format}', { params: { path: { location, format } }, body: { text } })))
      onHide()
      say('Read. Look at it, then save the record.')
    } catch (e) {
      setWrong((e as Error).message)
    }
  }
  return (
    <Modal show={show} onHide={onHide} size="lg">
      <Modal.Header closeButton>
        <Modal.Title as="h2">Copies of {label}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {!shown ? (
          <Pending error={copies.error} />
        ) : (
          <>
            <ForWhom whole={whole} choose={setWhole} />
            <div className="sections" role="tablist">
              {copies.data?.map((c) => (
                <button
                  key={c.format}
                  type="button"
                  role="tab"
                  aria-selected={c.format === format}
                  onClick={() => {
                    setFormat(c.format)
                    setWrong('')
                  }}
                >
                  {c.title}
                </button>
              ))}
            </div>
            <p>
              {shown.title}: {shown.about}.{' '}
              <span className="second">
                {shown.lost.length > 0 ? `It has no place for ${shown.lost.join(', ')}.` : whole && 'Nothing is lost.'}
                {shown.kept_back.length > 0 && ` Kept back: ${shown.kept_back.join(', ')}.`}
              </span>
            </p>
            <pre className="file" tabIndex={0} aria-label={`The record as ${shown.title}`}>
              {shown.text}
            </pre>
            <div className="d-flex gap-2 mt-2">
              <a
                className="btn btn-outline-secondary"
                href={`data:${shown.media_type};charset=utf-8,` + encodeURIComponent(shown.text)}
                download={label + shown.extension}
              >
                Take out the {shown.title}
              </a>
              <Button variant="outline-secondary" onClick={() => void copy(`The ${shown.title}`, shown.text)}>
                Copy it
              </Button>
              <input
                ref={picker}
                id="copy-file"
                type="file"
                className="visually-hidden"
                aria-label={`${shown.title} file`}
                onChange={async (e) => {
                  const file = e.target.files?.[0]
                  if (file) await read(await file.text())
                  e.target.value = ''
                }}
              />
              <Button variant="outline-secondary" onClick={() => picker.current?.click()}>
                Bring in a {shown.title}
              </Button>
            </div>
            {wrong && (
              <p className="wrong mt-2" role="alert">
                {wrong}
              </p>
            )}
            <p className="second mt-3 mb-0">
              As a row of a spreadsheet:{' '}
              <a href={`/api/export.csv?location=${location}`} download={`${label}.csv`}>
                take out the CSV
              </a>
              , which comes back unchanged.
            </p>
          </>
        )}
      </Modal.Body>
    </Modal>
  )
}
