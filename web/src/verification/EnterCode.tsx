import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Listing, type Schemas } from '../api/client'
import { dateWords, useTimes } from '../app/clock'
import { Needs } from '../app/Needs'
import { counted } from '../app/View'
import { Do, reason, useVerb } from '../kit/verb'
import { WindowBar } from '../marks/WindowBar'
import { useListingVerb } from './verbs'

// EnterCode takes the code that was sent. What was typed is kept for the tab,
// so that leaving the page loses nothing.
export function EnterCode({ listing: l, attempt: a, beside }: { listing: Listing; attempt: Schemas['Attempt']; beside?: boolean }) {
  const at = useTimes(l.row.zone)
  const queries = useQueryClient()
  const verb = useListingVerb(l)
  const kept = 'code ' + a.id
  const [code, setCode] = useState(() => sessionStorage.getItem(kept) ?? '')
  const type = (text: string) => {
    const digits = text.replace(/[^\d]/g, '').slice(0, a.digits)
    setCode(digits)
    if (digits) sessionStorage.setItem(kept, digits)
    else sessionStorage.removeItem(kept)
  }
  const enter = useVerb({
    does: () =>
      told(
        api.PUT('/api/listings/{location}/{directory}/codes/{attempt}', {
          params: { path: { location: l.row.location, directory: l.row.directory, attempt: a.id } },
          body: { code },
        }),
      ),
    then: (after) => {
      queries.setQueryData(['listing', l.row.location, l.row.directory], after)
      type('')
    },
    says: (after) => (after.row.strand.verification === 'verified' ? `${l.row.label} is verified on ${l.row.directory_name}.` : undefined),
  })
  const trouble = enter.error ? reason(enter.error) : code === '' ? a.says || (beside ? '' : l.trouble) : ''
  const mistaken = l.attempts.find((o) => o.id === a.id)?.mistaken
  const what: Record<string, string> = { postcard: 'the postcard', call: 'the call', text: 'the text', email: 'the email' }
  return (
    <section className={beside ? 'sheet' : 'sheet next'}>
      <h2>
        {beside ? `${a.title}, ${a.arrived_at ? 'at hand' : a.window?.state === 'late' ? 'late' : 'on its way'} too` : 'Enter the code'}
      </h2>
      <p className="second">
        {a.digits} digits, from {what[a.method]} to {a.to}, asked for {at(a.asked_at)}. {counted(a.tries_left, 'try', 'tries')} left. It
        stops working {at(a.expires!)}.
      </p>
      <form
        onSubmit={(e) => {
          e.preventDefault()
          enter.mutate()
        }}
      >
        <Needs what="send">
          <div className="code-entry">
            <Form.Control
              aria-label={`Code of ${a.digits} digits` + (beside ? `, by ${a.title.toLowerCase()}` : '')}
              inputMode="numeric"
              autoComplete="one-time-code"
              placeholder={'·'.repeat(a.digits)}
              value={code}
              isInvalid={!!trouble}
              onChange={(e) => type(e.target.value)}
            />
            <Button
              type="submit"
              className="mt-1"
              variant={beside ? 'outline-secondary' : 'primary'}
              disabled={code.length !== a.digits || enter.isPending}
            >
              {enter.isPending ? 'Submitting' : 'Submit'}
            </Button>
          </div>
        </Needs>
        {trouble && (
          <p className="wrong" role="alert">
            {trouble} {mistaken}
          </p>
        )}
      </form>
      {a.window?.state === 'late' && !a.arrived_at && (
        <p className="note mx-3">
          It was due by {dateWords(a.window.latest)} and nobody has said that it came. Ask at the location, then ask for another below.
        </p>
      )}
      {a.window && (
        <div className="px-3">
          <WindowBar window={a.window} />
          <p className="second small mb-0">
            Due {dateWords(a.window.earliest)} to {dateWords(a.window.latest)}.{' '}
            {a.arrived_at ? (
              `In hand since ${at(a.arrived_at)}.`
            ) : (
              <Do verb={verb} of={{ do: 'arrived', attempt: a.id }} variant="link" size="sm" className="p-0 align-baseline">
                It has arrived
              </Do>
            )}
          </p>
        </div>
      )}
    </section>
  )
}
