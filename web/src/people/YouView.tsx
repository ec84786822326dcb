import { useQuery } from '@tanstack/react-query'
import { api, told } from '../api/client'
import { useSession } from '../api/queries'
import { dayTime, useZone } from '../app/clock'
import { Pending, ViewHead } from '../app/View'
import { Failed, useVerb } from '../kit/verb'
import { Digest } from './Digest'
import { Endable } from './Endable'
import { Feeds } from './Feeds'
import { ProgramKeys } from './ProgramKeys'
import { SecondFactor } from './SecondFactor'

// YouView is about oneself: where one is signed in, a second factor, keys for programs.
export function YouView() {
  const session = useSession()
  if (!session.data) return <Pending error={session.error} />
  return (
    <>
      <ViewHead title={session.data.name} says={`${session.data.email}, ${session.data.role}`} />
      <div className="two">
        <div>
          <Sessions />
          <ProgramKeys />
        </div>
        <aside>
          <Digest minute={session.data.digest_minute} zone={session.data.zone} />
          <Feeds />
          <SecondFactor has={session.data.second_factor} />
        </aside>
      </div>
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
  return (
    <section className="sheet">
      <h2>Where you are signed in</h2>
      <Failed error={found.error ?? end.error} />
      <Endable list={found.data} end={end} kept={(s) => s.this}>
        {(s) => (
          <>
            {browser(s.agent)} from <span className="mono">{s.address}</span>
            <span className="second small">
              since {dayTime(new Date(s.began), zone)}
              {s.this && ', this one'}
            </span>
          </>
        )}
      </Endable>
    </section>
  )
}

// browser names a browser and its system as people do.
function browser(agent: string): string {
  const name = ['Firefox', 'Edg', 'Chrome', 'Safari'].find((n) => agent.includes(n + '/'))
  const system = ['Windows', 'Mac OS', 'Android', 'iPhone', 'Linux'].find((n) => agent.includes(n))
  return `${{ Edg: 'Edge' }[name ?? ''] ?? name ?? 'A browser'}${system ? ' on ' + system : ''}`
}
