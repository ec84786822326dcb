import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { z } from 'zod'
import { api, told } from '../api/client'
import { useSay } from '../app/say'
import { Pending } from '../app/View'
import { Fields, Send, Text, useFields } from '../kit/form'
import { useVerb } from '../kit/verb'
import { NewPassword, newPassword } from './Password'

// Door is a page for those who are not signed in.
export function Door({ children }: { children: ReactNode }) {
  return (
    <main className="sign-in">
      <div className="brand">
        <img src="/mark.svg" width="30" height="30" alt="" /> Uvent
      </div>
      {children}
    </main>
  )
}

const forgotten = z.object({ email: z.email('Give the email that you sign in with.').max(254) })

// Forgot has a letter sent to whoever does not know their password any more.
export function Forgot() {
  const form = useFields(forgotten, { email: '' })
  const ask = useVerb({ does: (body: z.infer<typeof forgotten>) => told(api.POST('/api/password-resets', { body })) })
  return (
    <Door>
      <section className="sheet">
        <h2>A new password</h2>
        {ask.isSuccess ? (
          <p>
            If somebody signs in with <span className="mono">{ask.variables.email}</span>, a letter is on its way there. The address in it
            works for an hour.
          </p>
        ) : (
          <Fields className="d-grid gap-3" form={form} verb={ask} send={ask.mutate}>
            <Text
              name="email"
              label="Email"
              type="email"
              autoComplete="username"
              autoFocus
              help="A letter goes there, with an address at which you choose another password."
            />
            <Send verb={ask} className="justify-self-start">
              Send the letter
            </Send>
          </Fields>
        )}
        <p className="pt-2">
          <Link to="/sign-in">Back to signing in</Link>
        </p>
      </section>
    </Door>
  )
}

// Reset is where somebody chooses a new password, by the address in a letter.
export function Reset() {
  const { secret = '' } = useParams()
  const found = useQuery({
    queryKey: ['reset', secret],
    queryFn: () => told(api.GET('/api/password-resets/{secret}', { params: { path: { secret } } })),
    retry: false,
  })
  return (
    <Door>
      <section className="sheet">
        {found.data ? (
          <Choose secret={secret} email={found.data.email} />
        ) : (
          <div className="body py-3">
            <Pending error={found.error} />
            {found.error && <Link to="/forgot">Ask for another letter</Link>}
          </div>
        )}
      </section>
    </Door>
  )
}

const chosen = z.object({ new_password: newPassword })

function Choose({ secret, email }: { secret: string; email: string }) {
  const navigate = useNavigate()
  const say = useSay()
  const form = useFields(chosen, { new_password: '' })
  const choose = useVerb({
    does: (body: z.infer<typeof chosen>) => told(api.POST('/api/password-resets/{secret}', { params: { path: { secret } }, body })),
    then: () => {
      say('The password is new. Sign in with it.')
      navigate('/sign-in', { replace: true })
    },
  })
  return (
    <>
      <h2>A new password</h2>
      <p className="second">
        For <span className="mono">{email}</span>. Wherever you are signed in, you have to sign in again.
      </p>
      <Fields className="d-grid gap-3" form={form} verb={choose} send={choose.mutate}>
        <input type="email" hidden readOnly autoComplete="username" value={email} />
        <NewPassword focus />
        <Send verb={choose} className="justify-self-start">
          Take it
        </Send>
      </Fields>
    </>
  )
}
