import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { z } from 'zod'
import { api, told } from '../api/client'
import { Fields, Send, Text, useFields } from '../kit/form'
import { useVerb } from '../kit/verb'

// newPassword is what a password is at least; whether it is easy to guess the server tells.
export const newPassword = z.string().min(12, 'A password has at least 12 characters.').max(256)

const change = z.object({ password: z.string().min(1, 'Your password is wanted.'), new_password: newPassword })

// NewPassword is the field to type a new password into.
export function NewPassword({ name = 'new_password', focus }: { name?: string; focus?: boolean }) {
  return (
    <Text
      name={name}
      label="New password"
      type="password"
      autoComplete="new-password"
      maxLength={256}
      autoFocus={focus}
      help="At least 12 characters. A few words that do not belong together are hard to guess and easy to keep."
    />
  )
}

// Password changes one's own.
export function Password() {
  const [open, setOpen] = useState(false)
  const form = useFields(change, { password: '', new_password: '' })
  const set = useVerb({
    does: (body: z.infer<typeof change>) => told(api.PUT('/api/password', { body })),
    changes: ['sessions'],
    then: () => {
      form.reset()
      setOpen(false)
    },
    says: () => 'The password is changed. Everywhere else you have to sign in again.',
  })
  return (
    <section className="sheet">
      <h2>Password</h2>
      {!open ? (
        <p>
          <Button variant="outline-secondary" onClick={() => setOpen(true)}>
            Change it
          </Button>
        </p>
      ) : (
        <Fields className="d-grid gap-2" form={form} verb={set} send={set.mutate}>
          <Text name="password" label="The password until now" type="password" autoComplete="current-password" maxLength={256} autoFocus />
          <NewPassword />
          <div className="d-flex gap-2">
            <Send verb={set}>Change it</Send>
            <Button variant="link" onClick={() => setOpen(false)}>
              Leave it
            </Button>
          </div>
        </Fields>
      )}
    </section>
  )
}
