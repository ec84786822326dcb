import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useClients, useNotices } from '../api/queries'
import { dayTime, useZone } from '../app/clock'
import { LocationOptions } from '../kit/options'
import { Do, Failed, useVerb } from '../kit/verb'

// Letters are those of directories of which it could not be told what they are about.
export function Letters() {
  const notices = useNotices().data
  if (!notices?.length) return null
  return (
    <section>
      <div className="group-head">
        <h2>Letters that name no listing of ours</h2>
        <span>say which location each is about</span>
      </div>
      <ul className="rows letters">
        {notices.map((n) => (
          <Letter key={n.id} letter={n} />
        ))}
      </ul>
    </section>
  )
}

function Letter({ letter: n }: { letter: Schemas['Notice'] }) {
  const clients = useClients().data
  const zone = useZone()
  const [location, setLocation] = useState('')
  const put = (body: { location?: string; put_aside?: boolean }) =>
    told(api.PUT('/api/notices/{notice}', { params: { path: { notice: n.id } }, body }))
  const changes = ['notices', 'cases']
  const place = useVerb({ does: (location: string) => put({ location }), changes })
  const aside = useVerb({
    does: () => put({ put_aside: true }),
    changes,
    says: () => 'The letter is put aside.',
    undo: async () => {
      await put({ put_aside: false })
      return 'The letter is back.'
    },
  })
  return (
    <li>
      <div>
        <b>{n.subject}</b>{' '}
        <span className="second">
          {n.directory_name}, {dayTime(new Date(n.at), zone)}
        </span>
        <p className="said-text">{n.body}</p>
        <Failed error={place.error ?? aside.error} />
      </div>
      <div className="d-flex gap-2 align-items-center">
        <Form.Select aria-label={`Location of “${n.subject}”`} value={location} onChange={(e) => setLocation(e.target.value)}>
          <option value="">Which location?</option>
          <LocationOptions of={clients ?? []} />
        </Form.Select>
        <Do verb={place} of={location} variant="outline-secondary" disabled={!location || aside.isPending}>
          Place it
        </Do>
        <Do verb={aside} of={undefined} variant="link" className="text-nowrap" disabled={place.isPending}>
          Put aside
        </Do>
      </div>
    </li>
  )
}
