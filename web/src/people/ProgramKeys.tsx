import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { z } from 'zod'
import { api, told, type Schemas } from '../api/client'
import { dayTime, useZone } from '../app/clock'
import { Choice, Fields, Send, Text, useFields } from '../kit/form'
import { Failed, useVerb, type Verb } from '../kit/verb'
import { Endable } from './Endable'
import { ToldOnce } from './ToldOnce'

const scopes: [Schemas['ApiKey']['scope'], string][] = [
  ['see', 'reads'],
  ['edit', 'reads and edits'],
  ['send', 'reads, edits and sends'],
]

const key = z.object({
  name: z.string().trim().min(1, 'Say what it is for, so that it can be ended when that ends.').max(100),
  scope: z.enum(['see', 'edit', 'send']),
  days: z.string().regex(/^\d+$/, 'Write it as a number, 1 to 365.'),
  password: z.string().min(1, 'Your password is wanted.'),
})

// ProgramKeys are what programs sign in with.
export function ProgramKeys() {
  const found = useQuery({ queryKey: ['keys'], queryFn: () => told(api.GET('/api/keys')) })
  const zone = useZone()
  const [open, setOpen] = useState(false)
  const make = useVerb({
    does: ({ days, ...body }: z.infer<typeof key>) => told(api.POST('/api/keys', { body: { ...body, days: Number(days) } })),
    changes: ['keys'],
    then: () => setOpen(false),
  })
  const end = useVerb({
    does: (id: string) => told(api.DELETE('/api/keys/{key}', { params: { path: { key: id } } })),
    changes: ['keys'],
    says: () => 'The key has ended.',
  })
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Keys for programs</h2>
        <Link to="/interface">Try the interface</Link>
      </div>
      <p className="second">
        A program asks with <span className="mono">Authorization: Bearer KEY</span>, in your name, and may do no more than you.
      </p>
      <Failed error={found.error ?? end.error} />
      {make.data && <ToldOnce before="Keep this now; it is told once:" text={make.data.secret} what="The key" />}
      <Endable list={found.data} end={end}>
        {(k) => (
          <>
            {k.name}, {scopes.find(([s]) => s === k.scope)?.[1]}
            <span className="second small">
              made {dayTime(new Date(k.at), zone)}; works until {dayTime(new Date(k.expires), zone)};{' '}
              {k.used_at ? `last used ${dayTime(new Date(k.used_at), zone)}` : 'not used yet'}
            </span>
          </>
        )}
      </Endable>
      {open ? (
        <NewKey verb={make} onDone={() => setOpen(false)} />
      ) : (
        <p className="pt-2">
          <Button variant="outline-secondary" onClick={() => setOpen(true)}>
            Make a key
          </Button>
        </p>
      )}
    </section>
  )
}

type NewKeyValues = z.infer<typeof key>

// NewKey asks what a key is for, and for one's password.
function NewKey({ verb, onDone }: { verb: Verb<unknown, NewKeyValues>; onDone: () => void }) {
  const form = useFields(key, { name: '', scope: 'see', days: '90', password: '' })
  return (
    <Fields className="new-key pt-2" form={form} verb={verb} send={verb.mutate}>
      <Text name="name" label="What it is for" maxLength={100} autoFocus />
      <Choice name="scope" label="What it may do">
        {scopes.map(([id, words]) => (
          <option key={id} value={id}>
            {words}
          </option>
        ))}
      </Choice>
      <Text name="days" label="For how many days" inputMode="numeric" maxLength={3} />
      <Text name="password" label="Your password" type="password" autoComplete="current-password" maxLength={256} />
      <div className="d-flex gap-2">
        <Send verb={verb} className="text-nowrap">
          Make it
        </Send>
        <Button variant="link" onClick={onDone}>
          Leave it
        </Button>
      </div>
    </Fields>
  )
}
