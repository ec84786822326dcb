import { useEffect, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Listing } from '../api/client'
import { dayTime, useNow } from '../app/clock'
import { Failed, useVerb } from '../kit/verb'
import { AxisScale, ownAxis, WindowBar, type Axis } from '../marks/WindowBar'
import { useListingVerb } from './verbs'

// Guard sets side by side what comes of leaving an attempt that is under way, and of asking in another way:
// beside it where the directory lets both run, or instead, which ends it.
export function Guard({ listing: l, method, onDone }: { listing: Listing; method: string; onDone: () => void }) {
  const now = useNow()
  const verb = useListingVerb(l)
  const way = l.ways.find((w) => w.method === method)
  const guard = way?.guard
  // When a call comes: now, at a time of which the owner is told before, or at one that they choose.
  const booking = method === 'call' && !!l.owner_email
  const [when, setWhen] = useState((booking && l.call_times?.[0]?.at) || 'now')
  const book = useVerb({
    does: () =>
      told(
        api.POST('/api/listings/{location}/{directory}/owner-links', {
          params: { path: { location: l.row.location, directory: l.row.directory } },
          body: {
            task: 'call',
            mail: true,
            at: when === 'theirs' ? undefined : when,
            instead: guard && !guard.keeps ? guard.attempt : undefined,
          },
        }),
      ),
    changes: ['listing', 'today'],
    then: onDone,
    says: () =>
      when === 'theirs'
        ? `${l.owner_email} is asked for a time.`
        : `A call is booked; ${l.owner_email} is told, and may choose another time.`,
  })
  useEffect(() => {
    const leave = (e: KeyboardEvent) => e.key === 'Escape' && onDone()
    addEventListener('keydown', leave)
    return () => removeEventListener('keydown', leave)
  }, [onDone])
  if (!way || !guard) return null
  const old = l.attempts.find((a) => a.id === guard.attempt)
  const other = old?.method === method ? 'Another' : way.title
  const bars = [
    { name: old?.title ?? '', window: old?.window },
    { name: other, window: guard.window },
  ].filter((b) => b.window)
  const axis = bars.reduce<Axis | undefined>((all, b) => {
    const own = ownAxis(b.window!, now)
    return all ? { from: Math.min(all.from, own.from), to: Math.max(all.to, own.to) } : own
  }, undefined)
  const ask = () => {
    if (method === 'call' && when !== 'now') return book.mutate()
    verb.mutate(
      { do: 'ask', method, despite: way.doubts.length > 0, instead: guard.keeps ? undefined : guard.attempt },
      { onSuccess: onDone },
    )
  }
  return (
    <section className="sheet guard" aria-labelledby="guard-title">
      <h2 id="guard-title">{guard.title}</h2>
      <p className="second">
        {guard.keeps
          ? `${l.row.directory_name} lets both run, so nothing need be lost.`
          : `${l.row.directory_name} lets one run at a time: asking again ends the one that is under way.`}
      </p>
      {axis && (
        <div className="bars">
          <div className="bar">
            <span />
            <AxisScale axis={axis} now={now} />
          </div>
          {bars.map((b) => (
            <div className="bar" key={b.name}>
              <span className="second">{b.name}</span>
              <WindowBar window={b.window!} axis={axis} />
            </div>
          ))}
        </div>
      )}
      <table>
        <thead>
          <tr>
            <td />
            <th scope="col">Leave it as it is</th>
            <th scope="col">{guard.keeps ? 'Keep both' : `${other} instead`}</th>
          </tr>
        </thead>
        <tbody>
          {guard.lines.map((line, i) => (
            <tr key={line.about}>
              <th scope="row">{line.about}</th>
              <td>{line.leave}</td>
              <td className={!guard.keeps && i < guard.lines.length - 1 ? 'lost' : ''}>{line.ask}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {method === 'call' && <When listing={l} when={when} booking={booking} onWhen={setWhen} />}
      <Failed error={verb.error ?? book.error} />
      <div className="choices">
        <Button autoFocus={!guard.keeps} variant={guard.keeps ? 'outline-secondary' : 'primary'} onClick={onDone}>
          Leave it as it is
        </Button>
        <Button
          autoFocus={guard.keeps}
          variant={guard.keeps ? 'primary' : 'outline-secondary'}
          disabled={verb.isPending || book.isPending || !!l.busy}
          onClick={ask}
        >
          {verb.isPending || book.isPending
            ? 'Asking'
            : guard.keeps
              ? when === 'now'
                ? `${way.title} as well`
                : 'Book it as well'
              : when === 'now'
                ? `End it: ${other.toLowerCase()} instead`
                : 'Book it: the call ends it when it comes'}
        </Button>
        <span className="second small">Esc leaves it.</span>
      </div>
    </section>
  )
}

// When asks when a call comes, with good times and why they are.
function When({
  listing: l,
  when,
  booking,
  onWhen,
}: {
  listing: Listing
  when: string
  booking: boolean // there is an owner to be told
  onWhen: (when: string) => void
}) {
  const times = l.call_times ?? []
  const ways = [
    ...times.map((t) => ({ id: t.at, label: dayTime(new Date(t.at), l.row.zone), why: t.why, off: !booking })),
    { id: 'theirs', label: 'When they choose', why: 'On a page, in the shop’s hours.', off: !booking || times.length === 0 },
    { id: 'now', label: 'Now', why: 'Somebody has to pick up at once.', off: false },
  ]
  return (
    <fieldset className="px-3 pb-2">
      <legend className="second">
        {booking
          ? `When the call comes. Of all but “now”, ${l.owner_email} is told before.`
          : 'When the call comes. To book one, add the owner’s email under the client.'}
      </legend>
      {ways.map((w) => (
        <Form.Check
          key={w.id}
          type="radio"
          name="when"
          id={`when-${w.id}`}
          disabled={w.off}
          checked={when === w.id}
          onChange={() => onWhen(w.id)}
          label={
            <>
              {w.label} <span className="second">{w.why}</span>
            </>
          }
        />
      ))}
    </fieldset>
  )
}
