import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { api, Refusal, told, type Schemas } from '../api/client'
import { useClient } from '../api/queries'
import { pathOf } from '../app/place'
import { Pending, ViewHead } from '../app/View'
import { problemAt, TextField } from './Field'

const nobody: Schemas['ClientFacts'] = { name: '', legal_name: '', owner_name: '', owner_email: '' }

// ClientForm adds a client, or changes one.
export function ClientForm() {
  const { client: id } = useParams()
  const client = useClient(id)
  if (id && !client.data) return <Pending error={client.error} />
  return <Form key={id} id={id} version={client.data?.version} before={client.data ?? nobody} />
}

function Form({ id, version, before }: { id?: string; version?: number; before: Schemas['ClientFacts'] }) {
  const [facts, setFacts] = useState<Schemas['ClientFacts']>({
    name: before.name,
    legal_name: before.legal_name,
    owner_name: before.owner_name,
    owner_email: before.owner_email,
  })
  const navigate = useNavigate()
  const queries = useQueryClient()
  const save = useMutation({
    mutationFn: () =>
      id
        ? told(api.PUT('/api/clients/{client}', { params: { path: { client: id }, query: { version: version! } }, body: facts }))
        : told(api.POST('/api/clients', { body: facts })),
    onSuccess: async (c) => {
      await queries.invalidateQueries()
      navigate(pathOf('record', { client: c.id }))
    },
  })
  const problems = save.error instanceof Refusal ? save.error.fields : []
  const set = (key: keyof typeof facts) => (text: string) => setFacts({ ...facts, [key]: text })
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        save.mutate()
      }}
    >
      <ViewHead title={id ? `Edit ${before.name}` : 'Add a client'} says="A client is a business; its locations come next.">
        <Link className="btn btn-outline-secondary" to={id ? pathOf('record', { client: id }) : '/record'}>
          Cancel
        </Link>
        <Button type="submit" disabled={save.isPending}>
          {id ? 'Save client' : 'Add client'}
        </Button>
      </ViewHead>
      {save.error && (
        <p className="wrong" role="alert">
          {save.error.message}
        </p>
      )}
      <section className="sheet" style={{ maxWidth: 760 }}>
        <h2>The business</h2>
        <div className="fields">
          <TextField label="Trading name" width="w3" value={facts.name} onChange={set('name')} problem={problemAt(problems, 'name')} />
          <TextField
            label="Legal name"
            width="w3"
            value={facts.legal_name}
            onChange={set('legal_name')}
            problem={problemAt(problems, 'legal_name')}
          />
          <TextField
            label="Owner’s name"
            width="w3"
            value={facts.owner_name}
            onChange={set('owner_name')}
            problem={problemAt(problems, 'owner_name')}
            help="Who can read the post and pick up the phone."
          />
          <TextField
            label="Owner’s email"
            width="w3"
            value={facts.owner_email}
            onChange={set('owner_email')}
            problem={problemAt(problems, 'owner_email')}
          />
        </div>
      </section>
    </form>
  )
}
