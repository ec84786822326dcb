import { z } from 'zod'
import { Text } from '../kit/form'

// confirmed is what shows that it is oneself who asks.
export const confirmed = {
  password: z.string().min(1, 'Your password is wanted.'),
  code: z.string().trim(),
}

// Confirm asks for one's password, and for a code where there is a second factor: before what could lock one out, or let
// somebody else in.
export function Confirm({ code }: { code: boolean }) {
  return (
    <>
      <Text name="password" label="Your password" type="password" autoComplete="current-password" maxLength={256} />
      {code && (
        <Text name="code" label="Code of the app now, or a recovery code" className="mono" autoComplete="one-time-code" maxLength={20} />
      )}
    </>
  )
}
