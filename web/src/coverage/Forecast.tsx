import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { chance } from '../app/chance'
import { dateWords } from '../app/clock'
import { listingPath, type Scope } from '../app/place'
import { counted, Pending } from '../app/View'
import { DataTable, type Column } from '../kit/table'

const useForecast = (scope: Scope, fee: boolean) =>
  useQuery({
    queryKey: ['forecast', scope, fee],
    queryFn: () => told(api.GET('/api/forecast', { params: { query: { client: scope.client, location: scope.location, fee } } })),
    placeholderData: keepPreviousData,
  })

// Forecast says when the rest will be public, and what holds back the last of it.
export function Forecast({ scope }: { scope: Scope }) {
  const [fee, setFee] = useState(false)
  const [all, setAll] = useState(false)
  const { data: f, error } = useForecast(scope, fee)
  if (!f) return <Pending error={error} />
  if (f.left === 0 && f.never.length === 0) return null
  const last = f.holds[0]
  return (
    <section className="sheet forecast" aria-label="Forecast">
      <div className="sheet-head">
        <h2>When will they be public?</h2>
        {f.fee_for > 0 || fee ? (
          <Form.Check
            id="forecast-fee"
            checked={fee}
            onChange={(e) => setFee(e.target.checked)}
            label="If a fee is paid where that makes something faster"
          />
        ) : null}
      </div>
      {f.half && f.all && (
        <p>
          Half the remaining weight is public by {dateWords(f.half.likely)}; nine times in ten, all of it by {dateWords(f.all.sure)}.{' '}
          {last && last.share >= 0.1 && (
            <>
              {sentence(last)} {often(last.share)}.
            </>
          )}
        </p>
      )}
      {f.days.length > 1 && <Band days={f.days} />}
      {f.holds.length > 1 && (
        <p className="second mt-2">
          Otherwise:{' '}
          {f.holds
            .slice(1, 4)
            .map((h) => `${h.name} for ${where(h)} ${often(h.share)}`)
            .join('; ')}
          .
        </p>
      )}
      {all && <List f={f} />}
      <p className="m-0">
        <Button variant="link" className="p-0" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? 'Hide the listings' : f.left + f.never.length === 1 ? 'The listing' : `Each of the ${f.left + f.never.length} listings`}
        </Button>
      </p>
    </section>
  )
}

const where = (h: Schemas['ForecastHold']) =>
  h.waiting > 1 ? h.listing.client_name + `, ${counted(h.waiting, 'listing')}` : `${h.listing.label} on ${h.listing.directory_name}`

// often says in how many cases something is so.
const often = (share: number) => chance(share).replace(/^about (\d+) in (\d+)$/, 'in about $1 of $2 cases')

const sentence = (h: Schemas['ForecastHold']) => {
  const name = h.name.charAt(0).toUpperCase() + h.name.slice(1)
  return h.waiting > 1
    ? `${name} for ${h.listing.client_name} holds back the last ${h.waiting}`
    : `${name} for ${h.listing.label} on ${h.listing.directory_name} holds back the last`
}

const wide = 900
const high = 150
const foot = 22

// Band draws the share that is public, day by day: the line is the middle case, the band
// eight of ten.
function Band({ days }: { days: Schemas['ForecastDay'][] }) {
  const x = (i: number) => (i / (days.length - 1)) * (wide - 44) + 40
  const y = (share: number) => (1 - share) * (high - 14) + 10
  const line = (of: (d: Schemas['ForecastDay']) => number) => days.map((d, i) => `${x(i).toFixed(1)},${y(of(d)).toFixed(1)}`)
  const ticks = ticksOf(days)
  const at = (share: number) => days.find((d) => d.likely >= share)?.date
  return (
    <svg
      viewBox={`0 0 ${wide} ${high + foot}`}
      role="img"
      aria-label={`In the middle case half is public on ${dateWords(at(0.5) ?? days.at(-1)!.date)}, all on ${dateWords(at(0.999) ?? days.at(-1)!.date)}`}
    >
      {[0, 0.5, 1].map((share) => (
        <g key={share}>
          <line x1={40} x2={wide - 4} y1={y(share)} y2={y(share)} className="rule" />
          <text x={34} y={y(share) + 4} textAnchor="end">
            {share * 100}%
          </text>
        </g>
      ))}
      <polygon className="band" points={[...line((d) => d.low), ...line((d) => d.high).reverse()].join(' ')} />
      <polyline className="middle" points={line((d) => d.likely).join(' ')} />
      {ticks.map((i) => (
        <text key={i} x={x(i)} y={high + 16} textAnchor={i === 0 ? 'start' : i > days.length - 4 ? 'end' : 'middle'}>
          {i === 0 ? 'today' : dateWords(days[i]!.date)}
        </text>
      ))}
    </svg>
  )
}

// ticksOf picks about six days, evenly spread.
function ticksOf(days: unknown[]): number[] {
  const every = Math.max(1, Math.ceil((days.length - 1) / 6))
  return days.map((_, i) => i).filter((i) => i % every === 0)
}

type Listing = Schemas['Forecast']['listings'][number]

const columns: Column<Listing>[] = [
  {
    id: 'listing',
    head: 'Listing',
    names: true,
    by: (l) => l.label,
    cell: (l) => (
      <>
        <Link to={listingPath(l.location, l.directory)} data-row>
          {l.label}
        </Link>{' '}
        <span className="second">{l.client_name}</span>
      </>
    ),
  },
  { id: 'on', head: 'On', by: (l) => l.directory_name, cell: (l) => l.directory_name },
  {
    id: 'likely',
    head: 'Likely by',
    by: (l) => l.span?.likely ?? '9999',
    cell: (l) => (l.span ? dateWords(l.span.likely) : `Not as things stand. ${l.why}`),
  },
  { id: 'sure', head: 'Nine times in ten by', by: (l) => l.span?.sure ?? '9999', cell: (l) => l.span && dateWords(l.span.sure) },
]

function List({ f }: { f: Schemas['Forecast'] }) {
  return <DataTable rows={f.never.concat(f.listings)} columns={columns} rowKey={(l) => l.location + l.directory} />
}
