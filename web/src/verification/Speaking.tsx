import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, Refusal, told, type Listing, type Schemas } from '../api/client'
import { useSpoken } from '../api/queries'
import { dateWords, dayTime } from '../app/clock'
import { counted, Pending } from '../app/View'
import { Failed } from './Failed'
import { useVerb } from './verbs'

type Post = Schemas['Post']

const words: Record<Post['kind'], string> = { post: 'Post', event: 'Event', offer: 'Offer' }

// Speaking is what a business says through a listing, and what visitors wrote there.
export function Speaking({ listing: l }: { listing: Listing }) {
  const spoken = useSpoken(l)
  if (!spoken.data) return <Pending error={spoken.error} />
  const s = l.speaks
  return (
    <>
      {s.kinds.length > 0 && <SayIt listing={l} left={spoken.data.left} />}
      {s.kinds.length > 0 && (
        <section className="sheet">
          <div className="sheet-head">
            <h2>Said so far</h2>
            {s.posts_per_month > 0 && (
              <span className="second">
                {spoken.data.left} of {counted(s.posts_per_month, 'post')} left this month
              </span>
            )}
          </div>
          {spoken.data.posts.length === 0 && <p className="second">Nothing was said here yet.</p>}
          {spoken.data.posts.map((p, i) => (
            <article className="said" key={i}>
              <AsShown post={p} />
            </article>
          ))}
        </section>
      )}
      {s.reviews && (
        <section className="sheet">
          <h2>What visitors wrote</h2>
          {spoken.data.reviews.length === 0 && <p className="second">Nobody has reviewed it yet.</p>}
          {spoken.data.reviews.map((r, i) => (
            <article className="said" key={i}>
              <p>
                <b>{r.stars} of 5</b> <span className="second">{r.by}</span>{' '}
                <time className="second" dateTime={r.at}>
                  {dayTime(new Date(r.at), l.row.zone)}
                </time>
              </p>
              <p>{r.text}</p>
            </article>
          ))}
        </section>
      )}
    </>
  )
}

// AsShown is a post as the public sees it.
function AsShown({ post: p }: { post: Post }) {
  return (
    <>
      <p>
        <b>{p.title || 'Title'}</b>{' '}
        <span className="second">
          {words[p.kind]}
          {p.percent ? `, ${p.percent} % off` : ''}
          {p.until ? `, until ${dateWords(p.until)}` : ''}
          {p.radius_kilometres ? `, within ${p.radius_kilometres} km` : ''}
        </span>
      </p>
      {p.text && <p className="said-text">{p.text}</p>}
      {p.button && (
        <p>
          <span className="said-button">{p.button}</span> <span className="second mono small">{p.link}</span>
        </p>
      )}
    </>
  )
}

// useKept holds what is being written until it is said, also when the tab is closed.
function useKept(key: string, start: Post) {
  const [value, set] = useState<Post>(() => {
    try {
      return { ...start, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<Post>) }
    } catch {
      return start
    }
  })
  return [
    value,
    (next: Post | undefined) => {
      if (next) localStorage.setItem(key, JSON.stringify(next))
      else localStorage.removeItem(key)
      set(next ?? start)
    },
  ] as const
}

