import { useParams } from 'react-router'
import { api, told } from '../api/client'
import { useLocationRecord } from '../api/queries'
import { Pending, ViewHead } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'

// OwnRecord is a location's record as its client reads it, and says that it is right.
export function OwnRecord() {
  const { location: id = '' } = useParams()
  const found = useLocationRecord(id)
  const confirm = useVerb({
    does: (version: number) =>
      told(api.POST('/api/locations/{location}/confirmation', { params: { path: { location: id } }, body: { version } })),
    changes: ['location'],
    says: () => 'Noted, with your name and the time.',
  })
  if (!found.data) return <Pending error={found.error} />
  const r = found.data.record
  const a = r.address
  const facts: [string, string][] = [
    ['Name', r.name],
    ['Address', [a.street, a.unit, a.locality, a.region, a.postal_code].filter(Boolean).join(', ')],
    ['Phones', r.phones.map((p) => p.e164).join(', ')],
    ['Email', r.email],
    ['Website', r.website],
    ['Opening hours', r.hours],
    ['Directions', r.directions],
    ['In brief', r.words.short],
    ['Description', r.words.long],
  ]
  return (
    <>
      <ViewHead title={r.label} says="What every directory is given. Is it right?">
        <Do verb={confirm} of={found.data.version}>
          It is right
        </Do>
      </ViewHead>
      <Failed error={confirm.error} />
      <table className="grid">
        <tbody>
          {facts
            .filter(([, v]) => v)
            .map(([title, value]) => (
              <tr key={title}>
                <th scope="row">{title}</th>
                <td>{value}</td>
              </tr>
            ))}
        </tbody>
      </table>
      <p className="second mt-2">If something is wrong, write to whoever looks after your listings.</p>
    </>
  )
}
