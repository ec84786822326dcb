import { useState, type FormEvent } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useHotkeys } from 'react-hotkeys-hook'
import { api, told } from '../api/client'
import { dateWords } from '../app/clock'
import { counted } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'
import { byHand, following, sendable, type Difference, type Row } from './rows'

const namedBy = (d: Difference) => ({ location: d.location, directory: d.directory, fact: d.fact })

// Bar does something with the differences that are chosen: it says what sending them sets off, sends them, or accepts them
// as they are.
export function Bar({ rows, onNone, onSent }: { rows: Row[]; onNone: () => void; onSent: (round: string) => void }) {
  const [accepting, setAccepting] = useState(false)
  const programs = rows.flatMap(sendable)
  const items = [...new Map(programs.map((d) => [d.location + d.directory, d])).values()].map((d) => ({
    location: d.location,
    directory: d.directory,
    facts: programs.filter((p) => p.location === d.location && p.directory === d.directory).map((p) => p.fact),
  }))
  const send = useVerb({
    does: () => told(api.POST('/api/rounds', { body: { what: 'send', items } })),
    changes: ['differences'],
    then: (r) => {
      onNone()
      onSent(r.id)
    },
  })
  useHotkeys('s', () => items.length > 0 && !send.isPending && send.mutate(), { useKey: true }, [items, send])
  useHotkeys('a', () => setAccepting(true), { useKey: true, preventDefault: true })
  const hands = rows.flatMap(byHand)
  const follow = rows.flatMap(following)
  return (
    <div className="act-bar differences-bar" role="region" aria-label="What is chosen">
      {accepting ? (
        <Accept rows={rows} onDone={onNone} onCancel={() => setAccepting(false)} />
      ) : (
        <>
          <p>
            <b>
              {rows.length} chosen, on {counted(rows.flatMap((r) => r.pages).length, 'page')}.
            </b>{' '}
            {items.length > 0 && `One edit for each of ${counted(items.length, 'page')}, the gentlest step first. `}
            {hands.length > 0 && `${counted(hands.length, 'page')} by hand, by letter or by file, from the row. `}
            {follow.length > 0 && `${follow.length} ${follow.length === 1 ? 'follows' : 'follow'} by ${lastOf(follow)}.`}
            <Failed error={send.error} />
          </p>
          <Button variant="outline-secondary" onClick={() => setAccepting(true)}>
            Accept {rows.length} <kbd>a</kbd>
          </Button>
          <Do verb={send} of={undefined} disabled={items.length === 0} running="Sending">
            Send {rows.filter((r) => sendable(r).length > 0).length} <kbd>s</kbd>
          </Do>
        </>
      )}
    </div>
  )
}

const lastOf = (list: Difference[]) => dateWords(list.map((p) => p.follows!).sort()[list.length - 1]!)

function Accept({ rows, onDone, onCancel }: { rows: Row[]; onDone: () => void; onCancel: () => void }) {
  const [why, setWhy] = useState('')
  const [until, setUntil] = useState('')
  const list = rows.flatMap((r) => r.pages.map(namedBy))
  const accept = useVerb({
    does: () => told(api.POST('/api/differences/accepted', { body: { differences: list, why, until: until || undefined } })),
    changes: ['differences'],
    then: onDone,
    says: () => `${counted(rows.length, 'difference is', 'differences are')} accepted${until ? ` until ${dateWords(until)}` : ''}.`,
    undo: async () => {
      await told(api.POST('/api/differences/taken-up', { body: { differences: list } }))
    },
  })
  const submit = (e: FormEvent) => {
    e.preventDefault()
    accept.mutate()
  }
  return (
    <Form className="accepting" onSubmit={submit} onKeyDown={(e) => e.key === 'Escape' && onCancel()}>
      <Form.Control
        autoFocus
        required
        maxLength={300}
        aria-label="Why"
        placeholder="Why it may stay so, such as: they never print the suite"
        value={why}
        onChange={(e) => setWhy(e.target.value)}
      />
      <label>
        until <Form.Control type="date" aria-label="Until" value={until} onChange={(e) => setUntil(e.target.value)} />
      </label>
      <Button variant="outline-secondary" onClick={onCancel}>
        Cancel
      </Button>
      <Button type="submit" disabled={accept.isPending || !why.trim()}>
        Accept {rows.length}
      </Button>
      <Failed error={accept.error} />
    </Form>
  )
}
