import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, Refusal, told, type ListingRow } from '../api/client'
import { useNow } from '../app/clock'
import { useSay } from '../app/say'

const DAY = 86_400_000

// PutOff puts a task off for some days, and asks why.
export function PutOff({ row, onDone }: { row: ListingRow; onDone: () => void }) {
  const now = useNow()
  const say = useSay()
  const queries = useQueryClient()
  const [days, setDays] = useState(3)
  const [reason, setReason] = useState('')
  const path = { location: row.location, directory: row.directory }
  const off = useMutation({
    mutationFn: () =>
      told(
        api.PUT('/api/listings/{location}/{directory}/snooze', {
          params: { path },
          body: { act: row.task!.act, until: new Date(now.getTime() + days * DAY).toISOString(), reason },
        }),
      ),
    onSuccess: () => {
      onDone()
      void queries.invalidateQueries()
      say(`${row.label} on ${row.directory_name} is put off.`, () => {
        void told(api.DELETE('/api/listings/{location}/{directory}/snooze', { params: { path } })).then(() => queries.invalidateQueries())
      })
    },
  })
  return (
    <form
      className="put-off-form"
      onSubmit={(e) => {
        e.preventDefault()
        off.mutate()
      }}
    >
      <Form.Select size="sm" className="w-auto" aria-label="For how long" value={days} onChange={(e) => setDays(+e.target.value)}>
        {[1, 3, 7, 14, 30].map((d) => (
          <option key={d} value={d}>
            {d === 1 ? 'a day' : `${d} days`}
          </option>
        ))}
      </Form.Select>
      <Form.Control
        size="sm"
        autoFocus
        required
        maxLength={500}
        aria-label="Why"
        placeholder="Why"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && onDone()}
      />
      <Button type="submit" size="sm" variant="outline-secondary" className="text-nowrap" disabled={off.isPending}>
        Put off
      </Button>
      <Button size="sm" variant="link" onClick={onDone}>
        Leave it
      </Button>
      {off.error && (
        <span className="wrong mb-0" role="alert">
          {off.error instanceof Refusal && off.error.fields[0] ? off.error.fields[0].message : off.error.message}
        </span>
      )}
    </form>
  )
}
