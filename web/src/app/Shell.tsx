import { Suspense, useRef, useState } from 'react'
import { Dropdown } from 'react-bootstrap'
import { Link, NavLink, Outlet, useLocation } from 'react-router'
import { useDueDates } from '../today/Dates'
import { useCases, useCounts, useDifferences, useSession, useSpecialDates, useFolds } from '../api/queries'
import { useNow } from './clock'
import { ClockMenu } from './ClockMenu'
import { KeysHelp, useKeys } from './keys'
import { Me } from './Me'
import { activities, pathOf, usePlace, type Activity } from './place'
import { ScopePane } from './ScopePane'

// shownToClients are the activities of those who see their own locations alone.
const shownToClients: Activity[] = ['today', 'coverage', 'record', 'differences', 'special-dates', 'suspensions']

// Shell frames every view: activity on top, scope on the left, both in the address.
export function Shell() {
  const { scope } = usePlace()
  const { pathname } = useLocation()
  const ofClient = useSession().data?.role === 'client'
  const find = useRef<HTMLInputElement>(null)
  const [help, setHelp] = useState(false)
  useKeys({ focusFind: () => find.current?.focus(), showHelp: () => setHelp(true) })
  const today = useFolds(scope, { group: 'mine' })
  const counted = useCounts(scope)
  const dates = useSpecialDates(scope)
  const due = useDueDates(dates.data)
  const cases = useCases(scope)
  const differing = useDifferences(scope, { most: 1 })
  const soon = new Date(useNow().getTime() + 30 * 86_400_000).toISOString().slice(0, 10)
  const counts: Partial<Record<Activity, number>> = {
    today: today.data && today.data.pages[0]!.counts.mine + due.length,
    'special-dates': dates.data?.filter((d) => d.from <= soon && d.places.some((p) => !p.decided)).length,
    verification: counted.data?.to_verify,
    differences: differing.data?.open,
    suspensions: cases.data?.cases.filter((c) => !c.facts.closed_at).length,
  }
  return (
    <div className="shell">
      <header className="band">
        <Link to="/today" className="brand">
          <svg width="18" height="17" viewBox="0 0 18 17" aria-hidden="true">
            <path d="M4.4 0h5L5 17H0z" fill="#e8824f" />
            <path d="M11.4 0H18l-2.3 9h-6.6z" fill="#f5f3ed" />
          </svg>
          <span>Uvent</span>
        </Link>
        <nav aria-label="Activities">
          {activities
            .filter((a) => !ofClient || shownToClients.includes(a.id))
            .map((a) => (
              <NavLink
                key={a.id}
                to={pathOf(a.id, scope)}
                className={[pathname.startsWith('/' + a.id) && 'active', a.id === 'directories' && 'aside'].filter(Boolean).join(' ')}
                title={`${a.title} (${a.key})`}
              >
                {a.title}
                {!!counts[a.id] && <span className="count">{counts[a.id]}</span>}
              </NavLink>
            ))}
        </nav>
        <ClockMenu />
        <Dropdown align="end">
          <Me onKeys={() => setHelp(true)} />
        </Dropdown>
      </header>
      <ScopePane find={find} />
      <main className="view" id="view">
        <Suspense>
          <Outlet />
        </Suspense>
      </main>
      <KeysHelp show={help} onHide={() => setHelp(false)} />
    </div>
  )
}
