import { z } from 'zod'
import { api, told } from '../api/client'
import { Fields, Send, Text, useFields } from '../kit/form'
import { Do, Failed, useVerb } from '../kit/verb'

const sixDigits = z.object({ code: z.string().regex(/^\d{6}$/, 'Type the six digits that the app shows.') })

// SecondFactor sets up a code beside the password, or takes it off.
export function SecondFactor({ has }: { has: boolean }) {
  const form = useFields(sixDigits, { code: '' })
  const begin = useVerb({ does: () => told(api.POST('/api/second-factor')) })
  const done = () => {
    form.reset()
    begin.reset()
  }
  const set = useVerb<unknown, string>({
    does: (code) =>
      has
        ? told(api.DELETE('/api/second-factor', { params: { query: { code } } }))
        : told(api.PUT('/api/second-factor', { body: { secret: begin.data!.secret, code } })),
    changes: ['session'],
    then: done,
    says: () => (has ? 'The second factor is off.' : 'The second factor is set.'),
  })
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Second factor</h2>
        <span className="second">{has ? 'set' : 'none'}</span>
      </div>
      <Failed error={begin.error} />
      {!has && !begin.data && (
        <>
          <p>A code from an app on your phone, asked for beside the password. Whoever learns the password alone cannot sign in.</p>
          <p>
            <Do verb={begin} of={undefined} variant="outline-secondary">
              Set it up
            </Do>
          </p>
        </>
      )}
      {begin.data && (
        <>
          <p>Scan this with the app, or type the secret into it. Then give the code that it shows.</p>
          <p>
            <img src={'data:image/png;base64,' + begin.data.picture} width="180" height="180" alt="QR code of the secret" />
          </p>
          <p className="mono text-break">{begin.data.secret}</p>
        </>
      )}
      {(has || begin.data) && (
        <Fields className="d-flex gap-2" form={form} verb={set} send={({ code }) => set.mutate(code)}>
          <Text
            name="code"
            label="Code"
            hidden
            className="mono"
            inputMode="numeric"
            autoComplete="one-time-code"
            placeholder="000000"
            maxLength={6}
          />
          <Send verb={set} variant="outline-secondary" className="text-nowrap">
            {has ? 'Take it off' : 'Keep it'}
          </Send>
        </Fields>
      )}
    </section>
  )
}
