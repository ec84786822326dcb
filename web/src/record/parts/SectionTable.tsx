import { useEffect, useRef } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Rec } from '../../api/client'
import { problemAt } from '../Field'
import { useHeld } from '../held'
import { PhotoPick } from '../photos/PhotoPick'
import { readTable } from './table'

export type Section = Rec['offerings'][number]
type Item = Section['items'][number]

export const blankItem: Item = { name: '', price: '', per: '', about: '', photo: '' }
const columns = [
  ['name', 'What', '30%'],
  ['price', 'Price', '14%'],
  ['per', 'For', '16%'],
  ['about', 'Words', ''],
] as const

// useCells moves between the cells of a section's table and its rows about, and takes in rows of a
// spreadsheet.
function useCells(items: Item[], put: (next: Item[]) => void) {
  const table = useRef<HTMLTableElement>(null)
  const goal = useRef<{ row: number; col: number }>(undefined)
  const cell = (row: number, col: number) => table.current?.tBodies[0]?.rows[row]?.cells[col]?.querySelector('input')
  useEffect(() => {
    if (!goal.current) return
    cell(goal.current.row, goal.current.col)?.focus()
    goal.current = undefined
  })
  const onKey = (e: React.KeyboardEvent, row: number, col: number) => {
    const up = e.key === 'ArrowUp'
    if (e.key === 'Enter') {
      e.preventDefault() // the form is not saved from within a table
      cell(row + 1, col)?.focus()
    } else if (up || e.key === 'ArrowDown') {
      e.preventDefault()
      const to = row + (up ? -1 : 1)
      if (!e.altKey) return cell(to, col)?.focus()
      if (to < 0 || to >= items.length) return
      const next = [...items]
      next.splice(to, 0, ...next.splice(row, 1))
      goal.current = { row: to, col }
      put(next)
    }
  }
  const onPaste = (e: React.ClipboardEvent, row: number, col: number) => {
    const rows = readTable(e.clipboardData.getData('text/plain'))
    if (rows.length < 2 && (rows[0]?.length ?? 0) < 2) return
    e.preventDefault()
    const next = [...items]
    rows.forEach((cells, i) => {
      const item = { ...(next[row + i] ?? blankItem) }
      columns.slice(col).forEach(([key], j) => (item[key] = cells[j] ?? item[key]))
      next[row + i] = item
    })
    goal.current = { row: row + rows.length, col }
    put(next)
  }
  return { table, onKey, onPaste, toFirst: () => cell(0, 0)?.focus() }
}

// SectionTable is a section of items, typed as in a spreadsheet; its last row is for the next one.
export function SectionTable({
  at,
  section,
  onChange,
  onTakeOut,
}: {
  at: number
  section: Section
  onChange: (s: Section) => void
  onTakeOut: () => void
}) {
  const items = section.items.length === 0 || section.items.at(-1)?.name ? [...section.items, blankItem] : section.items
  const put = (next: Item[]) => onChange({ ...section, items: next })
  const set = (row: number, part: Partial<Item>) => put(items.map((it, j) => (j === row ? { ...it, ...part } : it)))
  const { table, onKey, onPaste, toFirst } = useCells(items, put)
  return (
    <>
      <div className="section-head">
        <Form.Control
          aria-label={`Title of section ${at + 1}`}
          placeholder="Section, such as Repairs"
          value={section.title}
          onChange={(e) => onChange({ ...section, title: e.target.value })}
          onKeyDown={(e) => {
            if (e.key !== 'Enter') return
            e.preventDefault()
            toFirst()
          }}
        />
        <Button variant="link" size="sm" onClick={onTakeOut}>
          Take out section
        </Button>
      </div>
      <table className="entries tight" ref={table}>
        <thead>
          <tr>
            {columns.map(([key, title, width]) => (
              <th key={key} scope="col" style={{ width: width || undefined }}>
                {title}
              </th>
            ))}
            <th scope="col">Photo</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {items.map((item, row) => (
            <tr key={row}>
              {columns.map(([key, title], col) => (
                <Cell
                  key={key}
                  path={`offerings.${at}.items.${row}.${key}`}
                  label={`${title}, row ${row + 1}`}
                  className={key === 'price' ? 'mono' : undefined}
                  value={item[key]}
                  onKeyDown={(e) => onKey(e, row, col)}
                  onPaste={(e) => onPaste(e, row, col)}
                  onChange={(text) => set(row, { [key]: text })}
                />
              ))}
              <td className="pick">
                <PhotoPick label={`Photo, row ${row + 1}`} value={item.photo} onChange={(photo) => set(row, { photo })} />
              </td>
              <td className="acts-cell">
                {row < section.items.length && (
                  <button
                    type="button"
                    className="plain"
                    aria-label={`Take out row ${row + 1}`}
                    tabIndex={-1}
                    onClick={() => put(section.items.filter((_, j) => j !== row))}
                  >
                    ×
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

// Cell is one cell, with what is wrong in it. path is its place in the record.
function Cell({
  path,
  label,
  onChange,
  ...control
}: {
  path: string
  label: string
  className?: string
  value: string
  onKeyDown: React.KeyboardEventHandler
  onPaste: React.ClipboardEventHandler
  onChange: (text: string) => void
}) {
  const problem = problemAt(useHeld().problems, path)
  return (
    <td>
      <Form.Control
        {...control}
        aria-label={label}
        isInvalid={!!problem}
        title={problem}
        autoComplete="off"
        onChange={(e) => onChange(e.target.value)}
      />
      {problem && <span className="wrong-text">{problem}</span>}
    </td>
  )
}
