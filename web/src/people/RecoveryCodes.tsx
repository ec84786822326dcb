import { Button } from 'react-bootstrap'
import { useCopy } from '../app/copy'

// RecoveryCodes are shown now and never again.
export function RecoveryCodes({ codes }: { codes: string[] }) {
  const copy = useCopy()
  return (
    <div className="note mx-3">
      <p className="mb-1">
        Keep these now; they are told once. Each signs you in one time where the app or the passkey is lost.{' '}
        <Button variant="link" className="p-0" onClick={() => void copy('The codes', codes.join('\n'))}>
          Copy
        </Button>
      </p>
      <ul className="codes mono">
        {codes.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
    </div>
  )
}
