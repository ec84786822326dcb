import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { Link, Navigate, useLocation, useNavigate } from 'react-router'
import { z } from 'zod'
import { api, told } from '../api/client'
import { Fields, Send, Text, useFields } from '../kit/form'
import { Do, Failed, useVerb, wrongWith } from '../kit/verb'
import { passkeysHere, signInByPasskey } from './passkey'
import { Door } from './Reset'

const credentials = z.object({
  email: z.string().trim().min(1, 'Your email is wanted.'),
  password: z.string().min(1, 'Your password is wanted.'),
  code: z.string().trim(),
})

// SignIn lets a person in and goes on to where they were going. A demo shows
// its accounts.
export function SignIn({ signedIn }: { signedIn: boolean }) {
  const here = useLocation()
  const to = here.pathname === '/sign-in' ? '/today' : here.pathname + here.search
  const page = useQuery({ queryKey: ['sign-in'], queryFn: () => told(api.GET('/api/sign-in')) })
  const queries = useQueryClient()
  const navigate = useNavigate()
  const form = useFields(credentials, { email: '', password: '', code: '' })
  const signIn = useVerb({
    does: ({ code, ...body }: z.infer<typeof credentials>) =>
      told(api.POST('/api/session', { body: { ...body, code: code || undefined } })),
    then: (session) => {
      navigate(to, { replace: true })
      queries.setQueryData(['session'], session)
    },
  })
  const byPasskey = useVerb({
    does: signInByPasskey,
    then: (session) => {
      navigate(to, { replace: true })
      queries.setQueryData(['session'], session)
    },
  })
  const asksCode = !!wrongWith(signIn.error, 'code') || form.getValues('code') !== ''
  if (signedIn && !signIn.isPending) return <Navigate to={to} replace />
  return (
    <Door>
      <section className="sheet">
        <h2>Sign in</h2>
        <Fields className="d-grid gap-3" form={form} verb={signIn} send={signIn.mutate}>
          <Text name="email" label="Email" type="email" autoComplete="username" autoFocus />
          <Text name="password" label="Password" type="password" autoComplete="current-password" />
          {asksCode && (
            <Text name="code" label="Code of your second factor" className="mono" autoComplete="one-time-code" maxLength={20} autoFocus />
          )}
          <div className="d-flex gap-3 align-items-baseline">
            <Send verb={signIn}>Sign in</Send>
            <Link to="/forgot">Password forgotten?</Link>
          </div>
        </Fields>
        {passkeysHere && page.data?.passkeys && (
          <div className="by-passkey">
            <Failed error={byPasskey.error} />
            <Do verb={byPasskey} of={undefined} variant="outline-secondary" running="Waiting for it">
              Sign in with a passkey
            </Do>
          </div>
        )}
      </section>
      {page.data?.nobody && (
        <section className="sheet">
          <h2>Nobody may sign in yet</h2>
          <p>
            The first is an administrator, who then invites the others. The page for that is at a private address, which Uvent says where it
            was started, or in its log. It can be done there by a command too:
          </p>
          <p className="mono">uvent person add --email you@agency.example --name "First Last"</p>
        </section>
      )}
      {!!page.data?.accounts.length && (
        <section className="sheet">
          <h2>The demo’s accounts</h2>
          <ul className="plain-list accounts">
            {page.data.accounts.map((a) => (
              <li key={a.email}>
                <div>
                  <b>{a.name}</b>
                  <span className="mono">
                    {a.email}
                    <br />
                    {a.password}
                  </span>
                </div>
                <Button variant="outline-secondary" onClick={() => form.reset({ email: a.email, password: a.password, code: '' })}>
                  Fill in
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </Door>
  )
}
