import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { dateWords, useTimes } from '../app/clock'
import { WindowBar } from '../marks/WindowBar'
import { Failed } from './Failed'
import { useVerb, type Found } from './verbs'

// LookByHand records what a person found on a directory that no program can search.
export function LookByHand({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
  const [page, setPage] = useState('')
  const [holder, setHolder] = useState('')
  const [what, setWhat] = useState<Found>('nothing')
  const options: [Found, string][] = [
    ['nothing', 'Nothing like it'],
    ['free', 'It is there, and nobody’s'],
    ['ours', 'It is there, and ours already'],
    ['held_by_another', 'It is there, and somebody else holds it'],
  ]
  return (
    <section className="sheet next">
      <h2>Look for it first</h2>
      <p>
        {l.row.directory_name} may have {l.row.label} already, under an old name or address. Look there by name, phone and address, then say
        what you found.
      </p>
      {l.home && (
        <p>
          <a className="btn btn-outline-secondary" href={l.home} target="_blank" rel="noreferrer">
            Open {l.row.directory_name}
          </a>
        </p>
      )}
      <Failed error={verb.error} />
      <form
        className="px-3 pb-3"
        onSubmit={(e) => {
          e.preventDefault()
          verb.mutate({ do: 'found', what, page: page || undefined, heldBy: holder || undefined })
        }}
      >
        {options.map(([id, words]) => (
          <Form.Check
            key={id}
            type="radio"
            id={'found-' + id}
            name="found"
            label={words}
            checked={what === id}
            onChange={() => setWhat(id)}
          />
        ))}
        {what !== 'nothing' && (
          <Form.Group controlId="found-page" className="mt-2">
            <Form.Label>Address of its page</Form.Label>
            <Form.Control value={page} onChange={(e) => setPage(e.target.value)} maxLength={500} />
          </Form.Group>
        )}
        {what === 'held_by_another' && (
          <Form.Group controlId="found-holder" className="mt-2">
            <Form.Label>Who holds it, as far as it shows</Form.Label>
            <Form.Control value={holder} onChange={(e) => setHolder(e.target.value)} maxLength={200} />
          </Form.Group>
        )}
        <Button type="submit" className="mt-2" disabled={verb.isPending}>
          Keep what I found
        </Button>
      </form>
    </section>
  )
}

// BringThere leads to the worksheet.
export function BringThere({ listing: l, onWorksheet }: { listing: Listing; onWorksheet: () => void }) {
  const written = l.worked === 'written'
  return (
    <section className="sheet next">
      <h2>{written ? 'Write to their staff' : `Bring it to ${l.row.directory_name}`}</h2>
      {l.trouble && <p className="wrong mx-3">{l.trouble}</p>}
      <p>
        {written
          ? 'Its staff enter everything. The letter is written; read it, and send it.'
          : 'The worksheet has every value in the order of its form. A key copies each.'}
      </p>
      <p>
        <Button onClick={onWorksheet}>{written ? 'Read the letter' : 'Open the worksheet'}</Button>
      </p>
    </section>
  )
}

// AwaitStaff waits for a directory's people to answer.
export function AwaitStaff({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
  const at = useTimes(l.row.zone)
  const late = l.answer_by?.state === 'late'
  return (
    <section className={'sheet' + (late ? ' next' : '')}>
      <h2>{late ? 'They should have answered' : 'With their staff'}</h2>
      <p>
        Given {l.given_at && at(l.given_at)}.{' '}
        {l.answer_by &&
          (late ? `Their answer was due by ${dateWords(l.answer_by.latest)}.` : `They answer by ${dateWords(l.answer_by.latest)}.`)}
      </p>
      {l.answer_by && (
        <div className="px-3 attempt-bar">
          <WindowBar window={l.answer_by} />
        </div>
      )}
      <Answer listing={l} options={['taken_in', 'refused']} verb={verb} />
    </section>
  )
}

// CodeThere waits for a code that is entered on the directory's own pages.
export function CodeThere({ listing: l }: { listing: Listing }) {
  const verb = useVerb(l)
  const at = useTimes(l.row.zone)
  const a = l.attempts.at(-1)!
  return (
    <section className="sheet next">
      <h2>Enter the code there</h2>
      <p>
        {a.digits} digits, by {a.title.toLowerCase()} to {a.to}. Enter it on {l.row.directory_name}’s own page, then say how it went.
        {a.expires && ` It stops working ${at(a.expires)}.`}
      </p>
      {a.window && (
        <div className="px-3 attempt-bar">
          <WindowBar window={a.window} />
        </div>
      )}
      <Answer listing={l} options={['verified', 'refused']} verb={verb} />
    </section>
  )
}

const answers = {
  taken_in: 'They have taken it in',
  verified: 'It is verified there',
  refused: 'They said no',
  public: 'It shows',
  not_public: 'It does not show',
}

// Answer records what the directory answered to a person.
export function Answer({
  listing: l,
  options,
  verb,
}: {
  listing: Listing
  options: (keyof typeof answers)[]
  verb: ReturnType<typeof useVerb>
}) {
  const [page, setPage] = useState('')
  const [says, setSays] = useState('')
  const [open, setOpen] = useState<keyof typeof answers>()
  const asksPage = open === 'taken_in' && !l.page
  return (
    <div className="px-3 pb-3">
      <Failed error={verb.error} />
      {options.map((o) => (
        <Button
          key={o}
          variant="outline-secondary"
          className="me-2 mb-2"
          aria-pressed={open === o}
          disabled={verb.isPending}
          onClick={() => (o === 'refused' || (o === 'taken_in' && !l.page) ? setOpen(o) : verb.mutate({ do: 'answered', what: o }))}
        >
          {answers[o]}
        </Button>
      ))}
      {open && (
        <form
          onSubmit={(e) => {
            e.preventDefault()
            verb.mutate({ do: 'answered', what: open, page: page || undefined, says: says || undefined })
            setOpen(undefined)
          }}
        >
          <Form.Group controlId="answer-text">
            <Form.Label>{asksPage ? 'Address of its page there' : 'What they said'}</Form.Label>
            <Form.Control value={asksPage ? page : says} onChange={(e) => (asksPage ? setPage : setSays)(e.target.value)} maxLength={500} />
          </Form.Group>
          <Button type="submit" variant="outline-secondary" className="mt-2">
            Keep it
          </Button>
        </form>
      )}
    </div>
  )
}
