import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { ago, useNow } from '../app/clock'
import { Do, Failed, type Verb } from '../kit/verb'
import { statuses, verdicts } from './Find'
import { useListingVerb, type Asked } from './verbs'

type Candidate = Listing['candidates'][number]
type ListingVerb = Verb<Listing, Asked>

// Decide is about what a search has found: whether one of it is ours, or a new listing is created.
export function Decide({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const now = useNow()
  const likely = l.candidates.filter((c) => c.verdict === 'same' || c.verdict === 'probably').length > 0
  const none = l.candidates.length === 0
  return (
    <section className="sheet next">
      <div className="sheet-head">
        <h2>
          {none ? `Nothing ${l.left ? 'else ' : ''}like it is there` : likely ? 'Is one of these yours?' : 'Nothing much like it is there'}
        </h2>
        <Do verb={verb} of={{ do: 'search' }} variant="link" className="p-0">
          Search again
        </Do>
      </div>
      <p className="second">
        Searched by name, phone and address {ago(new Date(l.searched_at!), now)}.{' '}
        {!none && 'A claim or a new listing cannot be undone there.'}
        {l.attests && ` With it you attest, by your name, that you may speak for ${l.row.client_name}.`}
      </p>
      {l.trouble && <p className="wrong mx-3">{l.trouble}</p>}
      <Failed error={verb.error} />
      <CopyFrom listing={l} verb={verb} />
      {l.candidates.map((c, i) => (
        <Found key={c.ref} candidate={c} verb={verb} first={i === 0 && likely} />
      ))}
      <div className="candidate">
        <Create listing={l} verb={verb} likely={likely} />
      </div>
    </section>
  )
}

// CopyFrom offers to have it copied from another directory, with what comes along.
function CopyFrom({ listing: l, verb }: { listing: Listing; verb: ListingVerb }) {
  return l.copies_from.map((c) => (
    <div className="candidate" key={c.from}>
      <div className="who">
        <div>
          <b>Copy it from {c.name}</b>
          <span className="second small">
            {c.not || `Comes along: ${c.brought.join(', ') || 'nothing that is known'}.`}
            {!c.not && c.left.length > 0 && ` To send afterwards: ${c.left.join(', ')}.`}
          </span>
        </div>
        {!c.not && (
          <Do verb={verb} of={{ do: 'copy', from: c.from }} running="Copying" variant="outline-secondary">
            Copy
          </Do>
        )}
      </div>
    </div>
  ))
}

function Found({ candidate: c, verb, first }: { candidate: Candidate; verb: ListingVerb; first: boolean }) {
  return (
    <div className="candidate">
      <div className="who">
        <div>
          <b>{c.name}</b>
          {[c.address, c.phone].filter(Boolean).join(' · ')}
        </div>
        <Do verb={verb} of={{ do: 'claim', ref: c.ref }} running="Claiming" variant={first ? 'primary' : 'outline-secondary'}>
          Claim
        </Do>
      </div>
      <span className={'verdict ' + c.verdict}>
        {verdicts[c.verdict]} · {c.score.toFixed(2)}
      </span>{' '}
      <span className="second small">{statuses[c.status]}</span>
      <ul>
        {c.reasons.map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
    </div>
  )
}

// Create makes a new listing, unless something stands in the way. Where one of those found is likely
// ours, it asks twice.
function Create({ listing: l, verb, likely }: { listing: Listing; verb: ListingVerb; likely: boolean }) {
  const [sure, setSure] = useState(false)
  const [typed, setTyped] = useState<string>()
  const pageName = typed ?? l.page_names?.proposed[0] ?? ''
  if (l.worked === 'suggestions')
    return (
      <p className="second m-0">
        {l.row.directory_name} makes its listings by itself, of what it reads elsewhere. Search again when the location shows there.
      </p>
    )
  if (l.missing.length > 0)
    return (
      <>
        <b>Before one can be created</b>
        <ul>
          {l.missing.map((m) => (
            <li key={m}>{m}</li>
          ))}
        </ul>
      </>
    )
  return (
    <>
      {l.page_names && <PageName names={l.page_names} value={pageName} onChange={setTyped} />}
      <div className="who">
        <div>
          <b>{l.candidates.length === 0 ? 'Create it from the record' : 'None of these'}</b>
          <span className="second small">
            {likely ? `A second listing of one shop harms both.` : `${l.row.directory_name} gets the facts on the left.`}
          </span>
        </div>
        {likely && !sure ? (
          <Button variant="outline-secondary" onClick={() => setSure(true)}>
            Create anyway
          </Button>
        ) : (
          <Do
            verb={verb}
            of={{ do: 'create', name: l.page_names ? pageName : undefined }}
            running="Creating"
            variant={likely ? 'outline-secondary' : 'primary'}
          >
            Create listing
          </Do>
        )}
      </div>
    </>
  )
}

// PageName is the name in the address of the listing's page, where the directory has one chosen.
function PageName({
  names,
  value,
  onChange,
}: {
  names: NonNullable<Listing['page_names']>
  value: string
  onChange: (name: string) => void
}) {
  return (
    <Form.Group controlId="page-name" className="mb-2">
      <Form.Label>
        Its page’s address: <span className="mono">{names.begins}</span>
      </Form.Label>
      <Form.Control list="page-names" value={value} onChange={(e) => onChange(e.target.value)} maxLength={200} className="mono" />
      <datalist id="page-names">
        {names.proposed.map((p) => (
          <option key={p} value={p} />
        ))}
      </datalist>
      <Form.Text>
        {names.note}
        {names.taken.length > 0 && ` Taken: ${names.taken.join(', ')}.`}
      </Form.Text>
    </Form.Group>
  )
}
