import { keepPreviousData, useQueries } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import { Fragment, useEffect, useRef, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useDirectories } from '../api/queries'
import { listingPath, pathOf, usePlace, type Scope } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { Strand } from '../marks/Strand'
import { NoClients } from '../record/NoClients'
import { ChooseColumn } from './ChooseColumn'
import { Forecast } from './Forecast'
import { Worth } from './Worth'

const kinds: Record<string, string> = { premises: 'premises', goes_to_customers: 'goes to customers', both: 'premises, visits' }

const legend: [Schemas['Strand'], string][] = [
  [{ control: 'held', verification: 'verified', visibility: 'public' }, 'held, verified, public'],
  [{ control: 'held', verification: 'code_on_its_way', visibility: 'hidden' }, 'waiting'],
  [{ control: 'held', verification: 'lapsed', visibility: 'hidden' }, 'stopped'],
  [{ control: 'none', verification: 'not_begun', visibility: 'absent' }, 'not begun'],
]

type Order = 'place' | 'gain'
const page = 100
const rowHeight = 30

// coverageQuery asks for one page of a scope's locations.
const coverageQuery = (scope: Scope, order: Order, n: number) => ({
  queryKey: ['coverage', scope, order, n],
  queryFn: () =>
    told(
      api.GET('/api/coverage', {
        params: { query: { client: scope.client, location: scope.location, order, past: n * page, most: page } },
      }),
    ),
  placeholderData: keepPreviousData,
})

// usePages asks for the pages that are looked at, and the first, which counts.
function usePages(scope: Scope, order: Order, wanted: number[]) {
  const numbers = [...new Set([0, ...wanted])]
  const answers = useQueries({ queries: numbers.map((n) => coverageQuery(scope, order, n)) })
  const rows = new Map<number, Schemas['CoverageRow']>()
  answers.forEach((a, i) => {
    if (!a.isPlaceholderData) a.data?.rows.forEach((r, j) => rows.set(numbers[i]! * page + j, r))
  })
  return { first: answers[0]?.data, error: answers.find((a) => a.error)?.error ?? null, rows }
}

type Line = { client?: string; name?: string; row?: Schemas['CoverageRow'] }

// grouped puts each client's name before its locations.
function grouped(rows: Schemas['CoverageRow'][]): Line[] {
  return rows.flatMap((row, i) =>
    rows[i - 1]?.client === row.client ? [{ row }] : [{ client: row.client, name: row.client_name }, { row }],
  )
}

