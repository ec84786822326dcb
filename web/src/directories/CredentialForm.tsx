import { Button } from 'react-bootstrap'
import { useWatch } from 'react-hook-form'
import { z } from 'zod'
import { api, told, type Schemas } from '../api/client'
import { Choice, Fields, Send, Text, useFields } from '../kit/form'
import { Do, Failed, useVerb } from '../kit/verb'

const schema = z.object({
  manner: z.enum(['bearer', 'basic', 'oauth2']),
  token: z.string(),
  user: z.string(),
  password: z.string(),
  token_url: z.string(),
  client_id: z.string(),
  client_secret: z.string(),
  scopes: z.string(),
  refresh: z.string(),
})

type Facts = z.infer<typeof schema>

// What each manner takes.
const parts: Record<Facts['manner'], (keyof Facts)[]> = {
  bearer: ['token'],
  basic: ['user', 'password'],
  oauth2: ['token_url', 'client_id', 'client_secret', 'scopes', 'refresh'],
}

// CredentialForm says with what a directory's interface is entered. What is typed is sealed, and never
// shown again.
export function CredentialForm({ of: c, onDone }: { of: Schemas['Connection']; onDone: () => void }) {
  const path = { params: { path: { directory: c.directory } } }
  const form = useFields(schema, {
    ...{ manner: c.credential?.manner ?? 'bearer', token: '', user: '', password: '' },
    ...{ token_url: '', client_id: '', client_secret: '', scopes: '', refresh: '' },
  })
  const manner = useWatch({ control: form.control, name: 'manner' })
  const save = useVerb({
    does: (f: Facts) => {
      const given = Object.fromEntries(parts[f.manner].filter((p) => f[p]).map((p) => [p, f[p]]))
      return told(api.PUT('/api/connections/{directory}/credential', { ...path, body: { manner: f.manner, ...given } }))
    },
    changes: ['connections'],
    then: onDone,
    says: () => `It is kept, sealed. ${c.name} is entered with it from now on.`,
  })
  const drop = useVerb({
    does: () => told(api.DELETE('/api/connections/{directory}/credential', path)),
    changes: ['connections'],
    then: onDone,
    says: () => `${c.name} is entered with nothing.`,
  })
  const secret = { type: 'password', autoComplete: 'off', spellCheck: false }
  return (
    <Fields className="account-form" form={form} verb={save} send={save.mutate}>
      <div className="in-three">
        <Choice name="manner" label={`${c.name} is entered with`}>
          <option value="bearer">a token that stays the same</option>
          <option value="basic">a user and a password</option>
          <option value="oauth2">tokens that are renewed (OAuth 2)</option>
        </Choice>
        {manner === 'bearer' && <Text name="token" label="Token" {...secret} maxLength={4000} />}
        {manner === 'basic' && (
          <>
            <Text name="user" label="User" autoComplete="off" maxLength={300} />
            <Text name="password" label="Its password" {...secret} maxLength={300} />
          </>
        )}
        {manner === 'oauth2' && (
          <>
            <Text name="token_url" label="Where tokens are given" placeholder="https://" maxLength={2000} />
            <Text name="client_id" label="Client id" autoComplete="off" maxLength={300} />
          </>
        )}
      </div>
      {manner === 'oauth2' && (
        <div className="in-three">
          <Text name="client_secret" label="Client secret" {...secret} maxLength={1000} />
          <Text name="scopes" label="Scopes" help="With blanks between; may be empty." maxLength={2000} />
          <Text name="refresh" label="Refresh token" {...secret} help="Empty: it is entered as the client itself." maxLength={4000} />
        </div>
      )}
      <p className="second mb-2">It is sealed with a key that is not in the database, and is not shown again.</p>
      <Failed error={drop.error} />
      <div className="d-flex gap-2">
        <Send verb={save} running="Keeping">
          Keep it
        </Send>
        {c.credential && (
          <Do verb={drop} of={undefined} variant="outline-secondary" running="Taking it off">
            Take it off
          </Do>
        )}
        <Button variant="link" onClick={onDone}>
          Leave it
        </Button>
      </div>
    </Fields>
  )
}
