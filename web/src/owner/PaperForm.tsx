import { useRef, useState, type ReactNode } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told } from '../api/client'
import { upload } from '../app/upload'
import { Send } from '../kit/form'
import { Do, Failed, useVerb } from '../kit/verb'
import { asked, pathTo, type Doing, type Page } from './labels'

// PaperForm takes a paper. One that is likely to be minded keeps its place: why, what the directory would do, and the ways out,
// which are another paper or a word to whoever asked.
export function PaperForm({ first, judged, ...d }: Doing & { first: boolean; judged?: ReactNode }) {
  const { thing: t, say, then } = d
  const [file, setFile] = useState<File>()
  const [part, setPart] = useState(0)
  const [again, setAgain] = useState(false)
  const field = useRef<HTMLInputElement>(null)
  const give = useVerb({
    does: (f: File) => upload<Page>(pathTo(d, 'paper'), {}, f, setPart),
    then: (after) => {
      setAgain(false)
      setFile(undefined)
      if (field.current) field.current.value = ''
      then(after)
    },
  })
  const claim = useVerb({
    does: (what: string) => told(api.POST('/api/owner/{secret}/things/{thing}/says', { params: asked(d), body: { what } })),
    then,
  })
  const id = `owner-paper-${t.id}`
  return (
    <>
      {judged}
      {judged && !again && (
        <div className="owner-choices">
          <Button variant="outline-secondary" onClick={() => setAgain(true)}>
            {say('send_another')}
          </Button>
          {!t.sent?.says &&
            (t.sent?.claims ?? []).map((c) => (
              <Do key={c} verb={claim} of={c} variant="outline-secondary" running={say('sending')}>
                {c}
              </Do>
            ))}
        </div>
      )}
      <Failed error={claim.error} />
      {(!judged || again) && (
        <Form
          onSubmit={(e) => {
            e.preventDefault()
            if (file) give.mutate(file)
          }}
        >
          <Failed error={give.error} />
          <Form.Label htmlFor={id}>{say('paper')}</Form.Label>
          <Form.Control
            ref={field}
            id={id}
            type="file"
            accept="application/pdf,image/jpeg,image/png,image/webp"
            onChange={(e) => setFile((e.target as HTMLInputElement).files?.[0])}
          />
          <Send
            verb={give}
            running={say('sending_part', { part: Math.round(100 * part) })}
            variant={first ? 'primary' : 'outline-secondary'}
            disabled={!file}
          >
            {say('send_paper')}
          </Send>
        </Form>
      )}
    </>
  )
}
