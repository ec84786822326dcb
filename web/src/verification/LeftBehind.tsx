import { Button } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { useCopy } from '../app/copy'
import { counted } from '../app/View'

// LeftBehind lists what did not come along when the listing was copied from another
// directory, each to copy.
export function LeftBehind({ listing: l }: { listing: Listing }) {
  const copy = useCopy()
  return (
    <section className="sheet">
      <h2>What did not come along</h2>
      <p className="second">
        Copied from {l.copied_from}; {counted(l.left_behind.length, 'value')} to add there by hand.
      </p>
      <ul className="plain-list">
        {l.left_behind.map((v) => (
          <li key={v.key} className="d-flex justify-content-between gap-2">
            <div>
              <b>{v.label}</b>
              <span className="given-value">{v.text.length > 120 ? v.text.slice(0, 110) + ' …' : v.text}</span>
              {v.tick && <span className="says">Tick “{v.tick}”, or nobody sees it.</span>}
            </div>
            <Button
              variant="link"
              size="sm"
              className="p-0 align-self-start"
              aria-label={`Copy ${v.label}`}
              onClick={() => void copy(v.label, v.text)}
            >
              Copy
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
