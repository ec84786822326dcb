import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useEffect, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useNavigate } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useCoverageNames } from '../api/queries'
import { useCopy } from '../app/copy'
import { Needs } from '../app/Needs'
import { Do, Failed, useVerb } from '../kit/verb'
import { FitTable } from '../verification/Fit'
import { RulebookEditor } from './RulebookEditor'
import { Versions } from './Versions'

const begun = `id: pierbook
name: Pierbook
kind: ferry timetable
summary: The booklet on every ferry, which lists shops near the piers.
weight: 6
worked: by_hand
page: https://pierbook.example/shops

calendar: {country: US, zone: America/Los_Angeles}

listing:
  kinds: [premises, both]

facts:
  - {fact: name, required: true, most_characters: 40}
  - {fact: address, required: true}
  - {fact: category, required: true}
  - {fact: hours}

hours: {sittings_per_day: 1, past_midnight: false}

categories:
  most: 1
  map:
    bakery: Food
  other: Shops

verification: []

publishing: {window: {min: 1, max: 10, unit: business_days}, look_every_hours: 48}
`

// RulebookText is a rulebook as text: mistakes stand at their lines as it is typed, and
// it is tried on a location before it is saved. Each save is a version.
export function RulebookText({ directory: d, location }: { directory?: Schemas['Directory']; location?: string }) {
  const kept = 'rulebook ' + (d?.id ?? 'new')
  const before = d?.rulebook ?? begun
  const [text, setText] = useState(() => localStorage.getItem(kept) ?? before)
  const changed = text !== before
  const [trial, setTrial] = useState(location ?? '')
  const late = useDeferredValue(text)
  const navigate = useNavigate()
  const copy = useCopy()
  useEffect(() => {
    if (changed) localStorage.setItem(kept, text)
    else localStorage.removeItem(kept)
  }, [kept, text, changed])
  const check = useQuery({
    queryKey: ['rulebook-check', late, trial],
    queryFn: () => told(api.POST('/api/rulebook-checks', { body: { text: late, location: trial || undefined } })),
    placeholderData: (before) => before,
    enabled: !d || changed || !!trial,
  })
  const save = useVerb({
    does: () =>
      d
        ? told(api.PUT('/api/directories/{directory}', { params: { path: { directory: d.id } }, body: { text } }))
        : told(api.POST('/api/directories', { body: { text } })),
    changes: 'all',
    then: (saved) => {
      localStorage.removeItem(kept)
      if (!d) void navigate(`?directory=${saved.id}`)
    },
    says: (saved) => (d ? `A new version of ${saved.name}’s rulebook is in force.` : `${saved.name} is in.`),
  })
  const problems = check.data?.problems ?? []
  return (
    <section className="sheet rulebook-text">
      <div className="sheet-head">
        <h2>{d ? 'The file' : 'A directory’s rulebook'}</h2>
        <span>
          <Button variant="link" className="p-0 me-3" onClick={() => void copy('The rulebook', text)}>
            Copy
          </Button>
          {changed && (
            <Button variant="link" className="p-0" onClick={() => setText(before)}>
              Throw changes away
            </Button>
          )}
        </span>
      </div>
      <RulebookEditor text={text} problems={problems} onChange={setText} />
      <Failed error={save.error} />
      <div className="tries">
        <TryOn value={trial} onChange={setTrial} />
        <Needs what="send" shared>
          <Do verb={save} of={undefined} running="Saving" disabled={(!!d && !changed) || problems.length > 0 || check.isFetching}>
            {d ? 'Save a new version' : 'Add this directory'}
          </Do>
        </Needs>
      </div>
      {check.data?.trial && problems.length === 0 && (
        <div className="px-3 pb-3">
          {check.data.before !== undefined && (
            <p className="second">
              By the rulebook in force {Math.round(check.data.before)} %, by this one {Math.round(check.data.trial.percent)} %.
            </p>
          )}
          <FitTable fit={check.data.trial} location={trial} />
        </div>
      )}
      {d && <Versions directory={d.id} onTake={setText} />}
    </section>
  )
}

// TryOn chooses the location that a rulebook is tried on.
function TryOn({ value, onChange }: { value: string; onChange: (location: string) => void }) {
  const names = useCoverageNames().data ?? []
  return (
    <Form.Group controlId="trial">
      <Form.Label>Try it on</Form.Label>
      <Form.Select value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">no location yet</option>
        {names.map((n) => (
          <option key={n.location} value={n.location}>
            {n.client_name}, {n.label}
          </option>
        ))}
      </Form.Select>
    </Form.Group>
  )
}
