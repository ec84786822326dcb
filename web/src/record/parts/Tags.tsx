import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Form } from 'react-bootstrap'
import { api, told } from '../../api/client'
import { FactField } from '../Field'
import { useHeld } from '../held'
import { Origin } from '../Origin'

// Tags say how links are marked, so that visits can be told apart by directory.
export function Tags() {
  const { record: r, set } = useHeld()
  return (
    <section className="sheet">
      <h2>
        Campaign tags <Origin path="tags" />
      </h2>
      <p className="second">
        Each directory is given links that say where a visitor came from, so that the site’s analytics can tell the directories apart. Tags
        that a link has already are kept.
      </p>
      <div className="fields pb-2">
        <div className="w6">
          <Form.Check
            id="tags-on"
            label="Tag the links that directories are given"
            checked={r.tags.on}
            onChange={(e) => set({ tags: { ...r.tags, on: e.target.checked, medium: r.tags.medium || 'listing' } })}
          />
        </div>
        {r.tags.on && (
          <>
            <FactField label="utm_medium" path="tags.medium" width="w2" />
            <FactField label="utm_campaign" path="tags.campaign" width="w2" help="Empty: only source and medium." />
          </>
        )}
      </div>
      {r.tags.on && <Tagged />}
    </section>
  )
}

// Tagged shows the website as each directory is given it.
function Tagged() {
  const { record: r } = useHeld()
  const list = useQuery({
    queryKey: ['tagged', r.website, r.tags],
    queryFn: () => told(api.POST('/api/tagged-links', { body: { address: r.website, tags: r.tags } })),
    enabled: r.website !== '',
    placeholderData: keepPreviousData,
  }).data
  return (
    <ul className="plain-list">
      {(list ?? []).map((l) => (
        <li key={l.directory}>
          <b>{l.name}</b>
          <span className="mono">{l.address}</span>
        </li>
      ))}
    </ul>
  )
}
