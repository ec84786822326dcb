import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { readSittings, type Sitting } from '../record/parts/week'

// OtherHours takes hours of one date as people type them.
export function OtherHours({ label, onHours, onCancel }: { label: string; onHours: (s: Sitting[]) => void; onCancel: () => void }) {
  const [text, setText] = useState('')
  const read = readSittings(text)
  return (
    <div
      className="other-hours"
      onKeyDown={(e) => {
        if (e.key === 'Escape') onCancel()
        if (e.key === 'Enter') {
          e.preventDefault()
          if (read) onHours(read)
        }
      }}
    >
      <Form.Control
        autoFocus
        size="sm"
        aria-label={label}
        placeholder="10-16, 18-20"
        value={text}
        isInvalid={text.length > 3 && !read}
        onChange={(e) => setText(e.target.value)}
      />
      <Button variant="outline-secondary" size="sm" disabled={!read} onClick={() => read && onHours(read)}>
        Set
      </Button>
      <Button variant="link" size="sm" onClick={onCancel}>
        Cancel
      </Button>
    </div>
  )
}
