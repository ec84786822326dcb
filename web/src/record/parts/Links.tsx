import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Schemas } from '../../api/client'
import { Chips } from '../Chips'
import { FactField, problemAt } from '../Field'
import { useHeld } from '../held'
import { Origin } from '../Origin'

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
  const socials = [...r.socials, { name: '', url: '', show: true }]
  const given = [r.website, ...Object.values(r.links), ...r.socials.map((s) => s.url), ...r.videos].filter((a) => /^https?:\/\//.test(a))
  const check = useMutation({ mutationFn: (body: string[]) => told(api.POST('/api/link-checks', { body })) })
  const setSocial = (i: number, part: Partial<(typeof socials)[number]>) =>
    set({ socials: socials.map((s, j) => (i === j ? { ...s, ...part } : s)).filter((s) => s.name || s.url) })
  return (
    <>
      <section className="sheet">
        <div className="sheet-head">
          <h2>Links</h2>
          <Button variant="link" className="p-0" disabled={check.isPending || given.length === 0} onClick={() => check.mutate(given)}>
            {check.isPending ? 'Asking' : 'Check that they answer'}
          </Button>
        </div>
        {check.error && (
          <p className="wrong" role="alert">
            {check.error.message}
          </p>
        )}
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
      <section className="sheet">
        <h2>
          Social profiles <Origin path="socials" />
        </h2>
        <table className="entries">
          <thead>
            <tr>
              <th scope="col" style={{ width: '26%' }}>
                Network
              </th>
              <th scope="col">Address</th>
              <th scope="col" style={{ width: 90 }}>
                Show it
              </th>
              <th />
            </tr>
          </thead>
          <tbody>
            {socials.map((s, i) => (
              <tr key={i}>
                <td>
                  <Form.Control aria-label={`Network ${i + 1}`} value={s.name} onChange={(e) => setSocial(i, { name: e.target.value })} />
                </td>
                <td>
                  <Form.Control
                    aria-label={`Address of profile ${i + 1}`}
                    type="url"
                    placeholder="https://"
                    value={s.url}
                    isInvalid={!!problemAt(problems, `socials.${i}.url`)}
                    onChange={(e) => setSocial(i, { url: e.target.value })}
                  />
                  <Answer answers={check.data} address={s.url} />
                  {problemAt(problems, `socials.${i}.url`) && <span className="wrong-text">{problemAt(problems, `socials.${i}.url`)}</span>}
                </td>
                <td>
                  <Form.Check
                    id={`show-${i}`}
                    aria-label={`Show profile ${i + 1}`}
                    label={s.show ? 'yes' : 'no'}
                    checked={s.show}
                    onChange={(e) => setSocial(i, { show: e.target.checked })}
                  />
                </td>
                <td className="acts-cell">
                  {i < r.socials.length && (
                    <Button variant="link" size="sm" onClick={() => set({ socials: r.socials.filter((_, j) => j !== i) })}>
                      Take out
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section className="sheet">
        <h2>
          Campaign tags <Origin path="tags" />
        </h2>
        <p className="second">
          Each directory is given links that say where a visitor came from, so that the site’s analytics can tell the directories apart.
          Tags that a link has already are kept.
        </p>
        <div className="fields pb-2">
          <div className="w6">
            <Form.Check
              id="tags-on"
              label="Tag the links that directories are given"
              checked={r.tags.on}
              onChange={(e) =>
                set({
                  tags: { ...r.tags, on: e.target.checked, medium: r.tags.medium || 'listing' },
                })
              }
            />
          </div>
          {r.tags.on && (
            <>
              <FactField label="utm_medium" path="tags.medium" width="w2" />
              <FactField label="utm_campaign" path="tags.campaign" width="w2" help="Empty: only source and medium." />
            </>
          )}
        </div>
        {r.tags.on && <Tagged />}
      </section>
      {check.data && check.data.some((a) => !a.good) && (
        <p className="wrong" role="alert">
          {check.data
            .filter((a) => !a.good)
            .map((a) => (
              <span key={a.address} className="d-block">
                {a.address}: {a.says}
              </span>
            ))}
        </p>
      )}
    </>
  )
}

// Answer is what an address said when it was asked.
function Answer({ answers, address }: { answers?: Schemas['LinkAnswer'][]; address: string }) {
  const a = answers?.find((x) => x.address === address)
  if (!a || !address) return null
  return <span className={a.good ? 'link-answer' : 'link-answer wrong-text'}>{a.says}</span>
}

// Tagged shows the website as each directory is given it.
function Tagged() {
  const { record: r } = useHeld()
  const list = useQuery({
    queryKey: ['tagged', r.website, r.tags],
    queryFn: () => told(api.POST('/api/tagged-links', { body: { address: r.website, tags: r.tags } })),
    enabled: r.website !== '',
    placeholderData: keepPreviousData,
  }).data
  return (
    <ul className="plain-list">
      {(list ?? []).map((l) => (
        <li key={l.directory}>
          <b>{l.name}</b>
          <span className="mono">{l.address}</span>
        </li>
      ))}
    </ul>
  )
}
