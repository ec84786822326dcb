import { useState } from 'react'
import { Link } from 'react-router'
import { api, told } from '../api/client'
import { useDifferences } from '../api/queries'
import { listingPath, type Scope } from '../app/place'
import { Do, Failed, useVerb } from '../kit/verb'
import { Changed } from './Changed'
import type { Difference } from './rows'

// Fold lists the differences of which nothing is to be done now: a correction is on its way, or they stay as they are.
export function Fold({ scope, standing, title }: { scope: Scope; standing: 'sent' | 'accepted'; title: string }) {
  const [open, setOpen] = useState(false)
  const list = useDifferences(scope, { standing })
  const takeUp = useVerb({
    does: (d: Difference) =>
      told(
        api.POST('/api/differences/taken-up', { body: { differences: [{ location: d.location, directory: d.directory, fact: d.fact }] } }),
      ),
    changes: ['differences'],
  })
  const rows = list.data?.rows ?? []
  if (rows.length === 0) return null
  return (
    <details className="differences-fold" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>
        <b>{rows.length}</b> {title}
      </summary>
      {open && (
        <ul>
          {rows.map((d) => (
            <li key={d.location + d.directory + d.fact}>
              <Link to={listingPath(d.location, d.directory)}>
                {d.title} at {d.label} on {d.directory_name}
              </Link>
              <span>
                {d.seen ? <Changed is="old" text={d.seen} from={d.record} /> : 'not shown'} → {d.record}
              </span>
              <span className="second">{d.cannot || (standing === 'sent' && d.right ? `looked for every night` : '')}</span>
              {standing === 'accepted' && !d.cannot && (
                <Do verb={takeUp} of={d} size="sm" variant="outline-secondary">
                  Take up
                </Do>
              )}
            </li>
          ))}
        </ul>
      )}
      <Failed error={takeUp.error} />
    </details>
  )
}
