import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { z } from 'zod'
import type { Listing } from '../api/client'
import { Fields, Send, Text, useFields } from '../kit/form'
import { Failed } from '../kit/verb'
import type { useListingVerb } from './verbs'

const answers = {
  taken_in: 'They have taken it in',
  verified: 'It is verified there',
  refused: 'They said no',
  public: 'It shows',
  not_public: 'It does not show',
}

type What = keyof typeof answers

const heard = z.object({ text: z.string().trim().max(500) })

// Answer records what the directory answered to a person.
export function Answer({ listing: l, options, verb }: { listing: Listing; options: What[]; verb: ReturnType<typeof useListingVerb> }) {
  const form = useFields(heard, { text: '' })
  const [open, setOpen] = useState<What>()
  const asksPage = open === 'taken_in' && !l.page
  const send = ({ text }: z.infer<typeof heard>) => {
    verb.mutate(
      { do: 'answered', what: open!, page: (asksPage && text) || undefined, says: (!asksPage && text) || undefined },
      { onSuccess: () => setOpen(undefined) },
    )
  }
  return (
    <div className="px-3 pb-3">
      {!open && <Failed error={verb.error} />}
      {options.map((o) => (
        <Button
          key={o}
          variant="outline-secondary"
          className="me-2 mb-2"
          aria-pressed={open === o}
          disabled={verb.isPending}
          onClick={() => (o === 'refused' || (o === 'taken_in' && !l.page) ? setOpen(o) : verb.mutate({ do: 'answered', what: o }))}
        >
          {answers[o]}
        </Button>
      ))}
      {open && (
        <Fields form={form} verb={verb} send={send}>
          <Text name="text" label={asksPage ? 'Address of its page there' : 'What they said'} maxLength={500} />
          <Send verb={verb} variant="outline-secondary" className="mt-2">
            Keep it
          </Send>
        </Fields>
      )}
    </div>
  )
}
