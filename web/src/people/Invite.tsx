import { useWatch } from 'react-hook-form'
import { z } from 'zod'
import { api, told } from '../api/client'
import { useClients } from '../api/queries'
import { Choice, Fields, Send, Text, useFields } from '../kit/form'
import { useVerb } from '../kit/verb'
import { roles } from './roles'
import { ToldOnce } from './ToldOnce'
import { canBeLimited, WhichClients } from './WorksFor'

const invitation = z
  .object({
    email: z.email('Give an email address, such as ada@office.example.').max(200),
    role: z.enum(['administrator', 'specialist', 'helper', 'client']),
    client: z.string(),
    clients: z.array(z.string()).optional(),
  })
  .refine((i) => i.role !== 'client' || i.client !== '', { path: ['client'], message: 'Choose whose locations they may see.' })
  .refine((i) => !canBeLimited(i.role) || i.clients?.length !== 0, {
    path: ['role'],
    message: 'Choose at least one client, or all of them.',
  })

// Invite asks somebody to join, with what they may do.
export function Invite() {
  const clients = useClients()
  const form = useFields(invitation, { email: '', role: 'specialist', client: '', clients: undefined })
  const [role, some] = useWatch({ control: form.control, name: ['role', 'clients'] })
  const invite = useVerb({
    does: ({ email, role, client, clients }: z.infer<typeof invitation>) =>
      told(
        api.POST('/api/invitations', {
          body: { email, role, client: role === 'client' ? client : undefined, clients: canBeLimited(role) ? clients : undefined },
        }),
      ),
    changes: ['people'],
    then: (_, sent) => form.reset({ ...sent, email: '' }),
    says: (i) => `${i.email} has been written to.`,
  })
  return (
    <section className="sheet">
      <h2>Invite somebody</h2>
      <Fields className="invite" form={form} verb={invite} send={invite.mutate}>
        <Text name="email" label="Email" type="email" />
        <Choice name="role" label="Role">
          {roles.map(([id, does]) => (
            <option key={id} value={id}>
              {id}: {does}
            </option>
          ))}
        </Choice>
        {role === 'client' && (
          <Choice name="client" label="Of which client">
            <option value="">Choose</option>
            {clients.data?.map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
          </Choice>
        )}
        {canBeLimited(role) && (
          <WhichClients value={some} onChange={(to) => form.setValue('clients', to, { shouldValidate: form.formState.isSubmitted })} />
        )}
        <Send verb={invite} variant="outline-secondary" running="Sending">
          Send invitation
        </Send>
      </Fields>
      {invite.data?.address && (
        <ToldOnce before="Or give them this address, which is told once:" text={invite.data.address} what="The address" />
      )}
    </section>
  )
}
