import { useQuery } from '@tanstack/react-query'
import { Fragment, useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { listingPath } from '../app/place'
import { Pending } from '../app/View'
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
  const stop = can.findIndex((w) => !w.pays)
  const decide = (w: Schemas['Worth'], wanted: boolean | undefined) =>
    choose.mutate({
      choices: [{ location, directory: w.directory, wanted }],
      says: `${w.name} is ${wanted === undefined ? 'as reckoned' : wanted ? 'wanted' : 'not wanted'}.`,
    })
  return (
    <section className="sheet mt-3 worth">
      <div className="sheet-head">
        <h2>Which directories</h2>
        <span className="second">what gains most weight for its work comes first</span>
      </div>
      <table className="grid">
        <thead>
          <tr>
            <th scope="col">Wanted</th>
            <th scope="col">Directory</th>
            <th scope="col">Worked</th>
            <th scope="col" className="num">
              Work
            </th>
            <th scope="col" className="num">
              Adds
            </th>
            <th scope="col">Reached so far</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          {can.map((w, i) => (
            <Fragment key={w.directory}>
              {i === stop && (
                <tr className="stop-mark">
                  <td colSpan={7}>Here it stops paying: each of the next adds under 2 %.</td>
                </tr>
              )}
              <tr>
                <td>
                  <input
                    type="checkbox"
                    className="form-check-input"
                    aria-label={`Want ${w.name}`}
                    checked={w.wanted || !!w.fed_by}
                    disabled={!!w.fed_by || choose.isPending}
                    onChange={(e) => decide(w, e.target.checked)}
                  />
                  {w.decided && (
                    <Button
                      variant="link"
                      size="sm"
                      className="ms-2 p-0"
                      title="Take the decision back"
                      onClick={() => decide(w, undefined)}
                    >
                      decided
                    </Button>
                  )}
                </td>
                <th scope="row">
                  <Link to={listingPath(location, w.directory)} data-row>
                    {w.name}
                  </Link>{' '}
                  <span className="second fw-normal">{w.kind}</span>
                </th>
                <td>{w.worked}</td>
                <td className="num mono">{w.fed_by ? 'none' : `${w.minutes} min`}</td>
                <td className="num mono">{w.fed_by ? '' : `${w.adds.toFixed(1)}%`}</td>
                <td className="share">
                  <i aria-hidden="true">
                    <b style={{ width: `${w.share}%` }} />
                  </i>
                  <span className="mono">{Math.round(w.share)}%</span>
                </td>
                <td>
                  <Button
                    variant="link"
                    size="sm"
                    className="p-0"
                    aria-expanded={open === w.directory}
                    onClick={() => setOpen(open === w.directory ? undefined : w.directory)}
                  >
                    Why
                  </Button>
                </td>
              </tr>
              {open === w.directory && (
                <tr>
                  <td />
                  <td colSpan={6} className="second">
                    {w.why.join(' ')}
                  </td>
                </tr>
              )}
            </Fragment>
          ))}
        </tbody>
      </table>
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
