import { Button } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { useCopy } from '../app/copy'

// Chase is what to write to a directory that is late, to paste into its form or an email.
export function Chase({ listing: l }: { listing: Listing }) {
  const copy = useCopy()
  if (!l.chase) return null
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Write to {l.row.directory_name}</h2>
        <Button variant="link" className="p-0" onClick={() => void copy('The text', l.chase!)}>
          Copy
        </Button>
      </div>
      <p className="said-text">{l.chase}</p>
    </section>
  )
}
