import { Fragment } from 'react'
import { Link } from 'react-router'

export type OfDirectory = { directory: string; name: string; to?: string; mark: string; means: string; says: string }

const order = '∅≠≈=·'

// Grouped lists what is said of each directory, what stands in the way first; those of which the same
// is said stand together.
export function Grouped({ title, list }: { title: string; list: OfDirectory[] }) {
  const groups = new Map<string, OfDirectory[]>()
  for (const d of list) {
    const same = d.mark + d.says
    groups.set(same, [...(groups.get(same) ?? []), d])
  }
  const sorted = [...groups].sort(([, [a]], [, [b]]) => order.indexOf(a!.mark) - order.indexOf(b!.mark))
  return (
    <section className="sheet">
      <h2>{title}</h2>
      <ul className="plain-list">
        {sorted.map(([same, of]) => (
          <li key={same}>
            <b className="with-mark">
              <span>
                {of.map((d, i) => (
                  <Fragment key={d.directory}>
                    {i > 0 && ', '}
                    {d.to ? <Link to={d.to}>{d.name}</Link> : d.name}
                  </Fragment>
                ))}
              </span>
              <i title={of[0]!.means}>{of[0]!.mark}</i>
            </b>
            <span>{of[0]!.says}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
