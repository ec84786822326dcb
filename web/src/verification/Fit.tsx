import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Listing, type Schemas } from '../api/client'
import { pathOf } from '../app/place'
import { useCopy } from '../app/copy'
import { Pending } from '../app/View'
import { OwnEditor, OwnNote, useOwnValues } from './OwnValues'

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
  const own = useOwnValues(l.row.location, l.row.directory)
  if (!fit.data || !own.data) return <Pending error={fit.error ?? own.error} />
  return <FitTable fit={fit.data} location={l.row.location} own={{ listing: l, values: own.data }} />
}

type Own = { listing: Listing; values: Schemas['OwnValues'] }

export function FitTable({ fit: f, location, own }: { fit: Schemas['ListingFit']; location?: string; own?: Own }) {
  if (f.not) return <p className="empty">{f.not}</p>
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
          {f.items.map((i) => (
            <FitRow key={i.key} item={i} value={f.values.find((v) => v.key === i.key)} location={location} own={own} />
          ))}
        </tbody>
      </table>
    </>
  )
}

function FitRow({
  item: i,
  value: v,
  location,
  own,
}: {
  item: Schemas['FitItem']
  value?: Schemas['ComposedValue']
  location?: string
  own?: Own
}) {
  const copy = useCopy()
  const [editing, setEditing] = useState(false)
  const rule = own?.values.rules.find((r) => r.key === i.key)
  const words = markWords[i.mark]
  const wrong = i.state === 'missing' || i.state === 'broken'
  const record = location && (
    <Link to={pathOf('record', { location }) + '#' + i.part}>{i.own || !v ? (i.own ? 'The record' : 'Fill in') : v.from}</Link>
  )
  return (
    <>
      <tr className={wrong && i.required ? 'off' : ''}>
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
          {i.own && own ? (
            <OwnNote listing={own.listing} item={i} value={i.own} />
          ) : v ? (
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
          {record || v?.from}
          {rule && own && !editing && (
            <Button
              variant="link"
              size="sm"
              className="p-0 d-block"
              onClick={() => setEditing(true)}
              aria-label={`${i.own ? 'Change it' : 'Another here'}: ${i.title}`}
            >
              {i.own ? 'Change it' : 'Another here'}
            </Button>
          )}
        </td>
        <td className="how" title={words}>
          {i.mark}
          <span className="visually-hidden">{words}</span>
        </td>
      </tr>
      {editing && rule && own && (
        <tr className="own-row">
          <td colSpan={4}>
            <OwnEditor
              listing={own.listing}
              rule={rule}
              photos={own.values.photos}
              start={i.own?.text ?? (rule.kind === 'photos' ? '' : (v?.text ?? ''))}
              why={i.own?.why ?? ''}
              before={i.own}
              onDone={() => setEditing(false)}
            />
          </td>
        </tr>
      )}
    </>
  )
}
