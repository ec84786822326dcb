import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { spanWords, useNow } from '../app/clock'
import { counted } from '../app/View'
import { undecided, type DateRow, type Decide } from './decide'
import { OtherHours } from './OtherHours'
import { PlaceLink } from './PlaceLink'

// Decided is what the record says of a date, by client: undecided first, answered once for a group.
export function Decided({ date: d, decide }: { date: DateRow; decide: Decide }) {
  const [places, setPlaces] = useState(false)
  const open = undecided(d)
  const said = d.places.filter((p) => p.decided)
  return (
    <section aria-label="What the record says">
      <h3>What the record says</h3>
      {open.length > 0 && (
        <>
          <h4>{open.length} undecided: the usual hours show</h4>
          <ul>
            {groups(open).length > 1 && (
              <li>
                <b>All {open.length}</b>
                <Acts date={d} decide={decide} />
              </li>
            )}
            {groups(open).map(([client, list]) => (
              <li key={client}>
                <span>
                  <b>{list.length}</b> {client} <span className="second">{[...new Set(list.map((p) => p.words))].join('; ')}</span>
                </span>
                <Acts date={{ ...d, places: list }} decide={decide} words={`${client}, ${d.name || d.from}`} />
              </li>
            ))}
          </ul>
        </>
      )}
      {said.length > 0 && (
        <>
          <h4>{said.length} decided</h4>
          <ul>
            {groups(said, (p) => p.words).map(([words, list]) => (
              <li key={words}>
                <span>
                  <b>{list.length}</b> {[...new Set(list.map((p) => p.client_name))].slice(0, 3).join(', ')}
                </span>
                <b>{words}</b>
              </li>
            ))}
          </ul>
        </>
      )}
      <Button variant="link" className="p-0" aria-expanded={places} onClick={() => setPlaces(!places)}>
        {places ? 'Fewer' : `The ${counted(d.places.length, 'place')}, one a row`}
      </Button>
      {places && (
        <ul className="each">
          {d.places.map((p) => (
            <li key={p.location}>
              <span>
                <PlaceLink place={p} /> <span className="second">{p.client_name}</span>
              </span>
              <span>{p.decided ? p.words : `nothing said: would show as ${p.words}`}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

type Place = DateRow['places'][number]

function groups(list: Place[], by: (p: Place) => string = (p) => p.client_name): [string, Place[]][] {
  const out = new Map<string, Place[]>()
  for (const p of list) out.set(by(p), [...(out.get(by(p)) ?? []), p])
  return [...out]
}

// Acts decide one date where nothing is said of it.
export function Acts({ date, decide, words }: { date: DateRow; decide: Decide; words?: string }) {
  const now = useNow(60_000)
  const [typing, setTyping] = useState(false)
  const busy = decide.isPending
  if (typing)
    return (
      <OtherHours
        label={`Hours on ${words ?? spanWords(date, now)}`}
        onHours={(sittings) => decide.mutate({ dates: [date], what: { sittings } }, { onSuccess: () => setTyping(false) })}
        onCancel={() => setTyping(false)}
      />
    )
  return (
    <span className="decide-acts">
      <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => decide.mutate({ dates: [date], what: {} })}>
        Closed
      </Button>
      <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => decide.mutate({ dates: [date], what: { usual: true } })}>
        Usual hours
      </Button>
      <Button variant="outline-secondary" size="sm" disabled={busy} onClick={() => setTyping(true)}>
        Other hours
      </Button>
    </span>
  )
}
