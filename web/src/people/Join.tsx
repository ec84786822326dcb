import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import { z } from 'zod'
import { api, told } from '../api/client'
import { Pending } from '../app/View'
import { Fields, Send, Text, useFields } from '../kit/form'
import { useVerb } from '../kit/verb'
import { NewPassword, newPassword } from './Password'
import { Door } from './Reset'

const newcomer = z.object({
  email: z.string().trim(),
  name: z.string().trim().min(1, 'Say what you are called.').max(100),
  password: newPassword,
})

// Join is where somebody who is invited says who they are.
export function Join() {
  const { secret = '' } = useParams()
  const invited = useQuery({
    queryKey: ['invited', secret],
    queryFn: () => told(api.GET('/api/joining/{secret}', { params: { path: { secret } } })),
    retry: false,
  })
  return (
    <Door>
      <section className="sheet">
        {invited.data ? (
          <Come secret={secret} invited={invited.data} />
        ) : (
          <div className="body py-3">
            <Pending error={invited.error} />
          </div>
        )}
      </section>
    </Door>
  )
}

function Come({ secret, invited }: { secret: string; invited: { email: string; role: string; invited_by: string } }) {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const form = useFields(newcomer, { email: '', name: '', password: '' })
  const join = useVerb({
    does: (who: z.infer<typeof newcomer>) => {
      const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
      return told(api.POST('/api/joining/{secret}', { params: { path: { secret } }, body: { ...who, zone } }))
    },
    then: (session) => {
      queries.setQueryData(['session'], session)
      navigate('/today', { replace: true })
    },
  })
  return (
    <>
      <h2>{invited.email ? `${invited.invited_by} invites you, as ${invited.role}` : 'The first administrator'}</h2>
      <p className="second">
        {invited.email ? (
          <>
            You will sign in with <span className="mono">{invited.email}</span>.
          </>
        ) : (
          'Nobody may sign in here yet. You are the first, and then invite the others.'
        )}
      </p>
      <Fields className="d-grid gap-3" form={form} verb={join} send={join.mutate}>
        {!invited.email && <Text name="email" label="Email" type="email" autoComplete="username" autoFocus maxLength={300} />}
        <Text name="name" label="Your name" autoComplete="name" autoFocus={!!invited.email} maxLength={100} />
        <NewPassword name="password" />
        <Send verb={join} className="justify-self-start">
          Come in
        </Send>
      </Fields>
    </>
  )
}
