import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { z } from 'zod'
import { api, told, type Schemas } from '../api/client'
import { Fields, Send, Text, useFields } from '../kit/form'
import { useVerb } from '../kit/verb'
import { Confirm, confirmed } from './Confirm'
import { RecoveryCodes } from './RecoveryCodes'

type Act = 'set' | 'recovery' | 'off'

const confirmation = z.object(confirmed)

// SecondFactor sets up the codes of an app beside the password, replaces them, or takes them off.
export function SecondFactor({ session }: { session: Schemas['Session'] }) {
  const [act, setAct] = useState<Act>()
  const [codes, setCodes] = useState<string[]>()
  const has = session.codes
  const done = (told?: string[]) => {
    setAct(undefined)
    setCodes(told)
  }
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Codes of an app</h2>
        <span className="second">{has ? 'set' : 'none'}</span>
      </div>
      {codes && <RecoveryCodes codes={codes} />}
      {!act && (
        <>
          {!has && (
            <p>A code from an app on your phone, asked for beside the password. Whoever learns the password alone cannot sign in.</p>
          )}
          <p className="d-flex gap-2 flex-wrap">
            <Button variant="outline-secondary" onClick={() => setAct('set')}>
              {has ? 'Replace them' : 'Set them up'}
            </Button>
            {session.second_factor && (
              <Button variant="outline-secondary" onClick={() => setAct('recovery')}>
                New recovery codes
              </Button>
            )}
            {has && (
              <Button variant="outline-secondary" onClick={() => setAct('off')}>
                Take them off
              </Button>
            )}
          </p>
        </>
      )}
      {act === 'set' && <SetUp ask={session.second_factor} onDone={done} />}
      {(act === 'recovery' || act === 'off') && <Sure act={act} onDone={done} />}
    </section>
  )
}

// SetUp asks who it is, shows the secret, and wants a code of it back.
function SetUp({ ask, onDone }: { ask: boolean; onDone: (codes?: string[]) => void }) {
  const form = useFields(confirmation, { password: '', code: '' })
  const begin = useVerb({ does: (body: z.infer<typeof confirmation>) => told(api.POST('/api/second-factor', { body })) })
  if (begin.data) return <Keep begun={begin.data} onDone={onDone} />
  return (
    <Fields className="d-grid gap-2" form={form} verb={begin} send={begin.mutate}>
      <Confirm code={ask} />
      <div className="d-flex gap-2">
        <Send verb={begin}>Go on</Send>
        <Button variant="link" onClick={() => onDone()}>
          Leave it
        </Button>
      </div>
    </Fields>
  )
}

const sixDigits = z.object({ code: z.string().regex(/^\d{6}$/, 'Type the six digits that the app shows.') })

function Keep({ begun, onDone }: { begun: { secret: string; picture: string }; onDone: (codes?: string[]) => void }) {
  const form = useFields(sixDigits, { code: '' })
  const keep = useVerb({
    does: (body: z.infer<typeof sixDigits>) => told(api.PUT('/api/second-factor', { body })),
    changes: ['session'],
    then: ({ codes }) => onDone(codes),
    says: () => 'The second factor is set.',
  })
  return (
    <>
      <p>Scan this with the app, or type the secret into it. Then give the code that it shows.</p>
      <p>
        <img src={'data:image/png;base64,' + begun.picture} width="180" height="180" alt="QR code of the secret" />
      </p>
      <p className="mono text-break">{begun.secret}</p>
      <Fields className="d-flex gap-2" form={form} verb={keep} send={keep.mutate}>
        <Text
          name="code"
          label="Code"
          hidden
          className="mono"
          inputMode="numeric"
          autoComplete="one-time-code"
          placeholder="000000"
          maxLength={6}
          autoFocus
        />
        <Send verb={keep} variant="outline-secondary" className="text-nowrap">
          Keep it
        </Send>
      </Fields>
    </>
  )
}

// Sure asks who it is before the codes are taken off, or the recovery codes are made anew.
function Sure({ act, onDone }: { act: 'recovery' | 'off'; onDone: (codes?: string[]) => void }) {
  const form = useFields(confirmation, { password: '', code: '' })
  const sure = useVerb({
    does: async (body: z.infer<typeof confirmation>) =>
      act === 'off'
        ? void (await told(api.POST('/api/second-factor/removal', { body })))
        : (await told(api.POST('/api/second-factor/recovery-codes', { body }))).codes,
    changes: ['session'],
    then: (codes) => onDone(codes ?? undefined),
    says: () => (act === 'off' ? 'The codes of the app are off.' : 'The recovery codes are new; the old ones work no more.'),
  })
  return (
    <Fields className="d-grid gap-2" form={form} verb={sure} send={sure.mutate}>
      <Confirm code />
      <div className="d-flex gap-2">
        <Send verb={sure}>{act === 'off' ? 'Take them off' : 'Make new ones'}</Send>
        <Button variant="link" onClick={() => onDone()}>
          Leave it
        </Button>
      </div>
    </Fields>
  )
}
