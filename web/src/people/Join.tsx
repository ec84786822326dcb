import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useNavigate, useParams } from 'react-router'
import { api, Refusal, told } from '../api/client'
import { Pending } from '../app/View'

// Join is where somebody who is invited says who they are.
export function Join() {
  const { secret = '' } = useParams()
  const invited = useQuery({
    queryKey: ['invited', secret],
    queryFn: () => told(api.GET('/api/joining/{secret}', { params: { path: { secret } } })),
    retry: false,
  })
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const [wrong, setWrong] = useState<Error>()
  const [busy, setBusy] = useState(false)
  const queries = useQueryClient()
  const navigate = useNavigate()
  const join = async (e: React.FormEvent) => {
    e.preventDefault()
    setBusy(true)
    try {
      const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
      const session = await told(api.POST('/api/joining/{secret}', { params: { path: { secret } }, body: { name, password, zone } }))
      queries.setQueryData(['session'], session)
      navigate('/today', { replace: true })
    } catch (err) {
      setWrong(err as Error)
      setBusy(false)
    }
  }
  const fields = wrong instanceof Refusal ? wrong.fields : []
  return (
    <main className="sign-in">
      <div className="brand">
        <img src="/mark.svg" width="30" height="30" alt="" /> Uvent
      </div>
      <section className="sheet">
        {!invited.data ? (
          <div className="body py-3">
            <Pending error={invited.error} />
          </div>
        ) : (
          <>
            <h2>
              {invited.data.invited_by} invites you, as {invited.data.role}
            </h2>
            <p className="second">
              You will sign in with <span className="mono">{invited.data.email}</span>.
            </p>
            <form onSubmit={(e) => void join(e)}>
              {wrong && (
                <p className="wrong" role="alert">
                  {fields.length > 0 ? fields.map((f) => f.message).join('. ') : wrong.message}
                </p>
              )}
              <Form.Group className="mb-2" controlId="join-name">
                <Form.Label>Your name</Form.Label>
                <Form.Control
                  autoComplete="name"
                  required
                  autoFocus
                  maxLength={200}
                  value={name}
                  onChange={(e) => setName(e.target.value)}
                />
              </Form.Group>
              <Form.Group className="mb-3" controlId="join-password">
                <Form.Label>A password, of at least 10 characters</Form.Label>
                <Form.Control
                  type="password"
                  autoComplete="new-password"
                  required
                  minLength={10}
                  maxLength={200}
                  value={password}
                  onChange={(e) => setPassword(e.target.value)}
                />
              </Form.Group>
              <Button type="submit" disabled={busy}>
                Come in
              </Button>
            </form>
          </>
        )}
      </section>
    </main>
  )
}
