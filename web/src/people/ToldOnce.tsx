import { Button } from 'react-bootstrap'
import { useCopy } from '../app/copy'

// ToldOnce is a secret that is shown now and never again.
export function ToldOnce({ before, text, what }: { before: string; text: string; what: string }) {
  const copy = useCopy()
  return (
    <p className="note mx-3">
      {before} <span className="mono text-break">{text}</span>{' '}
      <Button variant="link" className="p-0" onClick={() => void copy(what, text)}>
        Copy
      </Button>
    </p>
  )
}
