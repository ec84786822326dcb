import { Button } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { dateWords, useTimes } from '../app/clock'
import { WindowBar } from '../marks/WindowBar'
import { Answer } from './Answer'
import { useListingVerb } from './verbs'

// BringThere leads to the worksheet.
export function BringThere({ listing: l, onWorksheet }: { listing: Listing; onWorksheet: () => void }) {
  const written = l.worked === 'written'
  return (
    <section className="sheet next">
      <h2>{written ? 'Write to their staff' : `Bring it to ${l.row.directory_name}`}</h2>
      {l.trouble && <p className="wrong mx-3">{l.trouble}</p>}
      <p>
        {written
          ? 'Its staff enter everything. The letter is written; read it, and send it.'
          : 'The worksheet has every value in the order of its form. A key copies each.'}
      </p>
      <p>
        <Button onClick={onWorksheet}>{written ? 'Read the letter' : 'Open the worksheet'}</Button>
      </p>
    </section>
  )
}

// AwaitStaff waits for a directory's people to answer.
export function AwaitStaff({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const at = useTimes(l.row.zone)
  const late = l.answer_by?.state === 'late'
  return (
    <section className={'sheet' + (late ? ' next' : '')}>
      <h2>{late ? 'They should have answered' : 'With their staff'}</h2>
      <p>
        Given {l.given_at && at(l.given_at)}.{' '}
        {l.answer_by &&
          (late ? `Their answer was due by ${dateWords(l.answer_by.latest)}.` : `They answer by ${dateWords(l.answer_by.latest)}.`)}
      </p>
      {l.answer_by && (
        <div className="px-3 attempt-bar">
          <WindowBar window={l.answer_by} />
        </div>
      )}
      {!l.from_staff && <Answer listing={l} options={['taken_in', 'refused']} verb={verb} />}
    </section>
  )
}

// CodeThere waits for a code that is entered on the directory's own pages.
export function CodeThere({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const at = useTimes(l.row.zone)
  const a = l.row.attempt!
  return (
    <section className="sheet next">
      <h2>Enter the code there</h2>
      <p>
        {a.digits} digits, by {a.title.toLowerCase()} to {a.to}. Enter it on {l.row.directory_name}’s own page, then say how it went.
        {a.expires && ` It stops working ${at(a.expires)}.`}
      </p>
      {a.window && (
        <div className="px-3 attempt-bar">
          <WindowBar window={a.window} />
        </div>
      )}
      <Answer listing={l} options={['verified', 'refused']} verb={verb} />
    </section>
  )
}
