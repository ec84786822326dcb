import { Button } from 'react-bootstrap'
import { z } from 'zod'
import { api, told, type Schemas } from '../api/client'
import { counted } from '../app/View'
import { Choice, Fields, Send, useFields } from '../kit/form'
import { useVerb } from '../kit/verb'

type Person = Schemas['Person']

const heir = z.object({ to: z.string().min(1, 'Say who takes over.') })

// TakeOver ends what somebody may do, and gives what they held to another.
export function TakeOver({ person, others, onDone }: { person: Person; others: Person[]; onDone: () => void }) {
  const form = useFields(heir, { to: others[0]?.id ?? '' })
  const take = useVerb({
    does: (body: z.infer<typeof heir>) =>
      told(api.POST('/api/people/{person}/takeover', { params: { path: { person: person.id } }, body })),
    changes: 'all',
    then: onDone,
    says: (n) =>
      `${person.name} can no longer sign in; ${counted(n.accounts, 'account')} and ${counted(n.drafts, 'draft')} were taken over.`,
  })
  return (
    <>
      <p className="mb-1">
        {person.name} will no longer be able to sign in, and their keys end. The accounts on directories that they hold and what they left
        unsaved go to:
      </p>
      <Fields className="d-flex gap-2" form={form} verb={take} send={take.mutate}>
        <Choice name="to" label="Who takes over" hidden className="w-auto">
          {others.map((o) => (
            <option key={o.id} value={o.id}>
              {o.name}
            </option>
          ))}
        </Choice>
        <Send verb={take} variant="outline-secondary">
          Take over from {person.name}
        </Send>
        <Button variant="link" onClick={onDone}>
          Leave it
        </Button>
      </Fields>
    </>
  )
}