// CoverageView shows every location on every directory: where it stands, or how it fits.
export function CoverageView() {
  const { scope } = usePlace()
  const [params, setParams] = useSearchParams()
  const fitted = params.get('show') === 'fit'
  const order: Order = params.get('order') === 'gain' ? 'gain' : 'place'
  const [looked, setLooked] = useState<number[]>([0])
  const { first, error, rows } = usePages(scope, order, looked)
  const directories = useDirectories()
  const name = useScopeName(scope)
  const table = useRef<HTMLTableElement>(null)
  const [top, setTop] = useState(0)
  useEffect(() => setTop(table.current?.offsetTop ?? 0), [first?.locations])
  const count = first?.locations ?? 0
  // As long as one page holds all of them, each client's stand under its name.
  const lines: Line[] | undefined = first && order === 'place' && count <= page && !scope.location ? grouped(first.rows) : undefined
  // eslint-disable-next-line react-hooks/incompatible-library -- its answer is read in this render only
  const virtual = useVirtualizer({
    count: lines?.length ?? count,
    getScrollElement: () => document.getElementById('view'),
    estimateSize: () => rowHeight,
    overscan: 20,
    scrollMargin: top,
  })
  const seen = virtual.getVirtualItems()
  const from = seen[0]?.index ?? 0
  const to = seen.at(-1)?.index ?? 0
  const pages = `${Math.floor(from / page)}-${Math.floor(to / page)}`
  useEffect(() => {
    const [a = 0, b = 0] = pages.split('-').map(Number)
    setLooked(Array.from({ length: b - a + 1 }, (_, i) => a + i))
  }, [pages])
  if (!first || !directories.data) return <Pending error={error ?? directories.error} />
  const title = name ? `Coverage, ${name}` : 'Coverage'
  if (count === 0)
    return (
      <>
        <ViewHead title={title} />
        <NoClients />
      </>
    )
  const set = (key: string, value: string, usual: string) => {
    const next = new URLSearchParams(params)
    if (value === usual) next.delete(key)
    else next.set(key, value)
    setParams(next, { replace: true })
  }
  const left = first.wanted - first.public - first.under_way
  const columns = directories.data
  const total = lines?.length ?? count
  return (
    <>
      <ViewHead
        title={title}
        says={`${counted(first.wanted, 'listing')} wanted, ${first.public} public, ${first.under_way} under way, ${left} not begun.`}
      >
        <Switch
          label="Show"
          value={fitted ? 'fit' : 'standing'}
          options={[
            ['standing', 'Where it stands'],
            ['fit', 'How it fits'],
          ]}
          onChange={(v) => set('show', v, 'standing')}
        />
        {!scope.location && (
          <Switch
            label="Order"
            value={order}
            options={[
              ['place', 'By place'],
              ['gain', 'Most to gain'],
            ]}
            onChange={(v) => set('order', v, 'place')}
          />
        )}
      </ViewHead>
      {error && <Pending error={error} />}
      <table className="grid coverage" ref={table} aria-rowcount={count + 1}>
        <thead>
          <tr>
            <th scope="col" className="place">
              {fitted ? 'Per cent of a complete listing' : 'Weight in the score'}
            </th>
            {columns.map((d) => (
              <th scope="col" key={d.id} className="turned">
                <ChooseColumn directory={d} scope={scope} />
                <small title="How much it counts, 0 to 100">{d.weight}</small>
              </th>
            ))}
            <th scope="col" className="share">
              {fitted ? 'Fill in next' : 'Public weight'}
            </th>
          </tr>
        </thead>
        <tbody>
          {from > 0 && (
            <tr aria-hidden="true" style={{ height: from * rowHeight }}>
              <td colSpan={columns.length + 2} />
            </tr>
          )}
          {seen.map(({ index }) => {
            const line = lines?.[index]
            if (line?.client)
              return (
                <tr key={line.client} className="group" style={{ height: rowHeight }}>
                  <th colSpan={columns.length + 2} scope="rowgroup">
                    <Link to={pathOf('coverage', { client: line.client })}>{line.name}</Link>
                  </th>
                </tr>
              )
            const row = line ? line.row : rows.get(index)
            const before = rows.get(index - 1)
            return (
              <Fragment key={index}>
                {row ? (
                  <Row
                    row={row}
                    index={index}
                    columns={columns}
                    fitted={fitted}
                    named={!line && (order === 'gain' || before?.client !== row.client)}
                  />
                ) : (
                  <tr style={{ height: rowHeight }} aria-rowindex={index + 2}>
                    <td className="quiet" colSpan={columns.length + 2}>
                      …
                    </td>
                  </tr>
                )}
              </Fragment>
            )
          })}
          {total - 1 > to && (
            <tr aria-hidden="true" style={{ height: (total - 1 - to) * rowHeight }}>
              <td colSpan={columns.length + 2} />
            </tr>
          )}
        </tbody>
      </table>
      <div className="legend mt-2">
        {fitted ? (
          <span>
            A number is how complete the listing can be with what the record says; <b className="mono">∅</b> counts what is required and
            missing there.
          </span>
        ) : (
          legend.map(([strand, words]) => (
            <span key={words}>
              <Strand strand={strand} /> {words}
            </span>
          ))
        )}
        <span>
          <b className="mono">–</b> cannot be listed there
        </span>
        <span>
          <b className="mono">·</b> not wanted
        </span>
      </div>
      {scope.location && <Worth location={scope.location} />}
      <Forecast scope={scope} />
    </>
  )
}

