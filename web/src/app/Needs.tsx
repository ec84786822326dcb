import type { ReactNode } from 'react'
import { useSession } from '../api/queries'

// Needs holds what takes a right. Who lacks it sees it, and cannot press it.
export function Needs({ what, children }: { what: 'edit' | 'send'; children: ReactNode }) {
  const session = useSession()
  if (!session.data || session.data.may.includes(what)) return <>{children}</>
  return (
    <fieldset className="needs" disabled title={what === 'send' ? 'It takes a specialist to send anything.' : 'Your agency does this.'}>
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
