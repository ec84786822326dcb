import { useQuery } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useSession } from '../api/queries'
import { dayTime, useZone } from '../app/clock'
import { useSignOut } from '../app/signOut'
import { Pending, ViewHead } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'
import { Digest } from './Digest'
import { Endable } from './Endable'
import { Feeds } from './Feeds'
import { ProgramKeys } from './ProgramKeys'
import { browser } from './browser'
import { Passkeys } from './Passkeys'
import { Password } from './Password'
import { SecondFactor } from './SecondFactor'

// YouView is about oneself: where one is signed in, and by what; keys for programs.
export function YouView() {
  const session = useSession()
  if (!session.data) return <Pending error={session.error} />
  if (session.data.must_factor) return <FactorFirst session={session.data} />
  return (
    <>
      <ViewHead title={session.data.name} says={`${session.data.email}, ${session.data.role}`} />
      <div className="two">
        <div>
          <Sessions />
          <SecondFactor session={session.data} />
          <Passkeys session={session.data} />
          <ProgramKeys />
        </div>
        <aside>
          <Password />
          <Digest minute={session.data.digest_minute} zone={session.data.zone} />
          <Feeds />
        </aside>
      </div>
    </>
  )
}

// FactorFirst is all that there is for somebody whose role asks for a second factor that they do not have yet.
function FactorFirst({ session }: { session: Schemas['Session'] }) {
  const signOut = useSignOut()
  return (
    <>
      <ViewHead
        title="A second factor first"
        says="Your role asks for one. Set up the codes of an app, or a passkey; then all is open again."
      />
      <div className="factor-first">
        <SecondFactor session={session} />
        <Passkeys session={session} />
      </div>
      <p className="second">
        You are signed in as {session.name}, {session.email}.{' '}
        <Button variant="link" className="p-0" onClick={() => void signOut()}>
          Sign out
        </Button>
      </p>
    </>
  )
}

function Sessions() {
  const found = useQuery({ queryKey: ['sessions'], queryFn: () => told(api.GET('/api/sessions')) })
  const zone = useZone()
  const end = useVerb({
    does: (id: string) => told(api.DELETE('/api/sessions/{session}', { params: { path: { session: id } } })),
    changes: ['sessions'],
    says: () => 'That session has ended.',
  })
  const everywhere = useVerb({ does: () => told(api.DELETE('/api/sessions')), then: () => window.location.assign('/sign-in') })
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Where you are signed in</h2>
        <Do verb={everywhere} of={undefined} variant="link" className="p-0">
          Sign out everywhere
        </Do>
      </div>
      <Failed error={found.error ?? end.error ?? everywhere.error} />
      <Endable list={found.data} end={end} kept={(s) => s.this}>
        {(s) => (
          <>
            {browser(s.agent)} from <span className="mono">{s.address}</span>
            <span className="second small">
              since {dayTime(new Date(s.began), zone)}
              {s.this ? ', this one' : `; last seen ${dayTime(new Date(s.seen), zone)}`}
            </span>
          </>
        )}
      </Endable>
    </section>
  )
}
