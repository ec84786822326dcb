import type { Listing } from '../api/client'
import { ago, useNow } from '../app/clock'

const marks: Record<string, string> = {
  '=': 'same',
  '≈': 'same once spelled out',
  '≠': 'different',
  '∅': 'missing there',
  '·': 'not taken there',
}

// FactTable holds the record beside what was seen, fact by fact.
export function FactTable({ listing: l }: { listing: Listing }) {
  const now = useNow()
  const seen = l.seen_at ? `Seen there, ${ago(new Date(l.seen_at), now)}` : 'Seen there'
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
        {l.facts.map((f) => (
          <tr key={f.fact} className={f.mark === '≠' || f.mark === '∅' ? 'off' : ''}>
            <th scope="row">{f.title}</th>
            <td>{f.record || <span className="quiet">not said</span>}</td>
            <td>
              {f.mark === '·' ? (
                <span className="quiet">not taken here</span>
              ) : (
                f.seen || <span className="quiet">{l.seen_at ? 'not shown' : 'not seen yet'}</span>
              )}
              {f.says && f.mark !== '·' && <span className="says">{f.says}</span>}
            </td>
            <td className="how" title={marks[f.mark]}>
              {f.mark}
              <span className="visually-hidden">{marks[f.mark]}</span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
