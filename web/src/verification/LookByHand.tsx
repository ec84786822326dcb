import { Form } from 'react-bootstrap'
import { useWatch } from 'react-hook-form'
import { z } from 'zod'
import type { Listing } from '../api/client'
import { Fields, Send, Text, useFields } from '../kit/form'
import { useListingVerb, type Found } from './verbs'

const options: [Found, string][] = [
  ['nothing', 'Nothing like it'],
  ['free', 'It is there, and nobody’s'],
  ['ours', 'It is there, and ours already'],
  ['held_by_another', 'It is there, and somebody else holds it'],
]

const looked = z.object({
  what: z.enum(['nothing', 'free', 'ours', 'held_by_another']),
  page: z.string().trim().max(500),
  holder: z.string().trim().max(200),
})

// LookByHand records what a person found on a directory that no program can search.
export function LookByHand({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const form = useFields(looked, { what: 'nothing', page: '', holder: '' })
  const what = useWatch({ control: form.control, name: 'what' })
  const send = ({ what, page, holder }: z.infer<typeof looked>) =>
    verb.mutate({
      do: 'found',
      what,
      page: (what !== 'nothing' && page) || undefined,
      heldBy: (what === 'held_by_another' && holder) || undefined,
    })
  return (
    <section className="sheet next">
      <h2>Look for it first</h2>
      <p>
        {l.row.directory_name} may have {l.row.label} already, under an old name or address. Look there by name, phone and address, then say
        what you found.
      </p>
      {l.home && (
        <p>
          <a className="btn btn-outline-secondary" href={l.home} target="_blank" rel="noreferrer">
            Open {l.row.directory_name}
          </a>
        </p>
      )}
      <Fields className="px-3 pb-3" form={form} verb={verb} send={send}>
        {options.map(([id, words]) => (
          <Form.Check key={id} type="radio" id={'found-' + id} label={words} value={id} {...form.register('what')} />
        ))}
        {what !== 'nothing' && <Text name="page" label="Address of its page" maxLength={500} />}
        {what === 'held_by_another' && <Text name="holder" label="Who holds it, as far as it shows" maxLength={200} />}
        <Send verb={verb} className="mt-2">
          Keep what I found
        </Send>
      </Fields>
    </section>
  )
}
