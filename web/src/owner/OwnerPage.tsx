import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useParams } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { upload } from '../app/upload'
import { Send } from '../kit/form'
import { Do, Failed, useVerb } from '../kit/verb'
import { FilmForm, Shots } from './FilmForm'

type Page = Schemas['OwnerPage']

// OwnerPage is the private page on which an owner does one thing, without an account.
export function OwnerPage() {
  const { secret = '' } = useParams()
  const queries = useQueryClient()
  const key = ['owner', secret]
  const page = useQuery({
    queryKey: key,
    queryFn: () => told(api.GET('/api/owner/{secret}', { params: { path: { secret } } })),
    // A call that was asked for comes by itself, and its code is then to be typed.
    refetchInterval: (q) => (q.state.data?.state === 'waiting' ? 15_000 : false),
    retry: false,
  })
  const p = page.data
  return (
    <main className="owner">
      {page.error && <Shut title="This page does not open" says={page.error.message} />}
      {p && (
        <>
          <p className="owner-who">{p.business}</p>
          {p.state === 'open' || p.state === 'waiting' ? (
            <Task page={p} secret={secret} then={(after) => queries.setQueryData(key, after)} />
          ) : (
            <Shut {...ends[p.state]} />
          )}
        </>
      )}
    </main>
  )
}

const ends: Record<Exclude<Page['state'], 'open' | 'waiting'>, { title: string; says: string }> = {
  done: { title: 'Thank you, that is all', says: 'You can close this page. Nothing more has to be done.' },
  expired: { title: 'This page has ended', says: 'Its time is over. Whoever sent it to you can make a new one.' },
  withdrawn: { title: 'This page was taken back', says: 'Whoever sent it to you does not need it any more.' },
  not_needed: { title: 'Nothing to do any more', says: 'It was settled another way. You can close this page.' },
}

function Shut({ title, says }: { title: string; says: string }) {
  return (
    <section role="status">
      <h1>{title}</h1>
      <p>{says}</p>
    </section>
  )
}

function Task({ page: p, secret, then }: { page: Page; secret: string; then: (after: Page) => void }) {
  const w = p.words
  return (
    <section>
      <h1>{w.title}</h1>
      <p>{w.what}</p>
      <p>
        <b>{w.how}</b>
      </p>
      {p.sent && (
        <div className="owner-minded" role="status">
          <p>
            <b>We have {p.sent.what}, but it may not be enough.</b> {p.sent.doubts.join(' ')}
          </p>
          <p>Send another here. Or leave it: whoever asked you has been told, and gets in touch.</p>
        </div>
      )}
      {p.digits > 0 ? (
        <Code page={p} secret={secret} then={then} />
      ) : p.task === 'video' ? (
        <>
          <Shots shots={p.shots} />
          <FilmForm<Page> path={`/api/owner/${secret}/video`} shots={p.shots} size="lg" then={then} />
        </>
      ) : p.task === 'paper' ? (
        <Paper secret={secret} then={then} />
      ) : (
        <Times page={p} secret={secret} then={then} />
      )}
      <p className="owner-why">{w.why}</p>
      <p className="owner-why">{w.until}</p>
    </section>
  )
}

type Doing = { secret: string; then: (after: Page) => void }

function Code({ page: p, secret, then }: Doing & { page: Page }) {
  const [code, setCode] = useState('')
  const enter = useVerb({
    does: () => told(api.POST('/api/owner/{secret}/code', { params: { path: { secret } }, body: { code } })),
    then,
  })
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault()
        enter.mutate()
      }}
    >
      <Failed error={enter.error ?? (p.said ? new Error(p.said) : null)} />
      <Form.Label htmlFor="owner-code">The code, {p.digits} digits</Form.Label>
      <Form.Control
        id="owner-code"
        className="mono owner-code"
        inputMode="numeric"
        autoComplete="one-time-code"
        value={code}
        onChange={(e) => setCode(e.target.value)}
        maxLength={20}
      />
      <Send verb={enter} running="Sending" size="lg" disabled={code.replace(/\D/g, '').length !== p.digits}>
        Send the code
      </Send>
    </Form>
  )
}

function Paper({ secret, then }: Doing) {
  const [file, setFile] = useState<File>()
  const [part, setPart] = useState(0)
  const give = useVerb({ does: (f: File) => upload<Page>(`/api/owner/${secret}/paper`, {}, f, setPart), then })
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault()
        if (file) give.mutate(file)
      }}
    >
      <Failed error={give.error} />
      <Form.Label htmlFor="owner-paper">The paper</Form.Label>
      <Form.Control
        id="owner-paper"
        type="file"
        accept="application/pdf,image/jpeg,image/png,image/webp"
        onChange={(e) => setFile((e.target as HTMLInputElement).files?.[0])}
      />
      <Send verb={give} running={`Sending, ${Math.round(100 * part)} %`} size="lg" disabled={!file}>
        Send the paper
      </Send>
    </Form>
  )
}

function Times({ page: p, secret, then }: Doing & { page: Page }) {
  const choose = useVerb({
    does: (at: string) => told(api.POST('/api/owner/{secret}/time', { params: { path: { secret } }, body: { at } })),
    then: (after) => {
      setShown(false)
      then(after)
    },
  })
  const day = new Intl.DateTimeFormat('en-GB', { weekday: 'long', day: 'numeric', month: 'long', timeZone: p.zone })
  const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: p.zone })
  const days = new Map<string, string[]>()
  for (const t of p.times) {
    const d = day.format(new Date(t))
    days.set(d, [...(days.get(d) ?? []), t])
  }
  const [shown, setShown] = useState(p.state !== 'waiting')
  if (!shown)
    return (
      <p>
        <Button variant="outline-secondary" size="lg" onClick={() => setShown(true)}>
          Choose another time
        </Button>
      </p>
    )
  return (
    <>
      <Failed error={choose.error} />
      {[...days].map(([d, times]) => (
        <fieldset key={d}>
          <legend>{d}</legend>
          <div className="owner-times">
            {times.map((t) => (
              <Do key={t} verb={choose} of={t} variant={t === p.call_at ? 'primary' : 'outline-secondary'}>
                {clock.format(new Date(t))}
              </Do>
            ))}
          </div>
        </fieldset>
      ))}
    </>
  )
}
