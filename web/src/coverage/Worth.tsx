import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { listingPath } from '../app/place'
import { Pending } from '../app/View'
import { DataTable, type Column } from '../kit/table'
import { useChoose } from './ChooseColumn'

// Worth ranks the directories for a location by what they gain for their work, up to
// where one more does not pay.
export function Worth({ location }: { location: string }) {
  const worth = useQuery({
    queryKey: ['worth', location],
    queryFn: () => told(api.GET('/api/locations/{location}/worth', { params: { path: { location } } })),
  })
  const choose = useChoose()
  const [open, setOpen] = useState<string>()
  if (!worth.data) return <Pending error={worth.error} />
  const can = worth.data.filter((w) => !w.not)
  const cannot = worth.data.filter((w) => w.not)
  const decide = (w: Schemas['Worth'], wanted: boolean | undefined) =>
    choose.mutate({
      choices: [{ location, directory: w.directory, wanted }],
      says: () => `${w.name} is ${wanted === undefined ? 'as reckoned' : wanted ? 'wanted' : 'not wanted'}.`,
    })
  const columns: Column<Schemas['Worth']>[] = [
    { id: 'wanted', head: 'Wanted', cell: (w) => <Wanted worth={w} busy={choose.isPending} onDecide={(wanted) => decide(w, wanted)} /> },
    {
      id: 'name',
      head: 'Directory',
      names: true,
      cell: (w) => (
        <>
          <Link to={listingPath(location, w.directory)} data-row>
            {w.name}
          </Link>{' '}
          <span className="second fw-normal">{w.kind}</span>
        </>
      ),
    },
    { id: 'worked', head: 'Worked', cell: (w) => w.worked },
    { id: 'work', head: 'Work', num: true, className: 'mono', cell: (w) => (w.fed_by ? 'none' : `${w.minutes} min`) },
    { id: 'adds', head: 'Adds', num: true, className: 'mono', cell: (w) => (w.fed_by ? '' : `${w.adds.toFixed(1)}%`) },
    {
      id: 'share',
      head: 'Reached so far',
      className: 'share',
      cell: (w) => (
        <>
          <i aria-hidden="true">
            <b style={{ width: `${w.share}%` }} />
          </i>
          <span className="mono">{Math.round(w.share)}%</span>
        </>
      ),
    },
    {
      id: 'why',
      head: '',
      cell: (w) => (
        <Button
          variant="link"
          size="sm"
          className="p-0"
          aria-expanded={open === w.directory}
          onClick={() => setOpen(open === w.directory ? undefined : w.directory)}
        >
          Why
        </Button>
      ),
    },
  ]
  return (
    <section className="sheet mt-3 worth">
      <div className="sheet-head">
        <h2>Which directories</h2>
        <span className="second">what gains most weight for its work comes first</span>
      </div>
      <DataTable
        rows={can}
        columns={columns}
        rowKey={(w) => w.directory}
        group={(w) => (w.pays ? undefined : { id: 'stop', head: 'Here it stops paying: each of the next adds under 2 %.' })}
        beneath={(w) => open === w.directory && <span className="second">{w.why.join(' ')}</span>}
      />
      {cannot.length > 0 && (
        <ul className="plain-list">
          {cannot.map((w) => (
            <li key={w.directory}>
              <b>{w.name}</b>
              <span>{w.not}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

// Wanted says whether a listing is wanted, and takes a decision back.
function Wanted({ worth: w, busy, onDecide }: { worth: Schemas['Worth']; busy: boolean; onDecide: (wanted: boolean | undefined) => void }) {
  return (
    <>
      <input
        type="checkbox"
        className="form-check-input"
        aria-label={`Want ${w.name}`}
        checked={w.wanted || !!w.fed_by}
        disabled={!!w.fed_by || busy}
        onChange={(e) => onDecide(e.target.checked)}
      />
      {w.decided && (
        <Button variant="link" size="sm" className="ms-2 p-0" title="Take the decision back" onClick={() => onDecide(undefined)}>
          decided
        </Button>
      )}
    </>
  )
}
