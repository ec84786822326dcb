import { useQueryClient } from '@tanstack/react-query'
import { type ComponentType, lazy, Suspense, useEffect } from 'react'
import { Navigate, Route, Routes, useLocation } from 'react-router'
import { Refusal } from '../api/client'
import { useSession } from '../api/queries'
import { SignIn } from '../people/SignIn'
import { fetched } from './fetched'
import { joined, listenForChanges, touched } from './changes'
import { Shell } from './Shell'
import { TroubleBar } from './TroubleBar'

// view is a component that is fetched when it is first shown: an owner on a phone does not wait for all of Uvent.
function view<Name extends string>(ask: () => Promise<Record<Name, ComponentType>>, name: Name) {
  return lazy(() => fetched(ask).then((all) => ({ default: all[name] })))
}

const AwayView = view(() => import('../record/AwayView'), 'AwayView')
const CaseView = view(() => import('../suspensions/CaseView'), 'CaseView')
const HandoverView = view(() => import('../record/HandoverView'), 'HandoverView')
const ClientForm = view(() => import('../record/ClientForm'), 'ClientForm')
const CourseView = view(() => import('../course/CourseView'), 'CourseView')
const CoverageView = view(() => import('../coverage/CoverageView'), 'CoverageView')
const DirectoriesView = view(() => import('../directories/DirectoriesView'), 'DirectoriesView')
const Forgot = view(() => import('../people/Reset'), 'Forgot')
const ImportView = view(() => import('../imports/ImportView'), 'ImportView')
const InterfaceView = view(() => import('../people/InterfaceView'), 'InterfaceView')
const Join = view(() => import('../people/Join'), 'Join')
const LettersView = view(() => import('../letters/LettersView'), 'LettersView')
const ListingView = view(() => import('../verification/ListingView'), 'ListingView')
const LocationsView = view(() => import('../record/LocationsView'), 'LocationsView')
const LogView = view(() => import('../people/LogView'), 'LogView')
const NewLocation = view(() => import('../record/RecordView'), 'NewLocation')
const OwnRecord = view(() => import('../record/OwnRecord'), 'OwnRecord')
const OwnerPage = view(() => import('../owner/OwnerPage'), 'OwnerPage')
const PeopleView = view(() => import('../people/PeopleView'), 'PeopleView')
const RecordView = view(() => import('../record/RecordView'), 'RecordView')
const Reset = view(() => import('../people/Reset'), 'Reset')
const SpecialDatesView = view(() => import('../dates/SpecialDatesView'), 'SpecialDatesView')
const SuspensionsView = view(() => import('../suspensions/SuspensionsView'), 'SuspensionsView')
const TodayView = view(() => import('../today/TodayView'), 'TodayView')
const DifferencesView = view(() => import('../differences/DifferencesView'), 'DifferencesView')
const VerificationView = view(() => import('../verification/VerificationView'), 'VerificationView')
const YouView = view(() => import('../people/YouView'), 'YouView')

// App is the owner's page at its address, which needs nobody to be signed in, as joining and a new
// password do not, and Uvent at all others.
export function App() {
  return (
    <>
      <TroubleBar />
      <Suspense>
        <Routes>
          <Route path="o/:secret" element={<OwnerPage />} />
          <Route path="invitation/:secret" element={<Join />} />
          <Route path="forgot" element={<Forgot />} />
          <Route path="reset/:secret" element={<Reset />} />
          <Route path="*" element={<Uvent />} />
        </Routes>
      </Suspense>
    </>
  )
}

function Uvent() {
  const session = useSession()
  const here = useLocation()
  if (session.isPending) return null
  const signedOut = session.error instanceof Refusal && session.error.status === 401
  if (signedOut || here.pathname === '/sign-in') return <SignIn signedIn={!!session.data && !signedOut} />
  if (!session.data) return <p className="wrong m-4">{session.error?.message}</p>
  if (session.data.must_factor)
    return (
      <main className="m-4">
        <YouView />
      </main>
    )
  return (
    <>
      <Changes />
      <Routes>
        <Route element={<Shell />}>
          {scoped('today', <TodayView />)}
          {scoped('coverage', <CoverageView />)}
          {scoped('verification', <VerificationView />)}
          {scoped('differences', <DifferencesView />)}
          {scoped('special-dates', <SpecialDatesView />)}
          {scoped('suspensions', <SuspensionsView />)}
          {scoped('directories', <DirectoriesView />)}
          <Route path="record" element={<LocationsView />} />
          <Route path="record/c/:client" element={<LocationsView />} />
          <Route path="record/l/:location" element={session.data.role === 'client' ? <OwnRecord /> : <RecordView />} />
          {['', '/c/:client', '/l/:location'].map((scope) => (
            <Route key={'course' + scope} path={'record' + scope + '/course'} element={<CourseView />} />
          ))}
          <Route path="you" element={<YouView />} />
          <Route path="people" element={<PeopleView />} />
          <Route path="letters" element={<LettersView />} />
          <Route path="log" element={<LogView />} />
          <Route path="interface" element={<InterfaceView />} />
          <Route path="record/put-away" element={<AwayView />} />
          <Route path="record/new-client" element={<ClientForm />} />
          <Route path="record/import/:import?" element={<ImportView />} />
          <Route path="record/c/:client/facts" element={<ClientForm />} />
          <Route path="record/c/:client/handover" element={<HandoverView />} />
          <Route path="record/c/:client/new" element={<NewLocation />} />
          <Route path="record/c/:client/import" element={<ImportView />} />
          <Route path="verification/l/:location/:directory" element={<ListingView />} />
          <Route path="suspensions/l/:location/:directory/:id" element={<CaseView />} />
          <Route path="*" element={<Navigate to="/today" replace />} />
        </Route>
      </Routes>
    </>
  )
}

const scoped = (activity: string, view: React.ReactElement) =>
  ['', '/c/:client', '/l/:location'].map((scope) => <Route key={activity + scope} path={activity + scope} element={view} />)

// Changes listens for what anybody changes, and has it fetched anew.
function Changes() {
  const queries = useQueryClient()
  useEffect(() => {
    const bursts = joined((burst) => void queries.invalidateQueries({ predicate: touched(burst) }))
    const stop = listenForChanges(bursts.add)
    return () => {
      bursts.stop()
      stop()
    }
  }, [queries])
  return null
}
