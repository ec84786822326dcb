import { useQuery } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Listing, type Schemas } from '../api/client'
import { Needs } from '../app/Needs'
import { pathOf } from '../app/place'
import { counted, Pending } from '../app/View'
import { Failed } from '../kit/verb'
import { Finish, Letter } from './Finish'
import { Lines, type Line } from './Lines'
import { useTicks } from './ticks'

type Sheet = Schemas['Worksheet']

// Worksheet lays out the values for a directory that people work on, in the order of
// its form: c copies the one that is marked, ticks it and goes on to the next.
export function Worksheet({ listing: l, onGiven }: { listing: Listing; onGiven: () => void }) {
  const path = { location: l.row.location, directory: l.row.directory }
  const sheet = useQuery({
    queryKey: ['worksheet', path.location, path.directory],
    queryFn: () => told(api.GET('/api/listings/{location}/{directory}/worksheet', { params: { path } })),
  })
  const { tick, error, shown } = useTicks(l.row.location, l.row.directory)
  if (!sheet.data) return <Pending error={sheet.error} />
  return (
    <Sheets
      sheet={shown(sheet.data)}
      listing={l}
      error={error}
      onTick={(x, given) => tick({ value: { key: x.value.key, text: x.value.text, given } })}
      onPage={(page) => tick({ page })}
      onGiven={onGiven}
    />
  )
}

type LaidOut = {
  sheet: Sheet
  listing: Listing
  error: Error | null
  onTick: (line: Line, given: boolean) => void
  onPage: (page: string) => void
  onGiven: () => void
}

function Sheets({ sheet: s, listing: l, error, onTick, onPage, onGiven }: LaidOut) {
  const blocked = s.missing.some((m) => m.required)
  return (
    <div className="worksheet">
      <div className="sheet-head">
        <p className="second m-0">
          {s.lines.filter((x) => x.given).length} of {counted(s.lines.length, 'value')} given.{' '}
          <span className="no-print">
            <kbd>c</kbd> copies the marked one and goes on, <kbd>x</kbd> ticks it, <kbd>j</kbd> <kbd>k</kbd> move.
          </span>
        </p>
        <span className="no-print">
          {s.page && (
            <a className="btn btn-outline-secondary me-2" href={s.page} target="_blank" rel="noreferrer">
              Open {s.directory_name}
            </a>
          )}
          <Button variant="outline-secondary" onClick={() => window.print()}>
            Print
          </Button>
        </span>
      </div>
      <Failed error={error} />
      {blocked && <Blocking sheet={s} location={l.row.location} />}
      <Lines label={`Values for ${s.directory_name}`} lines={s.lines} onTick={onTick} />
      <Needs what="send">
        {' '}
        {s.letter ? (
          <Letter sheet={s} listing={l} blocked={blocked} onGiven={onGiven} />
        ) : (
          <Finish sheet={s} listing={l} blocked={blocked} onPage={onPage} onGiven={onGiven} />
        )}
      </Needs>
    </div>
  )
}

// Blocking is what the record lacks, before anything can be brought there.
function Blocking({ sheet: s, location }: { sheet: Sheet; location: string }) {
  return (
    <section className="sheet">
      <h2>Before it can be brought there</h2>
      <ul className="plain-list">
        {s.missing
          .filter((m) => m.required)
          .map((m) => (
            <li key={m.key}>
              <b>{m.title}</b>
              <span>
                {m.says} <Link to={pathOf('record', { location }) + '#' + m.part}>Fill in</Link>
              </span>
            </li>
          ))}
      </ul>
    </section>
  )
}
