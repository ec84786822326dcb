import { useQueryClient } from '@tanstack/react-query'
import { api, told, type Listing } from '../api/client'
import { useTimes } from '../app/clock'
import { Needs } from '../app/Needs'
import { Answer } from './Answer'
import { Do, Failed, useVerb } from '../kit/verb'
import { useListingVerb } from './verbs'

// FromStaff is what the directory's staff have written to what they were asked, where a person has to say what it means.
export function FromStaff({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const at = useTimes(l.row.zone)
  const f = l.from_staff
  if (!f) return null
  return (
    <section className="sheet next">
      <h2>{l.row.directory_name} has written</h2>
      <p>It came {at(f.at)}, and does not say plainly how it stands.</p>
      <blockquote className="letter">{f.says}</blockquote>
      <Answer listing={l} options={['taken_in', 'refused']} verb={verb} />
      <p>
        <Do verb={verb} of={{ do: 'read' }} running="Noting it" variant="outline-secondary">
          It is no answer yet
        </Do>
      </p>
    </section>
  )
}

// FromOwner is what the owner has sent and nobody has seen yet, and what speaks against it.
export function FromOwner({ listing: l }: { listing: Listing }) {
  const verb = useListingVerb(l)
  const at = useTimes(l.row.zone)
  const f = l.from_owner
  const queries = useQueryClient()
  const enter = useVerb({
    does: (code: string) =>
      told(
        api.PUT('/api/listings/{location}/{directory}/codes/{attempt}', {
          params: { path: { location: l.row.location, directory: l.row.directory, attempt: l.row.attempt?.id ?? '' } },
          body: { code },
        }),
      ),
    then: (after) => queries.setQueryData(['listing', l.row.location, l.row.directory], after),
  })
  if (!f) return null
  return (
    <section className="sheet next">
      <h2>From the owner: {f.says ? `“${f.says}”` : f.what}</h2>
      <p>
        {f.says ? 'Said' : 'Sent'} {at(f.at)}.{' '}
        {f.says && f.doubts.length === 0
          ? ''
          : f.doubts.length === 0
            ? 'Nothing that we can read speaks against it.'
            : 'When it came, this spoke against it:'}
      </p>
      {f.doubts.length > 0 && (
        <ul className="wrong mx-3 list-unstyled">
          {f.doubts.map((d) => (
            <li key={d}>{d}</li>
          ))}
        </ul>
      )}
      {f.doubts.length > 0 && !f.says && <p className="second">The owner was told so, and may send another on the same page.</p>}
      {f.letter && <blockquote className="letter">{f.letter}</blockquote>}
      <Failed error={verb.error ?? enter.error} />
      <p className="d-flex flex-wrap gap-2">
        {f.code && l.row.attempt && (
          <Needs what="send">
            <Do verb={enter} of={f.code} running="Submitting">
              Enter {f.code}
            </Do>
          </Needs>
        )}
        <Do verb={verb} of={{ do: 'seen' }} running="Noting it" variant="outline-secondary">
          I have seen it
        </Do>
      </p>
    </section>
  )
}