function Switch({
  label,
  value,
  options,
  onChange,
}: {
  label: string
  value: string
  options: [string, string][]
  onChange: (v: string) => void
}) {
  return (
    <div className="btn-group" role="group" aria-label={label}>
      {options.map(([id, words]) => (
        <button
          key={id}
          type="button"
          className={'btn btn-outline-secondary' + (value === id ? ' active' : '')}
          aria-pressed={value === id}
          onClick={() => onChange(id)}
        >
          {words}
        </button>
      ))}
    </div>
  )
}

function Row({
  row,
  index,
  columns,
  fitted,
  named,
}: {
  row: Schemas['CoverageRow']
  index: number
  columns: Schemas['Directory'][]
  fitted: boolean
  named: boolean
}) {
  return (
    <tr style={{ height: rowHeight }} className={named ? 'begins' : ''} aria-rowindex={index + 2}>
      <th scope="row" className="place">
        <Link
          to={pathOf('coverage', { location: row.location })}
          title={`${row.client_name}, ${row.label}: ${kinds[row.kind] ?? row.kind}`}
        >
          {row.label}
        </Link>
        <span className="second">{named ? row.client_name : kinds[row.kind]}</span>
      </th>
      {columns.map((d) => {
        const fit = row.fits[d.id]
        return (
          <td key={d.id} className="cell">
            {fit && <Cell fit={fit} row={row} directory={d} fitted={fitted} />}
          </td>
        )
      })}
      <td className="share">
        {fitted ? (
          row.next ? (
            <Link
              to={pathOf('record', { location: row.location }) + '#' + row.next.part}
              title={`About ${counted(row.next.minutes, 'minute')}; wanted by ${counted(row.next.directories.length, 'directory', 'directories')}`}
            >
              {row.next.title}
            </Link>
          ) : (
            <span className="second">nothing lacks</span>
          )
        ) : (
          <>
            <i aria-hidden="true">
              <b style={{ width: `${row.public}%` }} />
            </i>
            <span className="mono">{Math.round(row.public)}%</span>
          </>
        )}
      </td>
    </tr>
  )
}

const notBegun: Schemas['Standing'] = {
  strand: { control: 'none', verification: 'not_begun', visibility: 'absent' },
  says: 'not held, verification not begun, not there',
}

function Cell({
  fit,
  row,
  directory,
  fitted,
}: {
  fit: Schemas['Fitted']
  row: Schemas['CoverageRow']
  directory: Schemas['Directory']
  fitted: boolean
}) {
  const on = `${row.label} on ${directory.name}`
  if (fit.not)
    return (
      <span className="second" title={fit.not}>
        –
      </span>
    )
  const { strand, says } = row.standings[directory.id] ?? notBegun
  if (!fit.wanted && strand.control === 'none' && !fitted)
    return (
      <Link
        className="second"
        to={listingPath(row.location, directory.id)}
        data-row
        aria-label={`${on}: not wanted`}
        title={fit.fed_by ? 'It comes by itself' : 'Not wanted'}
      >
        ·
      </Link>
    )
  return (
    <Link
      to={listingPath(row.location, directory.id)}
      data-row
      className={fitted && !fit.wanted ? 'away' : ''}
      aria-label={`${on}: ${fitted ? `${Math.round(fit.percent)} per cent${fit.blocks ? `, ${fit.blocks} required facts missing` : ''}` : says}`}
    >
      {fitted ? (
        <span className="mono">
          {Math.round(fit.percent)}
          {fit.blocks > 0 && <em title={`${counted(fit.blocks, 'required fact')} missing`}>∅{fit.blocks}</em>}
        </span>
      ) : (
        <Strand strand={strand} size="cell" />
      )}
    </Link>
  )
}
