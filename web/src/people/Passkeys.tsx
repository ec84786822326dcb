import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { z } from 'zod'
import { api, told, type Schemas } from '../api/client'
import { dayTime, useZone } from '../app/clock'
import { Fields, Send, Text, useFields } from '../kit/form'
import { Failed, useVerb } from '../kit/verb'
import { Confirm, confirmed } from './Confirm'
import { makePasskey, passkeysHere } from './passkey'
import { RecoveryCodes } from './RecoveryCodes'

// Passkeys sign in without a password: what a device or a security key holds, and opens to its owner alone.
export function Passkeys({ session }: { session: Schemas['Session'] }) {
  const found = useQuery({ queryKey: ['passkeys'], queryFn: () => told(api.GET('/api/passkeys')) })
  const zone = useZone()
  const [adding, setAdding] = useState(false)
  const [leaving, setLeaving] = useState<string>()
  const [codes, setCodes] = useState<string[]>()
  const list = found.data ?? []
  const why = !session.passkeys
    ? 'They work only where Uvent is opened by a name, such as localhost, and not by an address of digits.'
    : !passkeysHere && 'This browser does not know them.'
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Passkeys</h2>
        <span className="second">{list.length || 'none'}</span>
      </div>
      <Failed error={found.error} />
      {codes && <RecoveryCodes codes={codes} />}
      <ul className="made-links">
        {list.map((k) => (
          <li key={k.id}>
            {leaving === k.id ? (
              <Drop passkey={k} onDone={() => setLeaving(undefined)} />
            ) : (
              <>
                <span>
                  {k.name}
                  <span className="second small">
                    since {dayTime(new Date(k.at), zone)}; {k.used_at ? `last used ${dayTime(new Date(k.used_at), zone)}` : 'not used yet'}
                  </span>
                </span>
                <Button variant="link" size="sm" className="p-0" onClick={() => setLeaving(k.id)}>
                  Remove
                </Button>
              </>
            )}
          </li>
        ))}
      </ul>
      {list.length === 0 && !adding && (
        <p>
          Your device signs you in, after a finger, a face or a number that it knows. There is nothing to type, and nothing to give away.
        </p>
      )}
      {why ? (
        <p className="second">{why}</p>
      ) : adding ? (
        <Add
          ask={session.second_factor}
          onDone={(told) => {
            setAdding(false)
            setCodes(told)
          }}
        />
      ) : (
        <p className="pt-2">
          <Button variant="outline-secondary" onClick={() => setAdding(true)}>
            Add a passkey
          </Button>
        </p>
      )}
    </section>
  )
}

const adding = z.object({ ...confirmed, name: z.string().trim().min(1, 'Say where it is, such as the laptop.').max(100) })

function Add({ ask, onDone }: { ask: boolean; onDone: (codes?: string[]) => void }) {
  const form = useFields(adding, { name: '', password: '', code: '' })
  const add = useVerb({
    does: ({ name, ...sure }: z.infer<typeof adding>) => makePasskey(name, sure),
    changes: ['passkeys', 'session'],
    then: ({ codes }) => onDone(codes),
    says: ({ passkey }) => `The passkey “${passkey.name}” is set.`,
  })
  return (
    <Fields className="d-grid gap-2 pt-2" form={form} verb={add} send={add.mutate}>
      <Text name="name" label="Where it is" placeholder="the laptop" maxLength={100} autoFocus />
      <Confirm code={ask} />
      <div className="d-flex gap-2">
        <Send verb={add} running="Waiting for it">
          Add it
        </Send>
        <Button variant="link" onClick={() => onDone()}>
          Leave it
        </Button>
      </div>
    </Fields>
  )
}

const dropping = z.object({ password: confirmed.password })

function Drop({ passkey, onDone }: { passkey: Schemas['Passkey']; onDone: () => void }) {
  const form = useFields(dropping, { password: '' })
  const drop = useVerb({
    does: (body: z.infer<typeof dropping>) =>
      told(api.POST('/api/passkeys/{passkey}/removal', { params: { path: { passkey: passkey.id } }, body })),
    changes: ['passkeys', 'session'],
    then: onDone,
    says: () => `The passkey “${passkey.name}” is removed.`,
  })
  return (
    <Fields className="d-grid gap-2 w-100 px-0" form={form} verb={drop} send={drop.mutate}>
      <Confirm code={false} />
      <div className="d-flex gap-2">
        <Send verb={drop}>Remove “{passkey.name}”</Send>
        <Button variant="link" onClick={onDone}>
          Leave it
        </Button>
      </div>
    </Fields>
  )
}
