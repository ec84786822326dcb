import { useQuery } from '@tanstack/react-query'
import { useSearchParams } from 'react-router'
import { api, told, type Listing } from '../api/client'
import { ago, useNow } from '../app/clock'
import { Pending } from '../app/View'
import { PublicPage, ResultRow } from './PublicPage'

const usePreview = (location: string, directory: string) =>
  useQuery({
    queryKey: ['preview', location, directory],
    queryFn: () => told(api.GET('/api/listings/{location}/{directory}/preview', { params: { path: { location, directory } } })),
  })

const widths = [
  ['phone', 'On a phone'],
  ['wide', 'Wide'],
] as const

// Preview shows what the public would see with our values, beside what it sees now, laid out as the directory lays
// its pages out.
export function Preview({ listing: l }: { listing: Listing }) {
  const preview = usePreview(l.row.location, l.row.directory)
  const [params, setParams] = useSearchParams()
  const now = useNow()
  if (!preview.data) return <Pending error={preview.error} />
  const p = preview.data
  if (p.not) return <p className="empty">{p.not}</p>
  const wide = params.get('as') === 'wide'
  const show = (as: string) =>
    setParams(
      (q) => {
        if (as === 'wide') q.set('as', as)
        else q.delete('as')
        return q
      },
      { replace: true },
    )
  return (
    <>
      <div className="preview-head no-print">
        <div className="btn-group btn-group-sm" role="group" aria-label="How wide">
          {widths.map(([id, words]) => (
            <button
              key={id}
              className={'btn btn-outline-secondary' + ((id === 'wide') === wide ? ' active' : '')}
              aria-pressed={(id === 'wide') === wide}
              onClick={() => show(id)}
            >
              {words}
            </button>
          ))}
        </div>
        <span className="second">Drawn by us from the rulebook, in a plain look; not the page itself.</span>
      </div>
      <div className={'preview' + (wide ? ' wide' : '')}>
        <section>
          <h2>As it would be</h2>
          <PublicPage page={p.would} label="The page as it would be" />
        </section>
        <section>
          <h2>As it is{p.seen_at ? `, seen ${ago(new Date(p.seen_at), now)}` : ''}</h2>
          {p.is ? (
            <>
              <PublicPage page={p.is} label="The page as it is" />
              <p className="second">Its name, address, phone, email, site, category and hours are read from the page, and nothing else.</p>
            </>
          ) : (
            <p className="second">Its public page has not been seen yet. Once it shows, what it shows will stand here.</p>
          )}
          {l.page && l.row.strand.visibility === 'public' && (
            <p>
              <a href={l.page} target="_blank" rel="noreferrer">
                Open the public page
              </a>
            </p>
          )}
        </section>
      </div>
      {p.would.row.length > 0 && (
        <section>
          <h2 className="preview-title">In a list of results</h2>
          <ResultRow page={p.would} label="Its entry in a list of results" />
        </section>
      )}
      {p.unseen.length > 0 && (
        <section>
          <h2 className="preview-title">Given, and not seen by the public</h2>
          <dl className="unseen">
            {p.unseen.map((u) => (
              <div key={u.label + u.says}>
                <dt>{u.label}</dt>
                <dd>{u.says}</dd>
              </div>
            ))}
          </dl>
        </section>
      )}
    </>
  )
}
