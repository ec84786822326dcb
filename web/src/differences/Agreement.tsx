import type { Schemas } from '../api/client'

// Agreement is what the share of agreeing pages is made of: each directory's pages, by its weight, and what would gain most.
export function Agreement({ parts, agree }: { parts: Schemas['Differences']['parts']; agree: number }) {
  const whole = parts.reduce((n, p) => n + 3 * p.weight * p.pages, 0)
  const gain = (p: (typeof parts)[number]) => (whole > 0 ? (100 * p.weight * (3 * p.pages - p.name - p.address - p.phone)) / whole : 0)
  const rows = [...parts].sort((a, b) => gain(b) - gain(a))
  return (
    <section className="sheet mb-3 agreement" aria-label="What agrees">
      <div className="sheet-head">
        <h2>Name, address and phone agree on {Math.round(agree * 100)} % of the weight</h2>
      </div>
      <table className="grid">
        <thead>
          <tr>
            <th scope="col">Directory</th>
            <th scope="col">Weight</th>
            <th scope="col">Pages</th>
            <th scope="col">Name</th>
            <th scope="col">Address</th>
            <th scope="col">Phone</th>
            <th scope="col">To gain</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((p) => (
            <tr key={p.directory}>
              <th scope="row">{p.directory_name}</th>
              <td>{p.weight}</td>
              <td>{p.pages}</td>
              <td>{p.name}</td>
              <td>{p.address}</td>
              <td>{p.phone}</td>
              <td>{gain(p) > 0 ? `${gain(p).toFixed(1)} %` : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
