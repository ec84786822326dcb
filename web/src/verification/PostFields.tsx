import { useQuery } from '@tanstack/react-query'
import { Form } from 'react-bootstrap'
import { api, told, type Listing } from '../api/client'
import { wrongWith } from '../kit/verb'
import type { Post } from './post'

// PostFields are what a directory takes of a post of this kind.
export function PostFields({
  listing: l,
  post,
  error,
  onChange,
}: {
  listing: Listing
  post: Post
  error: Error | null
  onChange: (part: Partial<Post>) => void
}) {
  const s = l.speaks
  const field = (path: string, label: string, control: React.ReactElement) => {
    const wrong = wrongWith(error, path)
    return (
      <Form.Group controlId={'say-' + path} className="mb-2">
        <Form.Label>{label}</Form.Label>
        {control}
        {wrong && (
          <p className="wrong mb-1" role="alert">
            {wrong}
          </p>
        )}
      </Form.Group>
    )
  }
  const until = <Form.Control type="date" value={post.until ?? ''} onChange={(e) => onChange({ until: e.target.value })} />
  return (
    <div>
      {field('title', 'Title', <Form.Control value={post.title} maxLength={200} onChange={(e) => onChange({ title: e.target.value })} />)}
      {field(
        'text',
        'Words',
        <Form.Control
          as="textarea"
          rows={3}
          value={post.text ?? ''}
          maxLength={5000}
          onChange={(e) => onChange({ text: e.target.value })}
        />,
      )}
      {post.kind === 'event' && field('until', `Ends on, within ${s.events_most_days} days`, until)}
      {post.kind === 'offer' &&
        field(
          'percent',
          `Per cent off, ${s.offers_most_percent} at most`,
          <Form.Control
            type="number"
            min={1}
            max={s.offers_most_percent}
            value={post.percent ?? ''}
            onChange={(e) => onChange({ percent: e.target.value === '' ? undefined : +e.target.value })}
          />,
        )}
      {post.kind === 'offer' && field('until', 'Until', until)}
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
              onChange={(e) => onChange({ radius_kilometres: +e.target.value })}
            />
            <People location={l.row.location} kilometres={post.radius_kilometres ?? 0} />
          </div>,
        )}
      {s.buttons.length > 0 && field('button', 'Button', <ChooseButton buttons={s.buttons} chosen={post.button} onChoose={onChange} />)}
      {post.button &&
        field(
          'link',
          'It leads to',
          <Form.Control value={post.link ?? ''} maxLength={2000} onChange={(e) => onChange({ link: e.target.value })} />,
        )}
    </div>
  )
}

// ChooseButton chooses a button, with where it usually leads.
function ChooseButton({
  buttons,
  chosen,
  onChoose,
}: {
  buttons: Listing['speaks']['buttons']
  chosen?: string
  onChoose: (part: Partial<Post>) => void
}) {
  return (
    <Form.Select
      value={chosen ?? ''}
      onChange={(e) => {
        const b = buttons.find((x) => x.name === e.target.value)
        onChoose({ button: b?.name, link: b?.leads_to })
      }}
    >
      <option value="">none</option>
      {buttons.map((b) => (
        <option key={b.name}>{b.name}</option>
      ))}
    </Form.Select>
  )
}

// People says how many people live within the radius.
function People({ location, kilometres }: { location: string; kilometres: number }) {
  const people = useQuery({
    queryKey: ['people-around', location, kilometres],
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
