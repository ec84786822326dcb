import { z } from 'zod'
import { api, told } from '../api/client'
import { Fields, Send, Text, useFields } from '../kit/form'
import { Do, useVerb } from '../kit/verb'

const clock = (minute: number) => `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`

const daily = z.object({ time: z.string().regex(/^\d\d:\d\d$/, 'Give a time, such as 07:30.') })

// minuteOf is a time of day in minutes after midnight.
function minuteOf(time: string): number {
  const [h = 0, m = 0] = time.split(':').map(Number)
  return h * 60 + m
}

// Digest is when one is written to.
export function Digest({ minute, zone }: { minute?: number; zone: string }) {
  const form = useFields(daily, { time: clock(minute ?? 450) })
  const put = (to: number | undefined) => told(api.PUT('/api/digest', { body: { minute: to } }))
  const set = useVerb({
    does: put,
    changes: ['session'],
    says: (_, to) => (to === undefined ? 'You are not written to any more.' : `You are written to at ${clock(to)}, on days with news.`),
    undo: async () => {
      await put(minute)
    },
  })
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>The day by email</h2>
        <span className="second">{minute === undefined ? 'never' : `at ${clock(minute)}`}</span>
      </div>
      <p>What only you can move, once a day, when something has changed. By the clock of {zone.split('/').at(-1)?.replaceAll('_', ' ')}.</p>
      <Fields className="d-flex gap-2" form={form} verb={set} send={({ time }) => set.mutate(minuteOf(time))}>
        <Text name="time" label="At what time" hidden type="time" className="w-auto mono" />
        <Send verb={set} variant="outline-secondary">
          {minute === undefined ? 'Write to me' : 'Change'}
        </Send>
        {minute !== undefined && (
          <Do verb={set} of={undefined} variant="link">
            Never
          </Do>
        )}
      </Fields>
    </section>
  )
}
