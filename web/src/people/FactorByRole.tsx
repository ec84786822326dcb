import { useQuery } from '@tanstack/react-query'
import { Form } from 'react-bootstrap'
import { api, told } from '../api/client'
import { Failed, useVerb } from '../kit/verb'
import { roles, type Role } from './roles'

// FactorByRole says of which roles a second factor is asked.
export function FactorByRole() {
  const found = useQuery({ queryKey: ['security'], queryFn: () => told(api.GET('/api/security')) })
  const asked = found.data?.second_factor ?? []
  const save = useVerb({
    does: (second_factor: Role[]) => told(api.PUT('/api/security', { body: { second_factor } })),
    changes: ['security', 'session'],
    says: (_, of) => (of.length === 0 ? 'A second factor is asked of nobody.' : `A second factor is asked of: ${of.join(', ')}.`),
    undo: async () => void (await told(api.PUT('/api/security', { body: { second_factor: asked } }))),
  })
  return (
    <section className="sheet">
      <h2>Who takes a second factor</h2>
      <p className="second">Whoever has none can do nothing else before they have set one up.</p>
      <Failed error={found.error ?? save.error} />
      <div className="d-flex gap-4 body pb-2">
        {roles.map(([id]) => (
          <Form.Check
            key={id}
            id={'factor-' + id}
            label={id}
            checked={asked.includes(id)}
            disabled={!found.data || save.isPending}
            onChange={(e) => save.mutate(e.target.checked ? [...asked, id] : asked.filter((r) => r !== id))}
          />
        ))}
      </div>
    </section>
  )
}
