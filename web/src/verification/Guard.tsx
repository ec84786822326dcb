import { useEffect } from 'react'
import { Button } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { useNow } from '../app/clock'
import { Failed } from '../kit/verb'
import { AxisScale, ownAxis, WindowBar, type Axis } from '../marks/WindowBar'
import { useListingVerb } from './verbs'

// Guard sets side by side what comes of leaving an attempt that is under way, and of asking in another way:
// beside it where the directory lets both run, or instead, which ends it.
export function Guard({ listing: l, method, onDone }: { listing: Listing; method: string; onDone: () => void }) {
  const now = useNow()
  const verb = useListingVerb(l)
  const way = l.ways.find((w) => w.method === method)
  const guard = way?.guard
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
  const ask = () =>
    verb.mutate(
      { do: 'ask', method, despite: way.doubts.length > 0, instead: guard.keeps ? undefined : guard.attempt },
      { onSuccess: onDone },
    )
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
      <Failed error={verb.error} />
      <div className="choices">
        <Button autoFocus={!guard.keeps} variant={guard.keeps ? 'outline-secondary' : 'primary'} onClick={onDone}>
          Leave it as it is
        </Button>
        <Button
          autoFocus={guard.keeps}
          variant={guard.keeps ? 'primary' : 'outline-secondary'}
          disabled={verb.isPending || !!l.busy}
          onClick={ask}
        >
          {verb.isPending ? 'Asking' : guard.keeps ? `${way.title} as well` : `End it: ${other.toLowerCase()} instead`}
        </Button>
        <span className="second small">Esc leaves it.</span>
      </div>
    </section>
  )
}
