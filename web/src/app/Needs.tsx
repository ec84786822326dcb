import type { ReactNode } from 'react'
import { useSession } from '../api/queries'

// Needs holds what takes a right. Who lacks it sees it, and cannot press it. What all clients share is for those who see
// all of them.
export function Needs({ what, shared, children }: { what: 'edit' | 'send'; shared?: boolean; children: ReactNode }) {
  const session = useSession()
  const limited = !!shared && session.data?.limited
  if (!session.data || (session.data.may.includes(what) && !limited)) return <>{children}</>
  const why = limited
    ? 'You work for some clients; all of them share this.'
    : what === 'send'
      ? 'It takes a specialist to send anything.'
      : 'Your agency does this.'
  return (
    <fieldset className="needs" disabled title={why}>
      {children}
    </fieldset>
  )
}

// Lacking says once what somebody can and cannot do here.
export function Lacking() {
  const may = useSession().data?.may
  if (!may || may.includes('send')) return null
  return (
    <p className="second lacking">
      {may.includes('edit')
        ? 'You can look and prepare here; what goes out takes a specialist.'
        : 'Your agency works on this; you can look.'}
    </p>
  )
}
