import { useRisks } from '../api/queries'
import { counted } from '../app/View'
import { likely } from '../verification/SendChanges'

// Dangers are what in a saved record is likely to get a listing suspended, refused or
// verified anew, and what to do about it.
export function Dangers({ location }: { location: string }) {
  const found = useRisks(location).data
  if (!found || found.length === 0) return null
  const causes = new Map(found.flatMap((d) => d.risks).map((r) => [r.cause, r]))
  const first = found[0]!
  return (
    <details className="dangers">
      <summary>
        {counted(causes.size, 'thing')} in this record {causes.size === 1 ? 'is' : 'are'} a risk: on {first.directory_name} of{' '}
        {likely(first.chance, first.worst)}
      </summary>
      <ul>
        {[...causes.values()].map((r) => (
          <li key={r.cause}>
            {r.says} {r.mend}{' '}
            <span className="second">
              {found
                .filter((d) => d.risks.some((x) => x.cause === r.cause))
                .map((d) => d.directory_name)
                .join(', ')}
            </span>
          </li>
        ))}
      </ul>
    </details>
  )
}
