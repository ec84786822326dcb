import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { useParams, useSearchParams } from 'react-router'
import { api, told } from '../api/client'
import { labelled, type Labels, type Language, type Page, type Thing } from './labels'
import { OneThing } from './OneThing'

// opened is how many things stand open; the rest are a line each.
const opened = 3

const isOpen = (t: Thing) => t.state === 'open' || t.state === 'waiting'

// OwnerPage is the private page of an owner, without an account: all that is asked of them, what is lost first first.
export function OwnerPage() {
  const { secret = '' } = useParams()
  const [params, setParams] = useSearchParams()
  const language = (params.get('in') ?? undefined) as Language
  const queries = useQueryClient()
  const key = ['owner', secret, language]
  const page = useQuery({
    queryKey: key,
    queryFn: () => told(api.GET('/api/owner/{secret}', { params: { path: { secret }, query: { in: language } } })),
    // A call that was asked for comes by itself, and its code is then to be typed.
    refetchInterval: (q) => (q.state.data?.things.some((t) => t.state === 'waiting') ? 15_000 : false),
    placeholderData: (before) => before,
    retry: false,
  })
  const p = page.data
  return (
    <main className="owner" lang={p?.language}>
      {page.error && !p && (
        <section role="status">
          <h1>This page does not open</h1>
          <p>{page.error.message}</p>
        </section>
      )}
      {p && (
        <All
          page={p}
          secret={secret}
          language={language}
          then={(after) => queries.setQueryData(key, after)}
          speak={(id) => setParams({ in: id }, { replace: true })}
        />
      )}
    </main>
  )
}

function All({
  page: p,
  secret,
  language,
  then,
  speak,
}: {
  page: Page
  secret: string
  language: Language
  then: (after: Page) => void
  speak: (id: string) => void
}) {
  const say = labelled(p.labels)
  const [more, setMore] = useState<string>()
  const open = p.things.filter(isOpen)
  const ended = p.things.filter((t) => !isOpen(t))
  return (
    <>
      <p className="owner-who">{p.business}</p>
      <h1>{p.heading}</h1>
      <p className="owner-asks">{open.length === 0 ? p.says : say(open.length > 1 ? 'asks_many' : 'asks', { from: p.from })}</p>
      <ol className="owner-things">
        {open.map((t, i) => (
          <li key={t.id}>
            <div className="owner-head">
              {open.length > 1 && <b>{i + 1}</b>}
              <h2>{t.heading}</h2>
            </div>
            {i < opened || t.id === more ? (
              <OneThing page={p} thing={t} secret={secret} language={language} say={say} then={then} first={i === 0} />
            ) : (
              <p>
                <span className={t.soon ? 'owner-soon' : 'second'}>{say('until', { when: t.until })}</span>
                <span className="second">, {t.directory}</span>{' '}
                <Button variant="link" className="p-0 align-baseline" onClick={() => setMore(t.id)}>
                  {say('open')}
                </Button>
              </p>
            )}
          </li>
        ))}
      </ol>
      {ended.length > 0 && <Ended things={ended} say={say} />}
      <p className="owner-foot">
        {say('alone')} <a href={`mailto:${p.from_email}`}>{say('write', { from: p.from })}</a>
        {p.languages
          .filter((l) => l.id !== p.language)
          .map((l) => (
            <Button key={l.id} variant="link" className="p-0 align-baseline" lang={l.id} onClick={() => speak(l.id)}>
              {l.name}
            </Button>
          ))}
      </p>
    </>
  )
}

// Ended are the things of which nothing is left to do, each with how it ended.
function Ended({ things, say }: { things: Thing[]; say: Labels }) {
  return (
    <section className="owner-ended">
      <h2>{say('done')}</h2>
      <ul>
        {things.map((t) => (
          <li key={t.id}>
            {t.heading}. <span className="second">{t.ended}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
