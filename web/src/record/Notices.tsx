import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { Button } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useNow, spanWords } from '../app/clock'
import { Do, useVerb } from '../kit/verb'
import type { Edit } from './edit'

// BothChanged says that somebody saved while this was being edited, and has the
// facts decided that both changed.
export function BothChanged({
  merged,
  onDecide,
  onNoted,
}: {
  merged: NonNullable<Edit['merged']>
  onDecide: (path: string, theirs: boolean) => void
  onNoted: () => void
}) {
  const here = useRef<HTMLDivElement>(null)
  useEffect(() => {
    here.current?.scrollIntoView({ block: 'nearest' }) // wherever one was typing
  }, [])
  return (
    <div className="note" role="alert" ref={here}>
      <p>
        {merged.by} saved this record while you were editing it.{' '}
        {merged.conflicts.length === 0 ? (
          <>
            What each of you changed is in it now; look it over and save.{' '}
            <Button variant="link" className="p-0 align-baseline" onClick={onNoted}>
              Good
            </Button>
          </>
        ) : (
          'What only one of you changed is in it. Both of you changed these; choose, and nothing is lost:'
        )}
      </p>
      {merged.conflicts.length > 0 && (
        <table className="both">
          <tbody>
            {merged.conflicts.map((c) => (
              <tr key={c.path}>
                <th scope="row">{c.title}</th>
                <td>
                  <Button variant="outline-secondary" size="sm" onClick={() => onDecide(c.path, false)}>
                    Keep mine
                  </Button>
                  <span>{c.mine || 'nothing'}</span>
                </td>
                <td>
                  <Button variant="outline-secondary" size="sm" onClick={() => onDecide(c.path, true)}>
                    Take theirs
                  </Button>
                  <span>{c.theirs || 'nothing'}</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  )
}

// Others names those who have the record open too.
export function Others({ others }: { others: Schemas['Present'][] }) {
  if (others.length === 0) return null
  return (
    <span className="others" role="status">
      {others
        .map((o) =>
          `${o.you ? 'you, in another window,' : o.name} ${o.you ? 'have' : 'has'} it open${o.editing ? ' and is editing' : ''}`.replace(
            'you, in another window, have it open and is editing',
            'you are editing it in another window',
          ),
        )
        .join('; ')}
    </span>
  )
}

// Plans are the changes to come.
export function Plans({ location }: { location: string }) {
  const plans = useQuery({
    queryKey: ['plans', location],
    queryFn: () => told(api.GET('/api/locations/{location}/plans', { params: { path: { location } } })),
  }).data
  const now = useNow()
  const drop = useVerb({
    does: (plan: string) => told(api.DELETE('/api/locations/{location}/plans/{plan}', { params: { path: { location, plan } } })),
    changes: ['plans'],
    says: () => 'The change that was to come is taken back.',
    tells: true,
  })
  if (!plans || plans.length === 0) return null
  return (
    <ul className="plans">
      {plans.map((p) => (
        <li key={p.id}>
          <b>{spanWords({ from: p.on, to: p.on }, now)}</b>{' '}
          {p.done ? (
            <>
              {p.kept.join(', ').toLowerCase()} had been changed since, and stayed as it was
              <span> · planned by {p.actor}</span>
            </>
          ) : (
            <>
              <span title={p.changes.map((c) => `${c.title}: ${c.after || 'nothing'}`).join('\n')}>
                {p.changes.map((c) => c.title.toLowerCase()).join(', ')} will change
              </span>
              <span> · planned by {p.actor}</span>{' '}
              <Do verb={drop} of={p.id} variant="link" size="sm" className="p-0 align-baseline">
                Take back
              </Do>
            </>
          )}
        </li>
      ))}
    </ul>
  )
}

// Remarks are cells of files that could not come in, until the fact is said or somebody has read them.
export function Remarks({ location }: { location: string }) {
  const list = useQuery({
    queryKey: ['remarks', location],
    queryFn: () => told(api.GET('/api/locations/{location}/remarks', { params: { path: { location } } })),
  })
  const drop = useVerb({
    does: (remark: string) => told(api.DELETE('/api/locations/{location}/remarks/{remark}', { params: { path: { location, remark } } })),
    changes: ['remarks'],
    tells: true,
  })
  if (!list.data?.length) return null
  return (
    <div className="note">
      <p>Left out when it was brought in:</p>
      <ul>
        {list.data.map((r) => (
          <li key={r.id}>
            {r.column} “{r.says}” <span className="second">{`(${[r.file, r.why].filter(Boolean).join(': ')})`}</span>{' '}
            <Do verb={drop} of={r.id} variant="link" size="sm" className="p-0 align-baseline">
              Put aside
            </Do>
          </li>
        ))}
      </ul>
    </div>
  )
}
