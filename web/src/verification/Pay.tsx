import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Listing } from '../api/client'
import { useSession } from '../api/queries'
import { Failed, useVerb } from '../kit/verb'
import { useListingVerb } from './verbs'

// Pay asks whose card is charged, and how much, before anything is: whoever pays confirms it, ourselves here and an owner on a
// page of theirs.
export function Pay({ listing: l, onDone }: { listing: Listing; onDone: () => void }) {
  const verb = useListingVerb(l)
  const me = useSession().data
  const [whose, setWhose] = useState<'owner' | 'mine'>(l.owner_email ? 'owner' : 'mine')
  const [sure, setSure] = useState(false)
  const way = l.ways.find((w) => w.charge)
  const write = useVerb({
    does: () =>
      told(
        api.POST('/api/listings/{location}/{directory}/owner-links', {
          params: { path: { location: l.row.location, directory: l.row.directory } },
          body: { task: 'card', mail: true },
        }),
      ),
    changes: ['listing'],
    then: onDone,
    says: () => `${l.owner_email} is asked to confirm the payment.`,
  })
  if (!way) return null
  const ends = way.guard && !way.guard.keeps ? way.guard.attempt : undefined
  return (
    <section className="sheet guard" aria-labelledby="pay-title">
      <h2 id="pay-title">
        {way.charge} for {l.row.label} on {l.row.directory_name}: whose card?
      </h2>
      <p className="second">{way.says}</p>
      {way.guard && <p className={ends ? 'wrong mx-3' : 'second'}>{way.guard.title.replace(/ Have .*$/, ends ? ' This ends it.' : '')}</p>}
      <div className="px-3">
        <Form.Check
          type="radio"
          name="whose"
          id="pay-owner"
          disabled={!l.owner_email || !!ends}
          checked={whose === 'owner'}
          onChange={() => setWhose('owner')}
          label={
            l.owner_email ? `The owner’s: ${l.owner_email} confirms it on a page of their own` : 'The owner’s, of whom no email is known'
          }
        />
        <Form.Check
          type="radio"
          name="whose"
          id="pay-mine"
          checked={whose === 'mine'}
          onChange={() => setWhose('mine')}
          label="Mine, or one that I may use"
        />
        {whose === 'mine' && (
          <Form.Check
            id="pay-sure"
            className="ms-4"
            checked={sure}
            onChange={(e) => setSure(e.target.checked)}
            label={`${way.charge} may be charged to it`}
          />
        )}
      </div>
      <Failed error={verb.error ?? write.error} />
      <div className="choices">
        {whose === 'owner' ? (
          <Button disabled={write.isPending} onClick={() => write.mutate()}>
            {write.isPending ? 'Asking' : 'Ask the owner'}
          </Button>
        ) : (
          <Button
            disabled={!sure || verb.isPending || !!l.busy}
            onClick={() => verb.mutate({ do: 'ask', method: way.method, instead: ends, payer: me?.name ?? '' }, { onSuccess: onDone })}
          >
            {verb.isPending ? 'Asking' : `Charge ${way.charge}`}
          </Button>
        )}
        <Button variant="outline-secondary" onClick={onDone}>
          Leave it as it is
        </Button>
      </div>
    </section>
  )
}
