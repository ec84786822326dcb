import type { Listing } from '../api/client'
import { ago, useNow } from '../app/clock'
import { Pending } from '../app/View'
import { useFit } from './Fit'

// plain is a web address as a page shows it: without its campaign tags.
const plain = (text: string) => text.replace(/^https?:\/\//, '').replace(/\?utm_.*$/, '')

// Preview shows what the public would see with our values, beside what it sees now.
export function Preview({ listing: l }: { listing: Listing }) {
  const fit = useFit(l.row.location, l.row.directory)
  const now = useNow()
  if (!fit.data) return <Pending error={fit.error} />
  if (fit.data.not) return <p className="empty">{fit.data.not}</p>
  const v = (key: string) => fit.data.values.find((x) => x.key === key)
  const texts = fit.data.values.filter((x) => x.key.startsWith('text.'))
  const photos = fit.data.values.filter((x) => x.key.startsWith('photos.'))
  const shownKeys = ['name', 'legal_name', 'registration', 'pin', 'store_code']
  const rest = fit.data.values.filter((x) => !shownKeys.includes(x.key) && !texts.includes(x) && !photos.includes(x))
  const hidden = v('address')?.says.some((s) => s.includes('not shown'))
  return (
    <div className="preview">
      <section className="sheet">
        <h2>As it would be</h2>
        <article className="page-like" aria-label="The page as it would be">
          <h3>{v('name')?.text ?? <span className="quiet">no name</span>}</h3>
          {texts.map((t) => (
            <p key={t.key}>{t.text}</p>
          ))}
          <dl>
            {rest.map((x) => (
              <div key={x.key}>
                <dt>{x.label}</dt>
                <dd>{x.key === 'address' && hidden ? `${x.text.split(', ').slice(-2).join(', ')} and around` : plain(x.text)}</dd>
              </div>
            ))}
            {photos.map((x) => (
              <div key={x.key}>
                <dt>{x.label}</dt>
                <dd>{x.text.split('\n').join(', ')}</dd>
              </div>
            ))}
          </dl>
        </article>
      </section>
      <section className="sheet">
        <h2>As it is{l.seen_at ? `, seen ${ago(new Date(l.seen_at), now)}` : ''}</h2>
        {l.seen_at ? (
          <article className="page-like" aria-label="The page as it is">
            <h3>{l.facts.find((f) => f.fact === 'name')?.seen}</h3>
            <dl>
              {l.facts
                .filter((f) => f.fact !== 'name' && f.seen)
                .map((f) => (
                  <div key={f.fact}>
                    <dt>{f.title}</dt>
                    <dd>{plain(f.seen)}</dd>
                  </div>
                ))}
            </dl>
          </article>
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
  )
}
