import { useState } from 'react'
import { Form, Modal } from 'react-bootstrap'
import { api, told, type Rec } from '../api/client'
import { useNow, useZone } from '../app/clock'
import { Do, Failed, useVerb } from '../kit/verb'

// FromDate lets what was typed take effect on a date instead of now.
export function FromDate({
  location,
  edit,
  show,
  onHide,
  onPlanned,
}: {
  location: string
  edit: { base: Rec; record: Rec }
  show: boolean
  onHide: () => void
  onPlanned: () => void
}) {
  const [on, setOn] = useState('')
  const now = useNow()
  const zone = useZone()
  const tomorrow = new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short' }).format(new Date(now.getTime() + 864e5))
  const plan = useVerb({
    does: () => told(api.POST('/api/locations/{location}/plans', { params: { path: { location } }, body: { on, edit } })),
    changes: ['plans'],
    then: () => {
      onHide()
      onPlanned()
    },
    says: () => 'The change waits for its date.',
  })
  return (
    <Modal show={show} onHide={onHide} centered>
      <Modal.Header closeButton>
        <Modal.Title as="h2">Change it from a date</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="second px-0">
          Until then the record stays as it is. The change takes effect as that day begins at the location; a fact that somebody changes
          meanwhile stays.
        </p>
        <Failed error={plan.error} />
        <Form.Label htmlFor="plan-on">Date</Form.Label>
        <Form.Control id="plan-on" type="date" min={tomorrow} value={on} onChange={(e) => setOn(e.target.value)} />
      </Modal.Body>
      <Modal.Footer>
        <Do verb={plan} of={undefined} disabled={!on}>
          Change it then
        </Do>
      </Modal.Footer>
    </Modal>
  )
}
