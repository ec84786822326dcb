import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useCases, useClients, useNotices } from '../api/queries'
import { dateWords, dayTime, useNow, useZone } from '../app/clock'
import { casePath, usePlace } from '../app/place'
import { useSay } from '../app/say'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { Strand } from '../marks/Strand'
import { AxisScale, listAxis, WindowBar, type Axis } from '../marks/WindowBar'
import { Failed } from '../verification/Failed'

const outcomes: Record<string, string> = { won: 'won', lost: 'not won', given_up: 'given up' }

// SuspensionsView lists the trouble that needs an argument: what is open, what directories
// wrote that nobody could place, and how it ended before.
export function SuspensionsView() {
  const { scope } = usePlace()
  const cases = useCases(scope)
  const name = useScopeName(scope)
  const now = useNow()
  const axis = listAxis(now)
  if (!cases.data) return <Pending error={cases.error} />
  const open = cases.data.cases.filter((c) => !c.facts.closed_at)
  const ended = cases.data.cases.filter((c) => c.facts.closed_at)
  const lost = cases.data.lost_per_day
  return (
    <>
      <ViewHead
        title={name ? `Suspensions, ${name}` : 'Suspensions'}
        says={
          open.length === 0
            ? 'No case is open.'
            : `${counted(open.length, 'open case')}${lost > 0 ? `; listings of a weight of ${lost} do not show because of them` : ''}.`
        }
      />
      {cases.data.cases.length === 0 && (
        <div className="empty">
          <h2>No trouble so far</h2>
          <p>
            A case opens by itself when a directory writes that a listing is suspended, when a public listing no longer shows, when somebody
            else holds it, when a second listing is reported, and when a change is refused.
          </p>
        </div>
      )}
      {open.length > 0 && (
        <section>
          <div className="group-head">
            <h2>Open</h2>
            <span>what weighs most first</span>
            <div className="axis-head">
              <AxisScale axis={axis} now={now} />
            </div>
          </div>
          <ul className="rows">
            {open.map((c, i) => (
              <OpenCase key={c.row.location + c.row.directory + c.facts.id} c={c} axis={axis} first={i === 0} />
            ))}
          </ul>
        </section>
      )}
      {!scope.location && <Letters />}
      {ended.length > 0 && (
        <section>
          <div className="group-head">
            <h2>Ended</h2>
            <span>{ended.length}</span>
          </div>
          <table className="grid">
            <thead>
              <tr>
                <th scope="col">Listing</th>
                <th scope="col">What it was</th>
                <th scope="col">How it ended</th>
                <th scope="col" className="num">
                  Days
                </th>
              </tr>
            </thead>
            <tbody>
              {ended.slice(0, 100).map((c) => (
                <tr key={c.row.location + c.row.directory + c.facts.id}>
                  <th scope="row">
                    <Link to={casePath(c.row.location, c.row.directory, c.facts.id)}>
                      {c.row.label} on {c.row.directory_name}
                    </Link>{' '}
                    <span className="second">{c.row.client_name}</span>
                  </th>
                  <td>
                    {c.facts.title}
                    {c.facts.cause_title && <span className="second">: {c.facts.cause_title}</span>}
                  </td>
                  <td>
                    {outcomes[c.facts.outcome ?? '']} <span className="second">{c.facts.says}</span>
                  </td>
                  <td className="num">{c.facts.days}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {cases.data.took.length > 0 && (
        <section>
          <div className="group-head">
            <h2>How long it took</h2>
            <span>by directory and cause</span>
          </div>
          <table className="grid">
            <thead>
              <tr>
                <th scope="col">Directory</th>
                <th scope="col">What it was</th>
                <th scope="col" className="num">
                  Won
                </th>
                <th scope="col" className="num">
                  Not won
                </th>
                <th scope="col" className="num">
                  Given up
                </th>
                <th scope="col" className="num">
                  Days, half of them
                </th>
              </tr>
            </thead>
            <tbody>
              {cases.data.took.map((t) => (
                <tr key={t.directory_name + t.kind_title + t.cause_title}>
                  <th scope="row">{t.directory_name}</th>
                  <td>
                    {t.kind_title}
                    {t.cause_title && <span className="second">: {t.cause_title}</span>}
                  </td>
                  <td className="num">{t.won}</td>
                  <td className="num">{t.lost}</td>
                  <td className="num">{t.given_up}</td>
                  <td className="num">{t.median_days.toFixed(1)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </>
  )
}

function OpenCase({ c, axis, first }: { c: Schemas['CaseRow']; axis: Axis; first: boolean }) {
  const to = casePath(c.row.location, c.row.directory, c.facts.id)
  const ours = c.next?.state === 'now'
  return (
    <li className={'task' + (first && ours ? ' first' : '')}>
      <Strand strand={c.row.strand} />
      <div className="what">
        <Link to={to} data-row>
          {c.row.label} on {c.row.directory_name}: {c.facts.title.toLowerCase()}
        </Link>{' '}
        <span className="second">
          {c.row.client_name}, {c.facts.days === 0 ? 'since today' : `for ${counted(c.facts.days, 'day')}`}
        </span>
        <p>{c.facts.says || c.facts.notice.split('\n')[0]}</p>
      </div>
      <div className="bar">{c.next?.window && <WindowBar window={c.next.window} axis={axis} />}</div>
      <div className="do">
        {ours ? (
          <Link className={'btn btn-' + (first ? 'primary' : 'outline-secondary')} to={to}>
            {c.next!.act === 'appeal' ? 'Argue' : 'See the case'}
          </Link>
        ) : (
          c.next?.window && <span className="due">by {dateWords(c.next.window.latest)}</span>
        )}
      </div>
    </li>
  )
}

// Letters are those of directories of which it could not be told what they are about.
function Letters() {
  const notices = useNotices()
  const clients = useClients()
  const zone = useZone()
  const queries = useQueryClient()
  const say = useSay()
  const [of, setOf] = useState<Record<string, string>>({})
  const sort = useMutation({
    mutationFn: ({ id, ...body }: { id: string; location?: string; put_aside?: boolean }) =>
      told(api.PUT('/api/notices/{notice}', { params: { path: { notice: id } }, body })),
    onSuccess: (_, v) => {
      void queries.invalidateQueries({ queryKey: ['notices'] })
      void queries.invalidateQueries({ queryKey: ['cases'] })
      if (v.put_aside) say('The letter is put aside.', () => sort.mutate({ id: v.id, put_aside: false }))
    },
  })
  if (!notices.data?.length || !clients.data) return null
  return (
    <section>
      <div className="group-head">
        <h2>Letters that name no listing of ours</h2>
        <span>say which location each is about</span>
      </div>
      <Failed error={sort.error} />
      <ul className="rows letters">
        {notices.data.map((n) => (
          <li key={n.id}>
            <div>
              <b>{n.subject}</b>{' '}
              <span className="second">
                {n.directory_name}, {dayTime(new Date(n.at), zone)}
              </span>
              <p className="said-text">{n.body}</p>
            </div>
            <div className="d-flex gap-2 align-items-center">
              <Form.Select
                aria-label={`Location of “${n.subject}”`}
                value={of[n.id] ?? ''}
                onChange={(e) => setOf({ ...of, [n.id]: e.target.value })}
              >
                <option value="">Which location?</option>
                {clients.data.map((c) => (
                  <optgroup key={c.id} label={c.name}>
                    {c.locations.map((l) => (
                      <option key={l.id} value={l.id}>
                        {l.label}
                      </option>
                    ))}
                  </optgroup>
                ))}
              </Form.Select>
              <Button
                variant="outline-secondary"
                disabled={!of[n.id] || sort.isPending}
                onClick={() => sort.mutate({ id: n.id, location: of[n.id] })}
              >
                Place it
              </Button>
              <Button
                variant="link"
                className="text-nowrap"
                disabled={sort.isPending}
                onClick={() => sort.mutate({ id: n.id, put_aside: true })}
              >
                Put aside
              </Button>
            </div>
          </li>
        ))}
      </ul>
    </section>
  )
}
