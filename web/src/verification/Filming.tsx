import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import type { Listing, Schemas } from '../api/client'
import { FilmForm, ours, Shots } from '../owner/FilmForm'

// Filming is the shot list for this location, and where its video is taken in.
export function Filming({ listing: l }: { listing: Listing }) {
  const queries = useQueryClient()
  const [bringing, setBringing] = useState(false)
  const f = l.filming
  if (!f) return null
  return (
    <section className="sheet mt-3 filming" aria-label="Video">
      <div className="sheet-head">
        <h2>Video</h2>
        <span className="second no-print">
          {f.file_name
            ? `${f.file_name}, ${Math.round(f.seconds ?? 0)} seconds; ${f.doubts.length === 0 ? 'ready to be sent' : 'not ready'}`
            : `one take of up to ${f.most_seconds} seconds; none yet`}
        </span>
      </div>
      {f.doubts.length > 0 && (
        <ul className="wrong mx-3">
          {f.doubts.map((d) => (
            <li key={d}>{d}</li>
          ))}
        </ul>
      )}
      <details open={!f.file_name}>
        <summary>What to film</summary>
        <Shots shots={f.shots} />
        <p className="no-print">
          <Button variant="outline-secondary" size="sm" onClick={() => window.print()}>
            Print the list
          </Button>
        </p>
      </details>
      <details onToggle={(e) => setBringing(e.currentTarget.open)}>
        <summary>{f.file_name ? 'Bring in another video' : 'Bring in the video'}</summary>
        {bringing && (
          <FilmForm<Schemas['Paper']>
            path={`/api/locations/${l.row.location}/videos`}
            shots={f.shots}
            say={ours}
            then={() => void queries.invalidateQueries({ queryKey: ['listing', l.row.location, l.row.directory] })}
          />
        )}
      </details>
    </section>
  )
}
