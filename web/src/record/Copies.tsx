import { useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Button, Modal } from 'react-bootstrap'
import { api, told, type Rec } from '../api/client'
import { useSay } from '../app/say'
import { Pending } from '../app/View'

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
  const path = { params: { path: { location } } }
  const copy = useQuery({
    queryKey: ['jsonld', location],
    queryFn: () => told(api.GET('/api/locations/{location}/jsonld', path)),
    enabled: show,
  })
  const say = useSay()
  const picker = useRef<HTMLInputElement>(null)
  const [wrong, setWrong] = useState('')
  const read = async (text: string) => {
    setWrong('')
    try {
      onRead(await told(api.POST('/api/locations/{location}/jsonld', { ...path, body: { text } })))
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
        <h3 className="sub p-0">CSV</h3>
        <p>
          All of it, as a row that comes back unchanged.{' '}
          <a href={`/api/export.csv?location=${location}`} download={`${label}.csv`}>
            Take out the CSV
          </a>
        </p>
        <h3 className="sub p-0">
          JSON-LD <span>schema.org LocalBusiness, as a website would carry it</span>
        </h3>
        {!copy.data ? (
          <Pending error={copy.error} />
        ) : (
          <>
            <p className="second">It has no place for {copy.data.lost.join(', ')}.</p>
            <pre className="file" tabIndex={0} aria-label="The record as JSON-LD">
              {copy.data.text}
            </pre>
            <div className="d-flex gap-2 mt-2">
              <a
                className="btn btn-outline-secondary"
                href={'data:application/ld+json;charset=utf-8,' + encodeURIComponent(copy.data.text)}
                download={`${label}.jsonld`}
              >
                Take out the JSON-LD
              </a>
              <Button
                variant="outline-secondary"
                onClick={async () => {
                  await navigator.clipboard.writeText(copy.data.text)
                  say('The JSON-LD is on the clipboard.')
                }}
              >
                Copy it
              </Button>
              <input
                ref={picker}
                id="jsonld"
                type="file"
                className="visually-hidden"
                accept=".jsonld,.json,application/ld+json,application/json"
                aria-label="JSON-LD file"
                onChange={async (e) => {
                  const file = e.target.files?.[0]
                  if (file) await read(await file.text())
                  e.target.value = ''
                }}
              />
              <Button variant="outline-secondary" onClick={() => picker.current?.click()}>
                Bring in a JSON-LD
              </Button>
            </div>
            {wrong && (
              <p className="wrong mt-2" role="alert">
                {wrong}
              </p>
            )}
          </>
        )}
      </Modal.Body>
    </Modal>
  )
}
