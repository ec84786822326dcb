import { api, told } from '../../api/client'
import { Do, Failed, useVerb } from '../../kit/verb'
import { Chips } from '../Chips'
import { FactField, problemAt } from '../Field'
import { useHeld } from '../held'
import { Answer } from './Answer'
import { Socials } from './Socials'
import { Tags } from './Tags'

const links = [
  ['booking', 'Booking'],
  ['ordering', 'Ordering'],
  ['quote', 'Quote'],
  ['menu', 'Menu or price list'],
  ['gift_card', 'Gift card'],
  ['app', 'App'],
] as const

// Links are web addresses for one purpose each, the social profiles, and how
// links are tagged.
export function Links() {
  const { record: r, set, problems } = useHeld()
  const given = [r.website, ...Object.values(r.links), ...r.socials.map((s) => s.url), ...r.videos].filter((a) => /^https?:\/\//.test(a))
  const check = useVerb({ does: (body: string[]) => told(api.POST('/api/link-checks', { body })) })
  const silent = check.data?.filter((a) => !a.good) ?? []
  return (
    <>
      <section className="sheet">
        <div className="sheet-head">
          <h2>Links</h2>
          <Do verb={check} of={given} running="Asking" variant="link" className="p-0" disabled={given.length === 0}>
            Check that they answer
          </Do>
        </div>
        <Failed error={check.error} />
        <div className="fields">
          {links.map(([key, label]) => (
            <FactField
              key={key}
              label={label}
              path={'links.' + key}
              width="w3"
              type="url"
              placeholder="https://"
              help={<Answer answers={check.data} address={r.links[key]} />}
            />
          ))}
          <Chips
            label="Videos"
            path="videos"
            width="w6"
            items={r.videos}
            problem={problemAt(problems, 'videos') ?? problemAt(problems, 'videos.0')}
            help="Addresses of films. Enter adds one."
            onChange={(videos) => set({ videos })}
          />
        </div>
      </section>
      <Socials answers={check.data} />
      <Tags />
      {silent.length > 0 && (
        <p className="wrong" role="alert">
          {silent.map((a) => (
            <span key={a.address} className="d-block">
              {a.address}: {a.says}
            </span>
          ))}
        </p>
      )}
    </>
  )
}
