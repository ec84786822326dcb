import { Button } from 'react-bootstrap'
import { z } from 'zod'
import { api, told, type ListingRow } from '../api/client'
import { useNow } from '../app/clock'
import { Choice, Fields, Send, Text, useFields } from '../kit/form'
import { useVerb } from '../kit/verb'

const DAY = 86_400_000

const putOff = z.object({
  days: z.string(),
  reason: z.string().trim().min(1, 'Say why, for whoever looks at it next.').max(500),
})

// PutOff puts a task off for some days, and asks why.
export function PutOff({ row, onDone }: { row: ListingRow; onDone: () => void }) {
  const now = useNow()
  const form = useFields(putOff, { days: '3', reason: '' })
  const params = { path: { location: row.location, directory: row.directory } }
  const off = useVerb({
    does: ({ days, reason }: z.infer<typeof putOff>) =>
      told(
        api.PUT('/api/listings/{location}/{directory}/snooze', {
          params,
          body: { act: row.task!.act, until: new Date(now.getTime() + +days * DAY).toISOString(), reason },
        }),
      ),
    changes: 'all',
    then: onDone,
    says: () => `${row.label} on ${row.directory_name} is put off.`,
    undo: async () => {
      await told(api.DELETE('/api/listings/{location}/{directory}/snooze', { params }))
      return `${row.label} on ${row.directory_name} is taken up again.`
    },
  })
  return (
    <Fields className="put-off-form" form={form} verb={off} send={off.mutate}>
      <Choice name="days" label="For how long" hidden size="sm" className="w-auto">
        {[1, 3, 7, 14, 30].map((d) => (
          <option key={d} value={d}>
            {d === 1 ? 'a day' : `${d} days`}
          </option>
        ))}
      </Choice>
      <Text
        name="reason"
        label="Why"
        hidden
        size="sm"
        autoFocus
        maxLength={500}
        placeholder="Why"
        onKeyDown={(e) => e.key === 'Escape' && onDone()}
      />
      <Send verb={off} size="sm" variant="outline-secondary" className="text-nowrap">
        Put off
      </Send>
      <Button size="sm" variant="link" onClick={onDone}>
        Leave it
      </Button>
    </Fields>
  )
}
