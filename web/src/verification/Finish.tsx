import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Listing, type Schemas } from '../api/client'
import { useCopy } from '../app/copy'
import { Do, Failed, useVerb } from '../kit/verb'

type Sheet = Schemas['Worksheet']

function useGive(l: Listing, onGiven: () => void) {
  const queries = useQueryClient()
  const path = { location: l.row.location, directory: l.row.directory }
  return useVerb({
    does: (body: { page?: string; letter?: string }) =>
      told(api.POST('/api/listings/{location}/{directory}/given', { params: { path }, body })),
    changes: ['worksheet'],
    then: (after) => {
      queries.setQueryData(['listing', path.location, path.directory], after)
      onGiven()
    },
  })
}

// Finish notes that all was brought there, and where its page is.
export function Finish({
  sheet: s,
  listing: l,
  blocked,
  onPage,
  onGiven,
}: {
  sheet: Sheet
  listing: Listing
  blocked: boolean
  onPage: (page: string) => void
  onGiven: () => void
}) {
  const [page, setPage] = useState(s.at)
  const give = useGive(l, onGiven)
  const left = s.lines.filter((x) => !x.given).length
  return (
    <form
      className="finish no-print"
      onSubmit={(e) => {
        e.preventDefault()
        give.mutate({ page })
      }}
    >
      <Failed error={give.error} />
      <Form.Group controlId="page-there">
        <Form.Label>Address of its page there, as far as you know it</Form.Label>
        <Form.Control value={page} onChange={(e) => setPage(e.target.value)} onBlur={() => page !== s.at && onPage(page)} maxLength={500} />
      </Form.Group>
      <Button type="submit" disabled={give.isPending || blocked}>
        {left > 0 ? `Given, all but ${left}` : `All ${s.lines.length} given`}
      </Button>
      <span className="second">What was given is kept as it is now.</span>
    </form>
  )
}

// Letter asks a directory's staff in writing.
export function Letter({
  sheet: s,
  listing: l,
  blocked,
  onGiven,
}: {
  sheet: Sheet
  listing: Listing
  blocked: boolean
  onGiven: () => void
}) {
  const [body, setBody] = useState<string>()
  const give = useGive(l, onGiven)
  const copy = useCopy()
  const letter = s.letter!
  const text = body ?? letter.body
  return (
    <section className="sheet to-staff no-print">
      <div className="sheet-head">
        <h2>Write to their staff</h2>
        <span className="second mono">{letter.to}</span>
      </div>
      <Failed error={give.error} />
      <Form.Control
        as="textarea"
        rows={Math.min(18, text.split('\n').length + 1)}
        aria-label="The letter"
        value={text}
        onChange={(e) => setBody(e.target.value)}
        maxLength={20000}
      />
      <p className="m-3">
        <Do verb={give} of={{ letter: text }} running="Sending" disabled={blocked}>
          Send to {s.directory_name}
        </Do>{' '}
        <Button variant="outline-secondary" onClick={() => void copy('The letter', text)}>
          Copy the letter
        </Button>{' '}
        <span className="second">It cannot be taken back once it is sent.</span>
      </p>
    </section>
  )
}
