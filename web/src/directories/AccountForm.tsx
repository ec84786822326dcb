import { Button } from 'react-bootstrap'
import { useWatch } from 'react-hook-form'
import { z } from 'zod'
import type { Schemas } from '../api/client'
import { Choice, Fields, Send, Text, Tick, useFields } from '../kit/form'
import { useVerb } from '../kit/verb'

export type AccountFacts = Schemas['AccountFacts']

const schema = z.object({
  directory: z.string().min(1, 'Say which directory it is for.'),
  email: z.string().trim(),
  holder: z.string().trim(),
  person: z.string().optional(),
  class: z.string(),
  note: z.string(),
  confirmed: z.boolean(),
  personal: z.boolean(),
  gone: z.boolean(),
})

// factsOf are what is kept of an account, without what is reckoned of it.
export const factsOf = ({ directory, email, holder, person, class: of, confirmed, personal, note, gone }: AccountFacts): AccountFacts => ({
  directory,
  email,
  holder,
  person,
  class: of,
  confirmed,
  personal,
  note,
  gone,
})

// AccountForm adds an account to the register, or changes one.
export function AccountForm({
  facts,
  directories,
  fixed,
  keep,
  onDone,
}: {
  facts: AccountFacts
  directories: Schemas['Directory'][]
  fixed?: boolean // its directory cannot be changed
  keep: (f: AccountFacts) => Promise<Schemas['Account']>
  onDone: () => void
}) {
  const form = useFields(schema, facts)
  const directory = useWatch({ control: form.control, name: 'directory' })
  const classes = directories.find((d) => d.id === directory)?.classes ?? []
  const save = useVerb({ does: keep, changes: ['accounts'], then: onDone, says: (a) => `${a.email} is kept.` })
  const send = (f: AccountFacts) => save.mutate({ ...f, class: classes.includes(f.class) ? f.class : '' })
  return (
    <Fields className="account-form" form={form} verb={save} send={send}>
      <div className="in-three">
        <Choice name="directory" label="Directory" disabled={fixed}>
          {directories.map((d) => (
            <option key={d.id} value={d.id}>
              {d.name}
            </option>
          ))}
        </Choice>
        <Text name="email" label="Email it signs in with" maxLength={200} />
        <Text name="holder" label="Who can sign in" maxLength={200} />
      </div>
      <div className="in-three">
        {classes.length > 0 && (
          <Choice name="class" label="Class">
            <option value="">not known</option>
            {classes.map((c) => (
              <option key={c}>{c}</option>
            ))}
          </Choice>
        )}
        <Text name="note" label="Note" maxLength={1000} />
      </div>
      <Tick name="confirmed" label="Its email is confirmed" />
      <Tick name="personal" label="A person’s own account stands behind it" />
      <Tick name="gone" label="Its holder has left, and nobody else can sign in" />
      <div className="mt-2">
        <Send verb={save}>Keep the account</Send>{' '}
        <Button variant="outline-secondary" onClick={onDone}>
          Leave it
        </Button>
      </div>
    </Fields>
  )
}
