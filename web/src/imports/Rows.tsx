import { useEffect, useState } from 'react'
import { Button } from 'react-bootstrap'
import { useSearchParams } from 'react-router'
import { typing } from '../app/say'
import { counted, Pending } from '../app/View'
import { More, rowsOf } from '../kit/paged'
import { RowLines } from './RowLines'
import { Search } from '../kit/Search'
import { columnsOf, useBench, useRows, type Import, type Row, type Show } from './work'

// shows are the rows that can be asked for, with how many there are.
const shows = (i: Import): [Show, string, number][] => [
  ['', 'All', i.rows],
  ['decide', 'To decide', i.counts.by.decide ?? 0],
  ['waits', 'Waits', i.counts.by.waits ?? 0],
  ['without', 'Come in without a cell', i.counts.without],
  ['guessed', 'Guessed', i.counts.guessed],
  ['fine', 'Need nothing', i.counts.fine],
  ['out', 'Left out', i.counts.by.out ?? 0],
  ['skipped', 'No business', i.skipped.length],
]

// fits is how many columns have room beside the business and what happens.
const fits = 4

// Rows are a file's rows, what needs somebody first: filtered, searched, and edited in place.
export function Rows() {
  const { import: i, alike, titles } = useBench()
  const [params, setParams] = useSearchParams()
  const show = (params.get('show') ?? '') as Show
  const search = params.get('search') ?? ''
  const [wide, setWide] = useState(false)
  const list = useRows(i.id, show, search)
  const set = (name: string, value: string) =>
    setParams(
      (p) => {
        if (value) p.set(name, value)
        else p.delete(name)
        return p
      },
      { replace: true },
    )
  const rows = rowsOf(list, (p) => p.rows)
  useRowKeys(rows)
  const all = columnsOf(alike)
  const columns = wide ? all : all.slice(0, fits)
  return (
    <section className="bench" aria-label="Rows">
      <div className="bench-head">
        <div className="segments" role="group" aria-label="Which rows">
          {shows(i)
            .filter(([s, , n]) => n > 0 || s === '' || s === show)
            .map(([s, title, n]) => (
              <button key={s} type="button" aria-pressed={show === s} onClick={() => set('show', s)}>
                {title} <span className="num">{n}</span>
              </button>
            ))}
        </div>
        <Search value={search} onChange={(v) => set('search', v)} />
      </div>
      {show === 'skipped' ? (
        <Skipped import={i} />
      ) : !list.data ? (
        <Pending error={list.error} />
      ) : rows.length === 0 ? (
        <p className="empty">{search ? `No row says “${search}”.` : 'There is no such row.'}</p>
      ) : (
        <table className="grid bench-rows">
          <thead>
            <tr>
              <th className="num" scope="col">
                line
              </th>
              <th scope="col">Business and place</th>
              {columns.map((k) => (
                <th key={k} scope="col">
                  {titles[k] ?? k}
                </th>
              ))}
              <th scope="col" className="happens">
                What happens
                {all.length > fits && (
                  <Button variant="link" size="sm" className="p-0 ms-2" onClick={() => setWide(!wide)}>
                    {wide ? 'fewer columns' : `${counted(all.length - fits, 'column')} more`}
                  </Button>
                )}
              </th>
            </tr>
          </thead>
          {rows.map((r) => (
            <RowLines key={r.line} row={r} columns={columns} />
          ))}
        </table>
      )}
      {show !== 'skipped' && list.hasNextPage && (
        <More list={list} onMore={() => void list.fetchNextPage()} variant="link">
          More rows
        </More>
      )}
      {(i.state === 'ready' || i.state === 'in') && <Foot />}
    </section>
  )
}

function Skipped({ import: i }: { import: Import }) {
  return (
    <ul className="rows">
      {i.skipped.map((s) => (
        <li key={s.line}>
          Line {s.line} is left out: {s.says}.
        </li>
      ))}
    </ul>
  )
}

function Foot() {
  return (
    <p className="bench-foot">
      <span>
        <kbd>j</kbd> <kbd>k</kbd> rows
      </span>
      <span>
        <kbd>Tab</kbd> cells
      </span>
      <span>
        <kbd>Enter</kbd> edit the cell
      </span>
      <span>
        <kbd>=</kbd> the same
      </span>
      <span>
        <kbd>+</kbd> new
      </span>
      <span>
        <kbd>-</kbd> leave out
      </span>
      <span>
        <kbd>g</kbd> all cells like this
      </span>
      <span className="ms-auto">Kept as it stands. Once in, taken back as one.</span>
    </p>
  )
}

// useRowKeys decides rows by key: the one that has the focus. On many keyboards + is typed with Shift, so the letter
// counts and not the key.
function useRowKeys(rows: Row[]) {
  const { import: i, edit } = useBench()
  const may = (i.state === 'ready' || i.state === 'in') && !edit.isPending
  useEffect(() => {
    if (!may) return
    const choose = (choice: 'same' | 'new' | 'out') => {
      const line = document.activeElement?.closest<HTMLElement>('[data-line]')?.dataset.line
      const row = rows.find((r) => String(r.line) === line)
      if (!row || row.in || (choice === 'same' && row.standing !== 'decide')) return
      const back = choice === 'out' && row.standing === 'out'
      edit.mutate({ kind: 'choice', lines: [row.line], choice: back ? '' : choice })
    }
    const onKey = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return
      if (e.key === '=') choose('same')
      if (e.key === '+') choose('new')
      if (e.key === '-') choose('out')
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })
}
