import { api, told } from '../api/client'
import { Do, Failed, useVerb } from '../kit/verb'
import { asked, type Doing } from './labels'

// PayForm takes the word of an owner that a card of theirs may be charged.
export function PayForm({ first, ...d }: Doing & { first: boolean }) {
  const { thing: t, say, then } = d
  const pay = useVerb({
    does: () => told(api.POST('/api/owner/{secret}/things/{thing}/payment', { params: asked(d) })),
    then,
  })
  return (
    <>
      <Failed error={pay.error} />
      <p>
        <Do verb={pay} of={undefined} variant={first ? 'primary' : 'outline-secondary'} running={say('sending')}>
          {say('pay', { amount: t.amount })}
        </Do>
      </p>
    </>
  )
}
