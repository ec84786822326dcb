import { Button, FormSelect } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { api, Refusal, told, type Rec, type Schemas } from '../api/client'
import { useClient } from '../api/queries'
import { pathOf } from '../app/place'
import { counted, Pending } from '../app/View'
import { useVerb } from '../kit/verb'
import { blank } from './blank'
import { useDraft } from './draft'
import { Field, problemAt, TextField } from './Field'
import { RecordForm } from './RecordForm'

type Facts = Schemas['ClientFacts'] & { shared: Rec }

const nobody: Facts = { name: '', legal_name: '', owner_name: '', owner_email: '', language: 'en', shared: blank }

// ClientForm adds a client, or changes one: who owns it, and what it says for
// all its locations.
export function ClientForm() {
  const { client: id } = useParams()
  const client = useClient(id)
  if (id && !client.data) return <Pending error={client.error} />
  return <Form key={id} id={id} version={client.data?.version} before={client.data ?? nobody} />
}

function Form({ id, version, before }: { id?: string; version?: number; before: Facts }) {
  const { draft, keep, drop } = useDraft<{ version?: number; facts: Facts }>(id ? 'client ' + id : 'new client')
  const setFacts = (facts: Facts) => keep({ version: draft?.version ?? version, facts })
  const { name, legal_name, owner_name, owner_email, language, shared } = draft?.facts ?? before
  const facts: Facts = { name, legal_name, owner_name, owner_email, language, shared }
  const navigate = useNavigate()
  const put = (version: number, body: Facts) =>
    told(api.PUT('/api/clients/{client}', { params: { path: { client: id! }, query: { version } }, body }))
  const save = useVerb({
    does: () => (id ? put(draft?.version ?? version!, facts) : told(api.POST('/api/clients', { body: facts }))),
    changes: ['clients', 'client'],
    then: (c) => {
      drop()
      navigate(pathOf('record', { client: c.id }))
    },
    says: (c) => (id ? `The client is saved. ${counted(c.followed, 'location follows', 'locations follow')}.` : undefined),
    undo: async (c) => {
      await put(c.version, { ...before })
      return 'The client and its locations are as they were before.'
    },
  })
  const problems = save.error instanceof Refusal ? save.error.fields : []
  const owner = (key: 'owner_name' | 'owner_email') => ({
    value: facts[key],
    problem: problemAt(problems, key),
    onChange: (text: string) => setFacts({ ...facts, [key]: text }),
  })
  return (
    <RecordForm
      title={id ? `Edit ${before.name}` : 'Add a client'}
      says={
        id
          ? 'What is said here holds for all its locations, but where one says something of its own.'
          : 'A client is a business; its locations come next.'
      }
      record={{ ...facts.shared, name: facts.name, legal_name: facts.legal_name }}
      client={id ?? ''}
      error={save.error}
      pathsFrom="shared."
      onChange={(r) => setFacts({ ...facts, name: r.name, legal_name: r.legal_name, shared: r })}
      onSave={() => save.mutate()}
      acts={
        <>
          <Link className="btn btn-outline-secondary" to={id ? pathOf('record', { client: id }) : '/record'} onClick={drop}>
            Cancel
          </Link>
          <Button type="submit" disabled={save.isPending}>
            {id ? 'Save client' : 'Add client'}
          </Button>
        </>
      }
      notice={
        draft &&
        draft.version !== version && (
          <p className="note" role="alert">
            Somebody saved this client while you were editing it. What you typed is kept here.{' '}
            <Button variant="link" className="p-0 align-baseline" onClick={() => keep({ version, facts })}>
              Keep mine
            </Button>{' '}
            or{' '}
            <Button variant="link" className="p-0 align-baseline" onClick={drop}>
              load theirs
            </Button>
            .
          </p>
        )
      }
      head={
        <section className="sheet">
          <h2>The owner</h2>
          <p className="second">Who can read the post and pick up the phone.</p>
          <div className="fields">
            <TextField label="Owner’s name" width="w3" {...owner('owner_name')} />
            <TextField label="Owner’s email" width="w3" {...owner('owner_email')} />
            <Field label="Written to in" width="w2" problem={problemAt(problems, 'language')}>
              {(id, invalid) => (
                <FormSelect
                  id={id}
                  value={language ?? 'en'}
                  isInvalid={invalid}
                  onChange={(e) => setFacts({ ...facts, language: e.target.value as 'en' | 'fr' })}
                >
                  <option value="en">English</option>
                  <option value="fr">Français</option>
                </FormSelect>
              )}
            </Field>
          </div>
        </section>
      }
    />
  )
}
