import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, Refusal, told, type Schemas } from '../api/client'
import { useClients, useSession } from '../api/queries'
import { useCopy } from '../app/copy'
import { dayTime, useZone } from '../app/clock'
import { useSay } from '../app/say'
import { Pending, ViewHead } from '../app/View'
import { Failed } from '../verification/Failed'

// YouView is about oneself: where one is signed in, a second factor, keys for programs.
export function YouView() {
  const session = useSession()
  if (!session.data) return <Pending error={session.error} />
  return (
    <>
      <ViewHead title={session.data.name} says={`${session.data.email}, ${session.data.role}`} />
      <div className="two">
        <div>
          <Sessions />
          <Keys />
        </div>
        <aside>
          <Digest minute={session.data.digest_minute} zone={session.data.zone} />
          <Feeds />
          <SecondFactor has={session.data.second_factor} />
        </aside>
      </div>
    </>
  )
}

function Sessions() {
  const found = useQuery({ queryKey: ['sessions'], queryFn: () => told(api.GET('/api/sessions')) })
  const queries = useQueryClient()
  const zone = useZone()
  const end = useMutation({
    mutationFn: (id: string) => told(api.DELETE('/api/sessions/{session}', { params: { path: { session: id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['sessions'] }),
  })
  return (
    <section className="sheet">
      <h2>Where you are signed in</h2>
      <Failed error={found.error ?? end.error} />
      <ul className="made-links">
        {found.data?.map((s) => (
          <li key={s.id}>
            <span>
              {browser(s.agent)} from <span className="mono">{s.address}</span>
              <span className="second small">
                since {dayTime(new Date(s.began), zone)}
                {s.this && ', this one'}
              </span>
            </span>
            {!s.this && (
              <Button variant="link" size="sm" className="p-0" onClick={() => end.mutate(s.id)}>
                End it
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

// browser names a browser and its system as people do.
function browser(agent: string): string {
  const name = ['Firefox', 'Edg', 'Chrome', 'Safari'].find((n) => agent.includes(n + '/'))
  const system = ['Windows', 'Mac OS', 'Android', 'iPhone', 'Linux'].find((n) => agent.includes(n))
  return `${{ Edg: 'Edge' }[name ?? ''] ?? name ?? 'A browser'}${system ? ' on ' + system : ''}`
}

const clock = (minute: number) => `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`

// Digest is when one is written to.
function Digest({ minute, zone }: { minute?: number; zone: string }) {
  const queries = useQueryClient()
  const say = useSay()
  const [time, setTime] = useState(clock(minute ?? 450))
  const set = useMutation({
    mutationFn: (to: number | undefined) => told(api.PUT('/api/digest', { body: { minute: to } })),
    onSuccess: (_, to) => {
      void queries.invalidateQueries({ queryKey: ['session'] })
      say(to === undefined ? 'You are not written to any more.' : `You are written to at ${clock(to)}, on days with news.`)
    },
  })
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>The day by email</h2>
        <span className="second">{minute === undefined ? 'never' : `at ${clock(minute)}`}</span>
      </div>
      <p>What only you can move, once a day, when something has changed. By the clock of {zone.split('/').at(-1)?.replaceAll('_', ' ')}.</p>
      <Failed error={set.error} />
      <form
        className="d-flex gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          const [h, m] = time.split(':').map(Number)
          set.mutate((h ?? 0) * 60 + (m ?? 0))
        }}
      >
        <Form.Control
          type="time"
          className="w-auto mono"
          aria-label="At what time"
          required
          value={time}
          onChange={(e) => setTime(e.target.value)}
        />
        <Button type="submit" variant="outline-secondary" disabled={set.isPending}>
          {minute === undefined ? 'Write to me' : 'Change'}
        </Button>
        {minute !== undefined && (
          <Button variant="link" disabled={set.isPending} onClick={() => set.mutate(undefined)}>
            Never
          </Button>
        )}
      </form>
    </section>
  )
}

// Feeds are private addresses for a calendar.
function Feeds() {
  const found = useQuery({ queryKey: ['feeds'], queryFn: () => told(api.GET('/api/feeds')) })
  const clients = useClients()
  const queries = useQueryClient()
  const copy = useCopy()
  const [of, setOf] = useState('')
  const again = () => queries.invalidateQueries({ queryKey: ['feeds'] })
  const make = useMutation({
    mutationFn: () => {
      const location = clients.data?.flatMap((c) => c.locations).find((l) => l.id === of)
      return told(api.POST('/api/feeds', { body: location ? { location: of } : of ? { client: of } : {} }))
    },
    onSuccess: again,
  })
  const end = useMutation({
    mutationFn: (id: string) => told(api.DELETE('/api/feeds/{feed}', { params: { path: { feed: id } } })),
    onSuccess: again,
  })
  return (
    <section className="sheet">
      <h2>Deadlines in a calendar</h2>
      <p className="second">An address that a calendar reads (iCalendar). Whoever has it can read the deadlines; end it when it is lost.</p>
      <Failed error={found.error ?? make.error ?? end.error} />
      {make.data && (
        <p className="note mx-3">
          Give this to the calendar; it is told once: <span className="mono text-break">{make.data.address}</span>{' '}
          <Button variant="link" className="p-0" onClick={() => void copy('The address', make.data.address)}>
            Copy
          </Button>
        </p>
      )}
      <ul className="made-links">
        {found.data?.map((f) => (
          <li key={f.id}>
            {f.name}
            <Button variant="link" size="sm" className="p-0" onClick={() => end.mutate(f.id)}>
              End it
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="d-flex gap-2 pt-2"
        onSubmit={(e) => {
          e.preventDefault()
          make.mutate()
        }}
      >
        <Form.Select aria-label="Deadlines of" value={of} onChange={(e) => setOf(e.target.value)}>
          <option value="">All clients</option>
          {clients.data?.map((c) => (
            <optgroup key={c.id} label={c.name}>
              <option value={c.id}>{c.name}</option>
              {c.locations.map((l) => (
                <option key={l.id} value={l.id}>
                  {l.label}
                </option>
              ))}
            </optgroup>
          ))}
        </Form.Select>
        <Button type="submit" variant="outline-secondary" className="text-nowrap" disabled={make.isPending}>
          Make an address
        </Button>
      </form>
    </section>
  )
}

function SecondFactor({ has }: { has: boolean }) {
  const queries = useQueryClient()
  const say = useSay()
  const [code, setCode] = useState('')
  const begin = useMutation({ mutationFn: () => told(api.POST('/api/second-factor')) })
  const done = (words: string) => {
    setCode('')
    begin.reset()
    void queries.invalidateQueries({ queryKey: ['session'] })
    say(words)
  }
  const keep = useMutation({
    mutationFn: () => told(api.PUT('/api/second-factor', { body: { secret: begin.data!.secret, code } })),
    onSuccess: () => done('The second factor is set.'),
  })
  const drop = useMutation({
    mutationFn: () => told(api.DELETE('/api/second-factor', { params: { query: { code } } })),
    onSuccess: () => done('The second factor is off.'),
  })
  const wrong = keep.error ?? drop.error ?? begin.error
  const asks = has || !!begin.data
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Second factor</h2>
        <span className="second">{has ? 'set' : 'none'}</span>
      </div>
      {!asks && (
        <>
          <p>A code from an app on your phone, asked for beside the password. Whoever learns the password alone cannot sign in.</p>
          <p>
            <Button variant="outline-secondary" disabled={begin.isPending} onClick={() => begin.mutate()}>
              Set it up
            </Button>
          </p>
        </>
      )}
      {begin.data && (
        <>
          <p>Scan this with the app, or type the secret into it. Then give the code that it shows.</p>
          <p>
            <img src={'data:image/png;base64,' + begin.data.picture} width="180" height="180" alt="QR code of the secret" />
          </p>
          <p className="mono text-break">{begin.data.secret}</p>
        </>
      )}
      {wrong && (
        <p className="wrong mx-3" role="alert">
          {wrong instanceof Refusal && wrong.fields[0] ? wrong.fields[0].message : wrong.message}
        </p>
      )}
      {asks && (
        <form
          className="d-flex gap-2"
          onSubmit={(e) => {
            e.preventDefault()
            if (has) drop.mutate()
            else keep.mutate()
          }}
        >
          <Form.Control
            aria-label="Code"
            className="mono"
            inputMode="numeric"
            autoComplete="one-time-code"
            placeholder="000000"
            maxLength={6}
            required
            value={code}
            onChange={(e) => setCode(e.target.value)}
          />
          <Button type="submit" variant="outline-secondary" className="text-nowrap" disabled={keep.isPending || drop.isPending}>
            {has ? 'Take it off' : 'Keep it'}
          </Button>
        </form>
      )}
    </section>
  )
}

const scopes: [Schemas['ApiKey']['scope'], string][] = [
  ['see', 'reads'],
  ['edit', 'reads and edits'],
  ['send', 'reads, edits and sends'],
]

function Keys() {
  const found = useQuery({ queryKey: ['keys'], queryFn: () => told(api.GET('/api/keys')) })
  const queries = useQueryClient()
  const say = useSay()
  const zone = useZone()
  const copy = useCopy()
  const [name, setName] = useState('')
  const [scope, setScope] = useState<Schemas['ApiKey']['scope']>('see')
  const again = () => queries.invalidateQueries({ queryKey: ['keys'] })
  const make = useMutation({
    mutationFn: () => told(api.POST('/api/keys', { body: { name, scope } })),
    onSuccess: () => {
      setName('')
      void again()
    },
  })
  const end = useMutation({
    mutationFn: (id: string) => told(api.DELETE('/api/keys/{key}', { params: { path: { key: id } } })),
    onSuccess: () => {
      void again()
      say('The key has ended.')
    },
  })
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Keys for programs</h2>
        <Link to="/interface">Try the interface</Link>
      </div>
      <p className="second">
        A program asks with <span className="mono">Authorization: Bearer KEY</span>, in your name, and may do no more than you.
      </p>
      <Failed error={found.error ?? make.error ?? end.error} />
      {make.data && (
        <p className="note mx-3">
          Keep this now; it is told once: <span className="mono text-break">{make.data.secret}</span>{' '}
          <Button variant="link" className="p-0" onClick={() => void copy('The key', make.data.secret)}>
            Copy
          </Button>
        </p>
      )}
      <ul className="made-links">
        {found.data?.map((k) => (
          <li key={k.id}>
            <span>
              {k.name}, {scopes.find(([s]) => s === k.scope)?.[1]}
              <span className="second small">
                made {dayTime(new Date(k.at), zone)}; {k.used_at ? `last used ${dayTime(new Date(k.used_at), zone)}` : 'not used yet'}
              </span>
            </span>
            <Button variant="link" size="sm" className="p-0" onClick={() => end.mutate(k.id)}>
              End it
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="d-flex gap-2 pt-2"
        onSubmit={(e) => {
          e.preventDefault()
          make.mutate()
        }}
      >
        <Form.Control
          aria-label="What the key is for"
          placeholder="What it is for"
          required
          maxLength={100}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Form.Select
          className="w-auto"
          aria-label="What it may do"
          value={scope}
          onChange={(e) => setScope(e.target.value as typeof scope)}
        >
          {scopes.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </Form.Select>
        <Button type="submit" variant="outline-secondary" className="text-nowrap" disabled={make.isPending}>
          Make a key
        </Button>
      </form>
    </section>
  )
}
