import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { api, told } from '../api/client'
import { Send } from '../kit/form'
import { Do, Failed, useVerb } from '../kit/verb'
import { asked, type Doing } from './labels'

// CodeForm takes the code that came. What was typed is kept on the phone until it has been answered, whether or not there is a
// network meanwhile.
export function CodeForm({ first, ...d }: Doing & { first: boolean }) {
  const { thing: t, say, then } = d
  const kept = 'owner code ' + t.id
  const [code, setCode] = useState(() => localStorage.getItem(kept) ?? '')
  const type = (text: string) => {
    setCode(text)
    if (text) localStorage.setItem(kept, text)
    else localStorage.removeItem(kept)
  }
  const enter = useVerb({
    does: () => told(api.POST('/api/owner/{secret}/things/{thing}/code', { params: asked(d), body: { code } })),
    then: (after) => {
      type('')
      then(after)
    },
  })
  const instead = useVerb({
    does: (what: string) => told(api.POST('/api/owner/{secret}/things/{thing}/says', { params: asked(d), body: { what } })),
    then,
  })
  const field = `owner-code-${t.id}`
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault()
        enter.mutate()
      }}
    >
      <Failed error={enter.error ?? (t.said ? new Error(t.said) : null)} />
      <Form.Label htmlFor={field}>{say('code', { digits: t.digits })}</Form.Label>
      <div className="owner-entry">
        <Form.Control
          id={field}
          className="mono owner-code"
          inputMode="numeric"
          autoComplete="one-time-code"
          placeholder={'·'.repeat(t.digits)}
          value={code}
          onChange={(e) => type(e.target.value)}
          maxLength={20}
        />
        <Send
          verb={enter}
          running={say('sending')}
          variant={first ? 'primary' : 'outline-secondary'}
          disabled={code.replace(/\D/g, '').length !== t.digits}
        >
          {say('send_code')}
        </Send>
      </div>
      {enter.isPaused && <p className="owner-said">{say('offline')}</p>}
      {t.said && t.tries > 0 && <p className="second">{t.tries === 1 ? say('try') : say('tries', { count: t.tries })}</p>}
      {t.instead && (
        <p>
          <Do verb={instead} of={t.instead} variant="link" className="p-0 owner-link" running={say('sending')}>
            {say(t.instead)}
          </Do>
        </p>
      )}
      <Failed error={instead.error} />
    </Form>
  )
}
