import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { pathOf } from '../app/place'
import { Cell } from './Cell'
import { useBench, type Row } from './work'

// RowLines are a row, and under it what we have where somebody has to decide.
export function RowLines({ row, columns }: { row: Row; columns: string[] }) {
  const decide = row.standing === 'decide'
  return (
    <tbody className={'of-' + row.standing + (row.without ? ' without' : '')} data-line={row.line}>
      <tr>
        <td className="num">{row.line}</td>
        <td className="who" tabIndex={-1} data-row>
          <Cell row={row} fact="name" strong />
          <span className="at">
            <Cell row={row} fact="locality" />
            {', '}
            <Cell row={row} fact="street" />
          </span>
        </td>
        {columns.map((k) => (
          <td key={k}>
            <Cell row={row} fact={k} />
          </td>
        ))}
        <td className="happens">
          <Happens row={row} />
        </td>
      </tr>
      {decide && row.ours && <OursLine row={row} columns={columns} />}
    </tbody>
  )
}

function OursLine({ row, columns }: { row: Row; columns: string[] }) {
  const { edit } = useBench()
  const ours = row.ours!
  const one = (fact: string) => {
    const mark = ours.alike[fact] ?? ''
    return (
      <>
        <span className={'rel' + (mark === '≠' ? ' differs' : '')}>{mark}</span> {mark === '=' && fact !== 'name' ? '' : ours.says[fact]}
      </>
    )
  }
  const choose = (choice: 'same' | 'new') => edit.mutate({ kind: 'choice', lines: [row.line], choice })
  return (
    <tr className="ours">
      <td className="num">{ours.location ? 'ours' : ours.label}</td>
      <td>
        {one('name')}
        <span className="at">{one('street')}</span>
      </td>
      {columns.map((k) => (
        <td key={k}>{one(k)}</td>
      ))}
      <td className="happens">
        <Button variant="outline-secondary" size="sm" disabled={edit.isPending} onClick={() => choose('same')}>
          The same <kbd>=</kbd>
        </Button>{' '}
        <Button variant="outline-secondary" size="sm" disabled={edit.isPending} onClick={() => choose('new')}>
          New <kbd>+</kbd>
        </Button>
      </td>
    </tr>
  )
}

// Happens says what becomes of a row.
function Happens({ row }: { row: Row }) {
  const { import: i, edit, titles } = useBench()
  const without = row.problems.map((p) => (titles[p.key] ?? p.column).toLowerCase())
  const ours = row.ours
  const lacks = without.length > 0 && `without its ${without.join(' and ')}`
  const choose = (choice: '' | 'new') => (
    <Button
      variant="link"
      size="sm"
      className="p-0"
      disabled={edit.isPending}
      onClick={() => edit.mutate({ kind: 'choice', lines: [row.line], choice })}
    >
      {choice === '' ? 'Take it in' : 'It is another'}
    </Button>
  )
  const ready = i.state === 'ready' || i.state === 'in'
  if (row.in && row.location)
    return (
      <>
        <b>
          <Link to={pathOf('record', { location: row.location })}>{row.standing === 'new' ? 'In' : 'In, over ours'}</Link>
        </b>
        {lacks && <span className="why">{lacks}</span>}
      </>
    )
  switch (row.standing) {
    case 'decide':
      return (
        <>
          <b>{ours?.location ? 'Probably ours' : `Probably line ${row.of} again`}</b>
          <span className="why" title={row.reasons.join(' ')}>
            {row.reasons.slice(0, 2).join(' ')}
          </span>
        </>
      )
    case 'waits':
      return (
        <>
          <b className="stops">Waits</b>
          <span className="why">{row.problems.filter((p) => !p.left).map((p) => `${p.column}: ${p.reason}`)[0]}</span>
        </>
      )
    case 'new':
    case 'changed':
      return (
        <>
          {row.standing === 'new' ? 'New' : `Changes ours, ${ours?.label}`}
          {lacks && `, ${lacks}`}
          {row.problems[0] && <span className="why">{row.problems[0].reason}</span>}
          {row.standing === 'changed' && ready && <span className="why">{choose('new')}</span>}
        </>
      )
    case 'unchanged':
      return <span className="second">Says what we have</span>
    case 'twice':
      return (
        <>
          <span className="second">Said in line {row.of} already</span>
          {ready && <span className="why">{choose('new')}</span>}
        </>
      )
    case 'out':
      return (
        <>
          <span className="second">Left out</span>
          {ready && <span className="why">{choose('')}</span>}
        </>
      )
  }
}
