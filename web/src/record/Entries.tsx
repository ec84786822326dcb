import { Form } from 'react-bootstrap'
import { problemAt } from './Field'
import { useHeld } from './held'
import { PhotoPick } from './photos/PhotoPick'

// Entries are a list of facts of a few words each, a row an entry; the last row
// is for the next one. path is the list's in the record.
export function Entries<T extends Record<string, string>>({
  path,
  one,
  items,
  blank,
  columns,
  photo,
  onChange,
}: {
  path: string
  one: string // what an entry is called: Member
  items: T[]
  blank: T
  columns: { key: keyof T & string; title: string; type?: string }[]
  photo?: boolean // an entry may have one of the photos
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
          {photo && <th scope="col">Photo</th>}
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
            {photo && (
              <td className="pick">
                {i < items.length && (
                  <PhotoPick
                    label={`Photo of ${one.toLowerCase()} ${i + 1}`}
                    value={row.photo ?? ''}
                    onChange={(id) => onChange(items.map((it, j) => (j === i ? { ...it, photo: id } : it)))}
                  />
                )}
              </td>
            )}
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
