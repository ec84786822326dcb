import { useState, type FormEvent } from 'react'
import { Button, ButtonGroup, Form } from 'react-bootstrap'
import { api, told, type Listing } from '../api/client'
import { Failed, useVerb } from '../kit/verb'

// fields are what can be typed in, by the fact and its column in files.
const fields: { fact: string; column: string; label: string }[] = [
  { fact: 'name', column: 'name', label: 'Name' },
  { fact: 'address', column: 'street', label: 'Street' },
  { fact: 'address', column: 'unit', label: 'Unit' },
  { fact: 'address', column: 'locality', label: 'Town' },
  { fact: 'address', column: 'region', label: 'Region' },
  { fact: 'address', column: 'postal_code', label: 'Postal code' },
  { fact: 'phone', column: 'phone', label: 'Phone' },
  { fact: 'website', column: 'website', label: 'Website' },
  { fact: 'email', column: 'email', label: 'Email' },
  { fact: 'category', column: 'category', label: 'Category' },
  { fact: 'hours', column: 'opening_hours', label: 'Hours' },
  { fact: 'text.short', column: 'short_description', label: 'Short description' },
  { fact: 'text.medium', column: 'description', label: 'Description' },
]

// TypeIn takes what somebody saw on a page, where no program can read it: fact by fact, or as text that was copied. What is
// left blank is not touched.
export function TypeIn({ listing: l, onDone }: { listing: Listing; onDone: () => void }) {
  const [by, setBy] = useState<'typed' | 'pasted'>('typed')
  const [facts, setFacts] = useState<Record<string, string>>({})
  const [text, setText] = useState('')
  const taken = new Set(l.facts.filter((f) => f.mark !== '·').map((f) => f.fact))
  const shown = fields.filter((f) => taken.has(f.fact))
  const said = Object.fromEntries(Object.entries(facts).filter(([, v]) => v.trim() !== ''))
  const tell = useVerb({
    does: () =>
      told(
        api.POST('/api/listings/{location}/{directory}/sightings', {
          params: { path: { location: l.row.location, directory: l.row.directory } },
          body: by === 'typed' ? { source: 'typed', facts: said } : { source: 'pasted', text },
        }),
      ),
    changes: ['listing', 'differences'],
    then: onDone,
    says: () => 'What shows there is kept.',
  })
  const submit = (e: FormEvent) => {
    e.preventDefault()
    tell.mutate()
  }
  const ready = by === 'typed' ? Object.keys(said).length > 0 : text.trim() !== ''
  return (
    <section className="sheet next mb-3" aria-label="What shows there">
      <div className="sheet-head">
        <h2>What shows there</h2>
        <ButtonGroup size="sm">
          {(['typed', 'pasted'] as const).map((b) => (
            <Button key={b} variant="outline-secondary" active={by === b} aria-pressed={by === b} onClick={() => setBy(b)}>
              {b === 'typed' ? 'Type in' : 'Paste'}
            </Button>
          ))}
        </ButtonGroup>
      </div>
      <Form className="type-in" onSubmit={submit}>
        {by === 'typed' ? (
          shown.map((f, i) => (
            <Form.Group key={f.column} controlId={'seen-' + f.column}>
              <Form.Label>{f.label}</Form.Label>
              <Form.Control
                autoFocus={i === 0}
                size="sm"
                value={facts[f.column] ?? ''}
                onChange={(e) => setFacts({ ...facts, [f.column]: e.target.value })}
              />
            </Form.Group>
          ))
        ) : (
          <Form.Control
            as="textarea"
            rows={8}
            aria-label="Text of the page"
            placeholder="Copy the part of the page about this business, its name first"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        )}
        <p className="second">Of what is left blank nothing is changed.</p>
        <div className="acts">
          <Button variant="outline-secondary" onClick={onDone}>
            Cancel
          </Button>
          <Button type="submit" disabled={!ready || tell.isPending}>
            Keep it
          </Button>
        </div>
        <Failed error={tell.error} />
      </Form>
    </section>
  )
}
