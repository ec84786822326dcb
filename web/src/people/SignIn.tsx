import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Navigate, useLocation, useNavigate } from 'react-router'
import { api, Refusal, told } from '../api/client'

// SignIn lets a person in and goes on to where they were going. A demo shows
// its accounts.
export function SignIn({ signedIn }: { signedIn: boolean }) {
  const here = useLocation()
  const to = here.pathname === '/sign-in' ? '/today' : here.pathname + here.search
  const page = useQuery({ queryKey: ['sign-in'], queryFn: () => told(api.GET('/api/sign-in')) })
  const [email, setEmail] = useState('')
  const [password, setPassword] = useState('')
  const [code, setCode] = useState('')
  const [asksCode, setAsksCode] = useState(false)
  const [wrong, setWrong] = useState('')
  const [busy, setBusy] = useState(false)
  const queries = useQueryClient()
  const navigate = useNavigate()
  if (signedIn && !busy) return <Navigate to={to} replace />

  const signIn = async (e: React.FormEvent) => {
    e.preventDefault()
    setBusy(true)
    setWrong('')
    try {
      const session = await told(api.POST('/api/session', { body: { email, password, code: code || undefined } }))
      navigate(to, { replace: true })
      queries.setQueryData(['session'], session)
    } catch (err) {
      setWrong((err as Error).message)
      if (err instanceof Refusal && err.fields.some((f) => f.path === 'code')) setAsksCode(true)
      setBusy(false)
    }
  }
  return (
    <main className="sign-in">
      <div className="brand">
        <img src="/mark.svg" width="30" height="30" alt="" /> Uvent
      </div>
      <section className="sheet">
        <h2>Sign in</h2>
        <form onSubmit={signIn}>
          {wrong && (
            <p className="wrong" role="alert">
              {wrong}
            </p>
          )}
          <Form.Group className="mb-2" controlId="email">
            <Form.Label>Email</Form.Label>
            <Form.Control
              type="email"
              autoComplete="username"
              autoFocus
              required
              value={email}
              onChange={(e) => setEmail(e.target.value)}
            />
          </Form.Group>
          <Form.Group className="mb-3" controlId="password">
            <Form.Label>Password</Form.Label>
            <Form.Control
              type="password"
              autoComplete="current-password"
              required
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          </Form.Group>
          {asksCode && (
            <Form.Group className="mb-3" controlId="code">
              <Form.Label>Code of your second factor</Form.Label>
              <Form.Control
                className="mono"
                inputMode="numeric"
                autoComplete="one-time-code"
                maxLength={6}
                autoFocus
                value={code}
                onChange={(e) => setCode(e.target.value)}
              />
            </Form.Group>
          )}
          <Button type="submit" disabled={busy}>
            Sign in
          </Button>
        </form>
      </section>
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
                <Button
                  variant="outline-secondary"
                  onClick={() => {
                    setEmail(a.email)
                    setPassword(a.password)
                  }}
                >
                  Fill in
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  )
}
