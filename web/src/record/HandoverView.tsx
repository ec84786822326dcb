import { useQuery } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useClients } from '../api/queries'
import { useCopy } from '../app/copy'
import { Lacking, Needs } from '../app/Needs'
import { listingPath } from '../app/place'
import { counted, Pending, ViewHead } from '../app/View'
import { Do, useVerb } from '../kit/verb'
import { ClientLeaves } from './Leaving'

type Handover = Schemas['Handover']
type Row = Handover['listings'][number]

// HandoverView is our leaving a client, step by step: each is done when the fact is so.
export function HandoverView() {
  const { client = '' } = useParams()
  const path = { params: { path: { client } } }
  const clients = useClients()
  const handover = useQuery({
    queryKey: ['handover', client],
    queryFn: () => told(api.GET('/api/clients/{client}/handover', path)),
    // What was asked for is answered in a moment.
    refetchInterval: (q) => (q.state.data?.listings.some((l) => l.busy) ? 1500 : false),
  })
  if (!handover.data || !clients.data) return <Pending error={handover.error ?? clients.error} />
  const name = clients.data.find((c) => c.id === client)?.name ?? ''
  const h = handover.data
  const left = h.listings.filter((l) => !l.done).length
  const done = [left === 0, h.pages === 0, h.people.length === 0].filter(Boolean).length
  return (
    <>
      <ViewHead
        title={`Hand back: ${name}`}
        says={`All of it goes back to ${h.owner_email || 'its owner'}. ${done} of 3 steps are done; nothing is put away before you say so.`}
      >
        <ClientLeaves client={client} name={name} />
      </ViewHead>
      <Lacking />
      <Needs what="send">
        <ol className="handover">
          <Listings client={client} rows={h.listings} left={left} />
          <Pages client={client} h={h} />
          <People people={h.people} />
          <Told h={h} client={client} name={name} />
        </ol>
      </Needs>
    </>
  )
}

function Head({ title, done, children }: { title: string; done: boolean; children?: React.ReactNode }) {
  return (
    <div className="group-head">
      <h2>
        {title} {done && <span className="tag">done</span>}
      </h2>
      {children}
    </div>
  )
}

function Listings({ client, rows, left }: { client: string; rows: Row[]; left: number }) {
  const back = useVerb({
    does: (of: Row[]) =>
      told(
        api.POST('/api/clients/{client}/handover', {
          params: { path: { client } },
          body: { items: of.map(({ location, directory }) => ({ location, directory })) },
        }),
      ),
    changes: ['handover'],
    says: ({ asked, refused }) =>
      `${counted(asked, 'listing')} handed back or asked for.` +
      (refused.length > 0 ? ` ${refused.length} cannot be: ${refused[0]!.says}` : ''),
    tells: true,
  })
  const keep = useVerb({
    does: (r: Row) =>
      told(
        api.DELETE('/api/listings/{location}/{directory}/handover', { params: { path: { location: r.location, directory: r.directory } } }),
      ),
    changes: ['handover'],
    tells: true,
  })
  const ours = rows.filter((r) => r.by_program && !r.done && !r.busy && !r.why_not)
  return (
    <li>
      <Head title="The listings" done={left === 0}>
        <span>{rows.length === 0 ? 'none is ours' : left === 0 ? `all ${rows.length}` : `${left} of ${rows.length} are left`}</span>
        {ours.length > 0 && (
          <Do verb={back} of={ours} running="Asking" className="ms-auto">
            {`Hand back the ${ours.length} that Uvent can`}
          </Do>
        )}
      </Head>
      {rows.length > 0 && (
        <ul className="rows">
          {rows.map((r) => (
            <li key={r.location + r.directory} className={r.done ? 'done' : undefined}>
              <Link to={listingPath(r.location, r.directory)} data-row>
                {r.label} on {r.directory_name}
              </Link>
              <span className={r.done ? 'second' : undefined}>
                {r.says} {r.why_not && !r.done && <span className="wrong">{r.why_not}</span>}
              </span>
              <span className="do">
                {r.busy && <span className="second">asked just now</span>}
                {!r.done && !r.busy && r.by_program && <span className="second">by Uvent</span>}
                {r.done && (
                  <Do verb={keep} of={r} variant="link" className="p-0">
                    Not after all
                  </Do>
                )}
                {!r.done && !r.busy && !r.by_program && (
                  <Do verb={back} of={[r]} variant="outline-secondary" size="sm">
                    It is handed over
                  </Do>
                )}
              </span>
            </li>
          ))}
        </ul>
      )}
    </li>
  )
}

function Pages({ client, h }: { client: string; h: Handover }) {
  const end = useVerb({
    does: () => told(api.DELETE('/api/clients/{client}/owner-links', { params: { path: { client } } })),
    changes: ['handover', 'today'],
    says: ({ ended }) => `${counted(ended, 'page')} shut.`,
    tells: true,
  })
  return (
    <li>
      <Head title="The owner’s private pages" done={h.pages === 0}>
        <span>{h.pages === 0 ? 'none works any more' : `${counted(h.pages, 'page')} still ${h.pages === 1 ? 'works' : 'work'}`}</span>
        {h.pages > 0 && (
          <Do verb={end} of={undefined} variant="outline-secondary" className="ms-auto" running="Shutting them">
            Shut them
          </Do>
        )}
      </Head>
    </li>
  )
}

function People({ people }: { people: Handover['people'] }) {
  return (
    <li>
      <Head title="Who signs in for it" done={people.length === 0}>
        <span>
          {people.length === 0 ? 'nobody' : people.map((p) => p.name).join(', ')}
          {people.length > 0 && (
            <>
              . <Link to="/people">End that under People</Link>, once they have what they need.
            </>
          )}
        </span>
      </Head>
    </li>
  )
}

// Told is what the client is told and takes along.
function Told({ h, client, name }: { h: Handover; client: string; name: string }) {
  const copy = useCopy()
  return (
    <li>
      <Head title="What the client is told, and takes along" done={false}>
        <Button variant="outline-secondary" className="ms-auto" onClick={() => void copy('The letter', h.letter)}>
          Copy the letter
        </Button>
      </Head>
      <pre className="letter">{h.letter}</pre>
      {h.accounts.length > 0 && (
        <p>
          Accounts that its listings were worked on with:{' '}
          {h.accounts.map((a) => `${a.directory_name}, ${a.email}, held by ${a.holder}`).join('; ')}.
        </p>
      )}
      <p>
        The records of {name}: <a href={`/api/export.xlsx?client=${client}`}>as a spreadsheet</a>, or{' '}
        <a href={`/api/export.csv?client=${client}`}>as CSV</a>.
      </p>
    </li>
  )
}
