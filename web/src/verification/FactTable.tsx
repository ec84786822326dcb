import type { components } from '../api/schema.gen'
import type { Listing } from '../api/client'
import { ago, useNow } from '../app/clock'
import { misled } from '../differences/words'
import { Changed } from '../differences/Changed'

type Line = components['schemas']['FactLine']

const marks: Record<string, string> = {
  '=': 'same',
  '≈': 'same once spelled out',
  '≠': 'different',
  '∅': 'missing there',
  '·': 'not taken there',
}

// FactTable holds the record beside what was seen, fact by fact; what there is nothing to compare of is folded at its end.
export function FactTable({ listing: l }: { listing: Listing }) {
  const now = useNow()
  const seen = l.seen_at ? `Seen there, ${ago(new Date(l.seen_at), now)}` : 'Seen there'
  const compared = (f: Line) => (f.mark !== '' && f.mark !== '·') || (f.mark === '·' && f.once > 0)
  const shown = l.facts.filter((f) => compared(f) || (!l.seen_at && f.mark === '' && f.record !== ''))
  const rest = l.facts.filter((f) => !shown.includes(f))
  const folds: [string, Line[]][] = [
    ['not taken here', rest.filter((f) => f.mark === '·')],
    ['the record has not', rest.filter((f) => f.mark === '' && f.record === '')],
    ['the page does not show', rest.filter((f) => f.mark === '' && f.record !== '')],
  ]
  return (
    <table className="grid facts">
      <thead>
        <tr>
          <th scope="col">Fact</th>
          <th scope="col">The record</th>
          <th scope="col">{seen}</th>
          <th aria-label="How they compare" />
        </tr>
      </thead>
      <tbody>
        {shown.map((f) => (
          <tr key={f.fact} className={f.mark === '≠' || f.mark === '∅' ? 'off' : ''}>
            <th scope="row">{f.title}</th>
            <td>
              {f.record ? (
                <Changed is="new" text={f.record} from={f.mark === '≠' ? f.seen : f.record} />
              ) : (
                <span className="quiet">not said</span>
              )}
            </td>
            <td>
              {f.seen ? (
                <Changed is="old" text={f.seen} from={f.mark === '≠' ? f.record : f.seen} />
              ) : (
                <span className="quiet">{f.mark === '·' ? 'not taken here' : l.seen_at ? 'not shown' : 'not seen yet'}</span>
              )}
              {f.says && (
                <span className="says" title={f.reckoned}>
                  {f.says} {f.people + f.once > 0 && misled(f)}
                </span>
              )}
              {f.cannot && <span className="says">{f.cannot}</span>}
            </td>
            <td className="how" title={marks[f.mark]}>
              {f.mark}
              <span className="visually-hidden">{marks[f.mark]}</span>
            </td>
          </tr>
        ))}
        {folds.some(([, list]) => list.length > 0) && (
          <tr className="folds">
            <td colSpan={4}>
              {folds
                .filter(([, list]) => list.length > 0)
                .map(([word, list]) => (
                  <details key={word}>
                    <summary>
                      {list.length} {word}
                    </summary>{' '}
                    {list.map((f) => f.title.toLowerCase()).join(', ')}
                  </details>
                ))}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  )
}
