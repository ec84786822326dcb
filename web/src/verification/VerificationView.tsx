import { Link } from 'react-router'
import type { ListingRow } from '../api/client'
import { useBegun } from '../api/queries'
import { dateWords, day, dayTime, useNow, useZone } from '../app/clock'
import { Needs } from '../app/Needs'
import { listingPath, usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { Strand } from '../marks/Strand'
import { AxisScale, listAxis, WindowBar } from '../marks/WindowBar'
import { Find } from './Find'
import { RoundButtons, Rounds } from './Rounds'

// stage sorts listings by how far they have come: codes first, since they lapse.
function stage(r: ListingRow): number {
  if (r.attempt?.live) return 0
  if (r.strand.verification === 'in_review') return 1
  if (r.strand.visibility === 'publishing') return 3
  if (r.strand.visibility === 'public') return 5
  return r.strand.control === 'held' ? 2 : 4
}

const stages = ['Codes on their way or at hand', 'In review', 'Held, to be verified', 'Verified, to be published', 'Not held yet', 'Public']

// VerificationView lists a scope's listings by how far they have come.
export function VerificationView() {
  const { scope } = usePlace()
  const listings = useBegun(scope)
  const name = useScopeName(scope)
  const now = useNow()
  const zone = useZone()
  const axis = listAxis(now)
  if (!listings.data) return <Pending error={listings.error} />
  const rows = listings.data
  const live = rows.filter((r) => r.attempt?.live)
  const soonest = live.map((r) => r.attempt!.expires!).sort()[0]
  return (
    <>
      <ViewHead
        title={name ? `Verification, ${name}` : 'Verification'}
        says={
          live.length === 0
            ? 'No code is under way.'
            : `${counted(live.length, 'code')} under way; the first stops working ${dayTime(new Date(soonest!), zone)}.`
        }
      >
        <Needs what="send">
          <RoundButtons scope={scope} />
        </Needs>
      </ViewHead>
      <Needs what="send">
        <Rounds scope={scope} />
        <Find scope={scope} />
      </Needs>
      {rows.length === 0 && (
        <div className="empty">
          <h2>Nothing to verify</h2>
          <p>Listings stand here from the first search until the public sees them.</p>
        </div>
      )}
      {stages.map((title, s) => {
        const here = rows.filter((r) => stage(r) === s)
        here.sort((a, b) => (b.task?.loss ?? 0) - (a.task?.loss ?? 0)) // what loses most by waiting first
        if (here.length === 0) return null
        return (
          <section key={title}>
            <div className="group-head">
              <h2>{title}</h2>
              <span>{here.length}</span>
              {s === 0 && (
                <div className="axis-head">
                  <AxisScale axis={axis} now={now} />
                </div>
              )}
            </div>
            <ul className="rows">
              {here.map((r) => (
                <li key={r.location + r.directory} className="task">
                  <Strand strand={r.strand} />
                  <div className="what">
                    <Link to={listingPath(r.location, r.directory)} data-row>
                      {r.label} on {r.directory_name}
                    </Link>{' '}
                    <span className="second">{r.client_name}</span>
                    <p>{r.task?.says ?? sentence(r.says)}</p>
                  </div>
                  <div className="bar">{stage(r) < 2 && r.attempt?.window && <WindowBar window={r.attempt.window} axis={axis} />}</div>
                  <div className="do">
                    {stage(r) === 1 && r.attempt?.window && <span className="due">by {dateWords(r.attempt.window.latest)}</span>}
                    {r.attempt?.live && r.attempt.expires && <span className="due">until {day(new Date(r.attempt.expires), zone)}</span>}
                  </div>
                </li>
              ))}
            </ul>
          </section>
        )
      })}
    </>
  )
}

const sentence = (s: string) => s.charAt(0).toUpperCase() + s.slice(1) + '.'
