import { useRef, useState, type FormEvent } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useHotkeys } from 'react-hotkeys-hook'
import { usePeople } from '../api/queries'
import { dayTime, useNow, useZone } from '../app/clock'
import { counted } from '../app/View'
import type { ListingRow } from '../api/client'
import { Do, reason } from '../kit/verb'
import { useAsk } from './useAsk'
import { useMatter, type Deed } from './useMatter'
import { taking } from './acts'

const DAY = 86_400_000

const ways = [
  { id: 'decide', key: 'd', title: 'Done' },
  { id: 'putOff', key: 'p', title: 'Put off' },
  { id: 'hand', key: 'h', title: 'Hand over' },
  { id: 'note', key: 'm', title: 'Note' },
] as const

type Way = (typeof ways)[number]['id']

// ActBar does something with what is chosen, or with the row that has the focus where nothing is.
export function ActBar({
  chosen,
  minutes,
  rows,
  asks,
  of,
  onNone,
}: {
  chosen: number // matters
  minutes: number
  rows: number
  asks: boolean // owners can be asked about some of it
  of: () => Promise<ListingRow[]>
  onNone: () => void
}) {
  const [way, setWay] = useState<Way>()
  const from = useRef<HTMLElement>(null) // the row that had the focus
  const begin = (way: Way) => {
    from.current = document.activeElement as HTMLElement
    setWay(way)
  }
  // Once it is done, the focus is where it was, or on the row that took its place.
  const leave = () => {
    setWay(undefined)
    const all = [...document.querySelectorAll<HTMLElement>('#view [data-row]')]
    const at = from.current ? all.indexOf(from.current) : -1
    requestAnimationFrame(() => {
      const left = [...document.querySelectorAll<HTMLElement>('#view [data-row]')]
      const row = from.current?.isConnected ? from.current : left[Math.min(Math.max(at, 0), left.length - 1)]
      row?.focus()
    })
  }
  const end = () => {
    leave()
    onNone()
  }
  const verb = useMatter(() => of().then((rows) => rows.flatMap((r) => (r.task?.matter ? [r.task.matter.id] : []))), end)
  const ask = useAsk(of, end)
  const on = { enabled: chosen > 0, useKey: true, preventDefault: true }
  useHotkeys(
    ways.map((w) => w.key),
    (_, k) => begin(ways.find((w) => w.key === k.keys?.[0])!.id),
    on,
  )
  useHotkeys('a', () => ask.mutate(), { ...on, enabled: chosen > 0 && asks && !ask.isPending })
  useHotkeys('esc', () => (way ? leave() : onNone()), { enabled: chosen > 0, enableOnFormTags: true })
  if (chosen === 0) return null
  return (
    <div className="act-bar no-print" role="region" aria-label="What is chosen">
      <b>
        {counted(rows, 'row')} chosen: {counted(chosen, 'matter')}, {taking(minutes)}
      </b>
      {way ? (
        <DeedForm key={way} way={way} error={verb.error} runs={verb.isPending} onDo={verb.mutate} onLeave={leave} />
      ) : (
        <>
          {asks && (
            <Do verb={ask} of={undefined} variant="link" running="Writing">
              <kbd>a</kbd> Ask the owner
            </Do>
          )}
          {ways.map((w) => (
            <Button key={w.id} variant="link" onClick={() => begin(w.id)}>
              <kbd>{w.key}</kbd> {w.title}
            </Button>
          ))}
        </>
      )}
      {!way && (
        <Button variant="link" className="ms-auto" onClick={onNone}>
          <kbd>Esc</kbd> None
        </Button>
      )}
    </div>
  )
}

function DeedForm({
  way,
  error,
  runs,
  onDo,
  onLeave,
}: {
  way: Way
  error: Error | null
  runs: boolean
  onDo: (d: Deed) => void
  onLeave: () => void
}) {
  const now = useNow()
  const zone = useZone()
  const people = usePeople().data?.people.filter((p) => p.role !== 'client')
  const [text, setText] = useState('')
  const [days, setDays] = useState('3')
  const [to, setTo] = useState('')
  const send = (e: FormEvent) => {
    e.preventDefault()
    const until = new Date(now.getTime() + +days * DAY)
    const name = people?.find((p) => p.id === to)?.name ?? 'nobody'
    if (way === 'decide') onDo({ do: way, why: text })
    else if (way === 'note') onDo({ do: way, says: text })
    else if (way === 'hand') onDo({ do: way, to: to || undefined, name })
    else onDo({ do: way, until: until.toISOString(), reason: text, when: 'until ' + dayTime(until, zone) })
  }
  const asks = {
    decide: 'Why nothing more is done',
    note: 'Say it for whoever looks next',
    putOff: 'Why, if it is worth a word',
    hand: '',
  }[way]
  return (
    <Form onSubmit={send} className="deed">
      {way === 'putOff' && (
        <Form.Select size="sm" autoFocus aria-label="For how long" value={days} onChange={(e) => setDays(e.target.value)}>
          {[1, 3, 7, 14, 30].map((d) => (
            <option key={d} value={d}>
              {d === 1 ? 'for a day' : `for ${d} days`}
            </option>
          ))}
        </Form.Select>
      )}
      {way === 'hand' ? (
        <Form.Select size="sm" autoFocus aria-label="To whom" value={to} onChange={(e) => setTo(e.target.value)}>
          <option value="">nobody</option>
          {people?.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </Form.Select>
      ) : (
        <Form.Control
          size="sm"
          autoFocus={way !== 'putOff'}
          aria-label={asks}
          placeholder={asks}
          maxLength={500}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      )}
      <Button size="sm" type="submit" disabled={runs}>
        {ways.find((w) => w.id === way)?.title}
      </Button>
      <Button size="sm" variant="link" onClick={onLeave}>
        Leave it
      </Button>
      {error && (
        <span className="wrong mb-0" role="alert">
          {reason(error)}
        </span>
      )}
    </Form>
  )
}
