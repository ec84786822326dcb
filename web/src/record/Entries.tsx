import { Form } from 'react-bootstrap'
import { problemAt } from './Field'
import { useHeld } from './held'

// Entries are a list of facts of a few words each, a row an entry; the last row
// is for the next one. path is the list's in the record.
export function Entries<T extends Record<string, string>>({
  path,
  one,
  items,
  blank,
  columns,
  onChange,
}: {
  path: string
  one: string // what an entry is called: Member
  items: T[]
  blank: T
  columns: { key: keyof T & string; title: string; type?: string }[]
  onChange: (items: T[]) => void
}) {
  const { problems } = useHeld()
  const rows = [...items, blank]
  const put = (i: number, key: keyof T & string, text: string) =>
    onChange(rows.map((r, j) => (j === i ? { ...r, [key]: text } : r)).filter((r) => columns.some((c) => r[c.key] !== '')))
  return (
    <table className="entries tight">
      <thead>
        <tr>
          {columns.map((c) => (
            <th key={c.key} scope="col">
              {c.title}
            </th>
          ))}
          <th />
        </tr>
      </thead>
      <tbody>
        {rows.map((row, i) => (
          <tr key={i}>
            {columns.map((c) => {
              const problem = problemAt(problems, `${path}.${i}.${c.key}`)
              return (
                <td key={c.key}>
                  <Form.Control
                    aria-label={`${one} ${i + 1}, ${c.key}`}
                    type={c.type ?? 'text'}
                    value={row[c.key]}
                    isInvalid={!!problem}
                    autoComplete="off"
                    onChange={(e) => put(i, c.key, e.target.value)}
                  />
                  {problem && <span className="wrong-text">{problem}</span>}
                </td>
              )
            })}
            <td className="acts-cell">
              {i < items.length && (
                <button
                  type="button"
                  className="plain"
                  aria-label={`Take out ${one.toLowerCase()} ${i + 1}`}
                  onClick={() => onChange(items.filter((_, j) => j !== i))}
                >
                  ×
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
