import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { listingPath, pathOf } from '../app/place'
import { counted } from '../app/View'
import { Strand } from '../marks/Strand'

const kinds: Record<string, string> = { premises: 'premises', goes_to_customers: 'goes to customers', both: 'premises, visits' }

// Row is one location on every directory.
export function Row({
  row,
  index,
  height,
  columns,
  fitted,
  named,
}: {
  row: Schemas['CoverageRow']
  index: number
  height: number
  columns: Schemas['Directory'][]
  fitted: boolean // how it fits, instead of how it stands
  named: boolean // with its client's name
}) {
  return (
    <tr style={{ height }} className={named ? 'begins' : ''} aria-rowindex={index + 2}>
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
      <td className="share">{fitted ? <Next row={row} /> : <Share row={row} />}</td>
    </tr>
  )
}

// Next is the fact that is best filled in next.
function Next({ row }: { row: Schemas['CoverageRow'] }) {
  if (!row.next) return <span className="second">nothing lacks</span>
  return (
    <Link
      to={pathOf('record', { location: row.location }) + '#' + row.next.part}
      title={`About ${counted(row.next.minutes, 'minute')}; wanted by ${counted(row.next.directories.length, 'directory', 'directories')}`}
    >
      {row.next.title}
    </Link>
  )
}

// Share is the part of the weight that is public.
function Share({ row }: { row: Schemas['CoverageRow'] }) {
  return (
    <>
      <i aria-hidden="true">
        <b style={{ width: `${row.public}%` }} />
      </i>
      <span className="mono">{Math.round(row.public)}%</span>
    </>
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
      aria-label={fitted ? undefined : `${on}: ${says}`}
    >
      {fitted && (
        <span className="visually-hidden">
          {on}: {Math.round(fit.percent)} per cent
          {fit.blocks > 0 && `, ${counted(fit.blocks, 'required fact')} missing`}
          {fit.wrong > 0 && `, ${counted(fit.wrong, 'fact')} shown otherwise than it is`}
          {!!fit.own && `, ${counted(fit.own, 'value')} of its own`}
        </span>
      )}
      {fitted ? (
        <span className="mono" aria-hidden="true">
          {Math.round(fit.percent)}
          {fit.blocks > 0 && <em title={`${counted(fit.blocks, 'required fact')} missing`}>∅{fit.blocks}</em>}
          {fit.wrong > 0 && <em title={`${counted(fit.wrong, 'fact')} shown otherwise than it is`}>≠{fit.wrong}</em>}
          {!!fit.own && (
            <i
              className={fit.asks ? 'asks' : ''}
              title={`${counted(fit.own, 'value')} of its own${fit.asks ? ': the record has changed, do they still hold?' : ''}`}
            >
              *{fit.own}
            </i>
          )}
        </span>
      ) : (
        <Strand strand={strand} size="cell" />
      )}
    </Link>
  )
}
