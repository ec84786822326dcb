import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { z } from 'zod'
import { api, told, type Schemas } from '../api/client'
import { dayTime, useZone } from '../app/clock'
import { Choice, Fields, Send, Text, useFields } from '../kit/form'
import { Failed, useVerb } from '../kit/verb'
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
})

// ProgramKeys are what programs sign in with.
export function ProgramKeys() {
  const found = useQuery({ queryKey: ['keys'], queryFn: () => told(api.GET('/api/keys')) })
  const zone = useZone()
  const form = useFields(key, { name: '', scope: 'see' })
  const make = useVerb({
    does: (body: z.infer<typeof key>) => told(api.POST('/api/keys', { body })),
    changes: ['keys'],
    then: () => form.setValue('name', ''),
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
              made {dayTime(new Date(k.at), zone)}; {k.used_at ? `last used ${dayTime(new Date(k.used_at), zone)}` : 'not used yet'}
            </span>
          </>
        )}
      </Endable>
      <Fields className="d-flex gap-2 pt-2" form={form} verb={make} send={make.mutate}>
        <Text name="name" label="What the key is for" hidden placeholder="What it is for" maxLength={100} />
        <Choice name="scope" label="What it may do" hidden className="w-auto">
          {scopes.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </Choice>
        <Send verb={make} variant="outline-secondary" className="text-nowrap">
          Make a key
        </Send>
      </Fields>
    </section>
  )
}
