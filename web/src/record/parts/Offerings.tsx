import { useEffect, useRef } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Rec } from '../../api/client'
import { useFacts } from '../../api/queries'
import { Entries } from '../Entries'
import { problemAt } from '../Field'
import { useHeld } from '../held'
import { Origin } from '../Origin'
import { PhotoPick } from '../photos/PhotoPick'
import { readTable } from './table'

type Section = Rec['offerings'][number]
type Item = Section['items'][number]

const blankItem: Item = { name: '', price: '', per: '', about: '', photo: '' }
const columns = [
  ['name', 'What', '30%'],
  ['price', 'Price', '14%'],
  ['per', 'For', '16%'],
  ['about', 'Words', ''],
] as const

// Offerings are sections of items with their prices, and ways to pay.
export function Offerings() {
  const { record: r, set } = useHeld()
  const put = (i: number, section: Section) => set({ offerings: r.offerings.map((s, j) => (j === i ? section : s)) })
  const add = () => set({ offerings: [...r.offerings, { title: '', items: [blankItem] }] })
  return (
    <>
      <section className="sheet">
        <div className="sheet-head">
          <h2>
            Offerings <Origin path="offerings" />
          </h2>
          <Button variant="link" className="p-0" onClick={add}>
            Add a section
          </Button>
        </div>
        {r.offerings.length === 0 ? (
          <p className="second">
            A menu, a price list or services, in sections. Add a section, then type or paste rows from a spreadsheet: what, price, what the
            price is for, words.
          </p>
        ) : (
          <p className="second">
            Enter goes down, arrows move, Alt with an arrow moves the row; rows can be pasted from a spreadsheet. An empty row is not kept.
          </p>
        )}
        {r.offerings.map((s, i) => (
          <SectionTable
            key={i}
            at={i}
            section={s}
            onChange={(next) => put(i, next)}
            onTakeOut={() => set({ offerings: r.offerings.filter((_, j) => j !== i) })}
          />
        ))}
      </section>
      <Payments />
      <Team />
    </>
  )
}

function SectionTable({
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
  const { problems } = useHeld()
  const table = useRef<HTMLTableElement>(null)
  const goal = useRef<{ row: number; col: number }>(undefined)
  const items = section.items.length === 0 || section.items.at(-1)?.name ? [...section.items, blankItem] : section.items
  const put = (next: Item[]) => onChange({ ...section, items: next })
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
  return (
    <>
      <div className="section-head">
        <Form.Control
          aria-label={`Title of section ${at + 1}`}
          placeholder="Section, such as Repairs"
          value={section.title}
          onChange={(e) => onChange({ ...section, title: e.target.value })}
          onKeyDown={(e) => {
            if (e.key === 'Enter') {
              e.preventDefault()
              cell(0, 0)?.focus()
            }
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
              {columns.map(([key, title], col) => {
                const problem = problemAt(problems, `offerings.${at}.items.${row}.${key}`)
                return (
                  <td key={key}>
                    <Form.Control
                      aria-label={`${title}, row ${row + 1}`}
                      className={key === 'price' ? 'mono' : undefined}
                      value={item[key]}
                      isInvalid={!!problem}
                      title={problem}
                      autoComplete="off"
                      onKeyDown={(e) => onKey(e, row, col)}
                      onPaste={(e) => onPaste(e, row, col)}
                      onChange={(e) => put(items.map((it, j) => (j === row ? { ...it, [key]: e.target.value } : it)))}
                    />
                    {problem && <span className="wrong-text">{problem}</span>}
                  </td>
                )
              })}
              <td className="pick">
                <PhotoPick
                  label={`Photo, row ${row + 1}`}
                  value={item.photo}
                  onChange={(photo) => put(items.map((it, j) => (j === row ? { ...it, photo } : it)))}
                />
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

function Payments() {
  const { record: r, set } = useHeld()
  const kinds = useFacts().data?.payments ?? []
  return (
    <section className="sheet">
      <h2>
        Ways to pay <Origin path="payments" />
      </h2>
      <div className="checks px-3 pb-2">
        {kinds.map((k) => (
          <Form.Check
            key={k.key}
            id={'pay-' + k.key}
            label={k.title}
            checked={r.payments.includes(k.key)}
            onChange={(e) => set({ payments: e.target.checked ? [...r.payments, k.key] : r.payments.filter((p) => p !== k.key) })}
          />
        ))}
      </div>
    </section>
  )
}

function Team() {
  const { record: r, set, shared } = useHeld()
  if (!shared) return null // who works where is each location's to say
  return (
    <section className="sheet">
      <h2>Team</h2>
      <p className="second">Whom the public may see. Directories take different numbers of them, the first ones first.</p>
      <Entries
        path="team"
        one="Member"
        items={r.team}
        blank={{ name: '', role: '', email: '', phone: '', photo: '' }}
        columns={[
          { key: 'name', title: 'Name' },
          { key: 'role', title: 'What they do' },
          { key: 'email', title: 'Email' },
          { key: 'phone', title: 'Phone' },
        ]}
        photo
        onChange={(team) => set({ team })}
      />
    </section>
  )
}
