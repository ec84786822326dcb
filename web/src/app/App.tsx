import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { Navigate, Route, Routes, useLocation } from 'react-router'
import { Refusal } from '../api/client'
import { useSession } from '../api/queries'
import { CourseView } from '../course/CourseView'
import { CoverageView } from '../coverage/CoverageView'
import { SpecialDatesView } from '../dates/SpecialDatesView'
import { DirectoriesView } from '../directories/DirectoriesView'
import { OwnerPage } from '../owner/OwnerPage'
import { InterfaceView } from '../people/InterfaceView'
import { Join } from '../people/Join'
import { LettersView } from '../letters/LettersView'
import { LogView } from '../people/LogView'
import { PeopleView } from '../people/PeopleView'
import { Forgot, Reset } from '../people/Reset'
import { SignIn } from '../people/SignIn'
import { YouView } from '../people/YouView'
import { AwayView } from '../record/AwayView'
import { ClientForm } from '../record/ClientForm'
import { ImportView } from '../imports/ImportView'
import { LocationsView } from '../record/LocationsView'
import { OwnRecord } from '../record/OwnRecord'
import { NewLocation, RecordView } from '../record/RecordView'
import { CaseView } from '../suspensions/CaseView'
import { SuspensionsView } from '../suspensions/SuspensionsView'
import { TodayView } from '../today/TodayView'
import { ListingView } from '../verification/ListingView'
import { VerificationView } from '../verification/VerificationView'
import { joined, listenForChanges, touched } from './changes'
import { Shell } from './Shell'
import { TroubleBar } from './TroubleBar'

// App is the owner's page at its address, which needs nobody to be signed in, as joining and a new
// password do not, and Uvent at all others.
export function App() {
  return (
    <>
      <TroubleBar />
      <Routes>
        <Route path="o/:secret" element={<OwnerPage />} />
        <Route path="invitation/:secret" element={<Join />} />
        <Route path="forgot" element={<Forgot />} />
        <Route path="reset/:secret" element={<Reset />} />
        <Route path="*" element={<Uvent />} />
      </Routes>
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
