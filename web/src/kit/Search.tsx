import { useEffect, useRef, useState } from 'react'
import { Form } from 'react-bootstrap'
import { useHotkeys } from 'react-hotkeys-hook'

// Search asks for rows by what they say, once typing pauses.
export function Search({ value, what = 'Search rows', onChange }: { value: string; what?: string; onChange: (v: string) => void }) {
  const [typed, setTyped] = useState(value)
  const field = useRef<HTMLInputElement>(null)
  useHotkeys('f', () => field.current?.focus(), { useKey: true, preventDefault: true })
  useEffect(() => {
    if (typed === value) return
    const timer = window.setTimeout(() => onChange(typed), 250)
    return () => clearTimeout(timer)
  }, [typed, value, onChange])
  return (
    <Form.Control
      ref={field}
      size="sm"
      type="search"
      placeholder={what + '  (f)'}
      aria-label={what}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
      onKeyDown={(e) => e.key === 'Escape' && field.current?.blur()}
    />
  )
}
