import { useQuery } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Listing, type Schemas } from '../api/client'
import { pathOf } from '../app/place'
import { useCopy } from '../app/copy'
import { Pending } from '../app/View'

// markWords say what a visitor of the page would learn of a value.
export const markWords: Record<Schemas['FitItem']['mark'], string> = {
  '=': 'goes as it is',
  '≈': 'goes, in other words or less of it',
  '≠': 'shows otherwise than it is',
  '∅': 'nothing goes',
}

export const useFit = (location: string, directory: string) =>
  useQuery({
    queryKey: ['fit', location, directory],
    queryFn: () => told(api.GET('/api/listings/{location}/{directory}/fit', { params: { path: { location, directory } } })),
  })

// Fit holds the record against the directory's form: what goes, what is lost and what
// is missing, with the exact values.
export function Fit({ listing: l }: { listing: Listing }) {
  const fit = useFit(l.row.location, l.row.directory)
  if (!fit.data) return <Pending error={fit.error} />
  return <FitTable fit={fit.data} location={l.row.location} />
}

export function FitTable({ fit: f, location }: { fit: Schemas['ListingFit']; location?: string }) {
  const copy = useCopy()
  if (f.not) return <p className="empty">{f.not}</p>
  const value = (key: string) => f.values.find((v) => v.key === key)
  return (
    <>
      <p className="fit-head">
        <b className="mono">{Math.round(f.percent)}%</b> of a complete listing.{' '}
        {f.next && (
          <>
            Next: {location ? <Link to={pathOf('record', { location }) + '#' + f.next.part}>{f.next.title}</Link> : f.next.title}, about{' '}
            {f.next.minutes} min for {f.next.percent.toFixed(f.next.percent < 2 ? 1 : 0)} points.
          </>
        )}
      </p>
      <table className="grid facts fit">
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">It is given</th>
            <th scope="col">From</th>
            <th aria-label="How it goes" />
          </tr>
        </thead>
        <tbody>
          {f.items.map((i) => {
            const v = value(i.key)
            const words = markWords[i.mark]
            return (
              <tr key={i.key} className={i.state === 'missing' || i.state === 'broken' ? (i.required ? 'off' : '') : ''}>
                <th scope="row">
                  {i.title}
                  {i.required && <span className="second fw-normal"> required</span>}
                </th>
                <td>
                  {v ? (
                    <span className="given">
                      {v.text.length > 160 ? v.text.slice(0, 150) + ' …' : v.text}
                      <Button
                        variant="link"
                        size="sm"
                        className="p-0 ms-2"
                        aria-label={`Copy ${i.title}`}
                        onClick={() => void copy(i.title, v.text)}
                      >
                        Copy
                      </Button>
                    </span>
                  ) : (
                    <span className="quiet">nothing</span>
                  )}
                  {v ? (
                    v.says.map((s) => (
                      <span className={'says' + (i.state === 'good' ? ' second' : '')} key={s}>
                        {s}
                      </span>
                    ))
                  ) : (
                    <span className="says">{i.says}</span>
                  )}
                  {v?.tick && <span className="says">Tick “{v.tick}”, or nobody sees it.</span>}
                </td>
                <td className="second">
                  {v ? v.from : location ? <Link to={pathOf('record', { location }) + '#' + i.part}>Fill in</Link> : null}
                </td>
                <td className="how" title={words}>
                  {i.mark}
                  <span className="visually-hidden">{words}</span>
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </>
  )
}