function SayIt({ listing: l, left }: { listing: Listing; left: number }) {
  const s = l.speaks
  const verb = useVerb(l)
  const [post, setPost] = useKept(`post ${l.row.location} ${l.row.directory}`, {
    kind: s.kinds[0] ?? 'post',
    title: '',
    radius_kilometres: 0,
  })
  const change = (to: Partial<Post>) => setPost({ ...post, ...to })
  const none = post.kind === 'post' && left === 0
  const wrong = (path: string) => (verb.error instanceof Refusal ? verb.error.fields.find((f) => f.path === path)?.message : undefined)
  const field = (path: string, label: string, control: React.ReactElement) => (
    <Form.Group controlId={'say-' + path} className="mb-2">
      <Form.Label>{label}</Form.Label>
      {control}
      {wrong(path) && (
        <p className="wrong mb-1" role="alert">
          {wrong(path)}
        </p>
      )}
    </Form.Group>
  )
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Say something on {l.row.directory_name}</h2>
        {s.kinds.length > 1 && (
          <span role="group" aria-label="What it is" className="d-flex gap-3">
            {s.kinds.map((k) => (
              <Form.Check
                key={k}
                type="radio"
                name="say-kind"
                id={'say-' + k}
                label={words[k]}
                checked={post.kind === k}
                onChange={() => change({ kind: k })}
              />
            ))}
          </span>
        )}
      </div>
      <form
        className="say"
        onSubmit={(e) => {
          e.preventDefault()
          const { kind, title, text, button, link, percent, until, radius_kilometres } = post
          verb.mutate(
            {
              do: 'say',
              post: {
                kind,
                title,
                text,
                button,
                link: button ? link : undefined,
                percent: kind === 'offer' ? percent : undefined,
                until: kind === 'post' ? undefined : until || undefined,
                radius_kilometres,
              },
            },
            { onSuccess: (after) => !after.trouble && setPost(undefined) },
          )
        }}
      >
        <div>
          {field('title', 'Title', <Form.Control value={post.title} maxLength={200} onChange={(e) => change({ title: e.target.value })} />)}
          {field(
            'text',
            'Words',
            <Form.Control
              as="textarea"
              rows={3}
              value={post.text ?? ''}
              maxLength={5000}
              onChange={(e) => change({ text: e.target.value })}
            />,
          )}
          {post.kind === 'event' &&
            field(
              'until',
              `Ends on, within ${s.events_most_days} days`,
              <Form.Control type="date" value={post.until ?? ''} onChange={(e) => change({ until: e.target.value })} />,
            )}
          {post.kind === 'offer' &&
            field(
              'percent',
              `Per cent off, ${s.offers_most_percent} at most`,
              <Form.Control
                type="number"
                min={1}
                max={s.offers_most_percent}
                value={post.percent ?? ''}
                onChange={(e) => change({ percent: e.target.value === '' ? undefined : +e.target.value })}
              />,
            )}
          {post.kind === 'offer' &&
            field(
              'until',
              'Until',
              <Form.Control type="date" value={post.until ?? ''} onChange={(e) => change({ until: e.target.value })} />,
            )}
          {s.radius_kilometres > 0 &&
            field(
              'radius',
              `Shown within, up to ${s.radius_kilometres} km`,
              <div className="d-flex gap-3 align-items-center">
                <Form.Range
                  id="say-radius"
                  min={0}
                  max={s.radius_kilometres}
                  step={1}
                  value={post.radius_kilometres ?? 0}
                  onChange={(e) => change({ radius_kilometres: +e.target.value })}
                />
                <People location={l.row.location} kilometres={post.radius_kilometres ?? 0} />
              </div>,
            )}
          {s.buttons.length > 0 &&
            field(
              'button',
              'Button',
              <Form.Select
                value={post.button ?? ''}
                onChange={(e) => {
                  const b = s.buttons.find((x) => x.name === e.target.value)
                  change({ button: b?.name, link: b?.leads_to })
                }}
              >
                <option value="">none</option>
                {s.buttons.map((b) => (
                  <option key={b.name}>{b.name}</option>
                ))}
              </Form.Select>,
            )}
          {post.button &&
            field(
              'link',
              'It leads to',
              <Form.Control value={post.link ?? ''} maxLength={2000} onChange={(e) => change({ link: e.target.value })} />,
            )}
        </div>
        <div className="said-preview" aria-label="As the public will see it">
          <p className="second small">As the public will see it</p>
          <AsShown post={{ ...post, link: undefined, radius_kilometres: undefined }} />
        </div>
        <div className="said-do">
          {verb.error && !(verb.error instanceof Refusal && verb.error.fields.length > 0) && <Failed error={verb.error} />}
          {l.trouble && !l.busy && <p className="wrong">{l.trouble}</p>}
          <Button type="submit" variant="outline-secondary" disabled={verb.isPending || !!l.busy || none}>
            {verb.isPending ? 'Sending' : `Send the ${post.kind}`}
          </Button>
          {none && <span className="second ms-2">No post is left this month.</span>}
        </div>
      </form>
    </section>
  )
}

function People({ location, kilometres }: { location: string; kilometres: number }) {
  const people = useQuery({
    queryKey: ['people', location, kilometres],
    queryFn: () => told(api.GET('/api/locations/{location}/people', { params: { path: { location }, query: { kilometres } } })),
    enabled: kilometres > 0,
    placeholderData: (before) => before,
    retry: false,
  })
  return (
    <span className="second text-nowrap say-people" aria-live="polite">
      {kilometres === 0
        ? 'not aimed'
        : people.error
          ? people.error.message
          : `${kilometres} km: ${people.data ? people.data.people.toLocaleString('en') : '…'} people`}
    </span>
  )
}
