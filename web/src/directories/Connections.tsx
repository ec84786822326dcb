import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useConnections, useSession } from '../api/queries'
import { lasting } from '../app/clock'
import { Needs } from '../app/Needs'
import { counted, Pending } from '../app/View'
import { DataTable, type Column } from '../kit/table'
import { Do, useVerb, type Verb } from '../kit/verb'
import { CredentialForm } from './CredentialForm'
import { Waiting } from './Waiting'

type Connection = Schemas['Connection']
type Open = { directory: string; look: 'waiting' | 'credential' }

const manners: Record<Schemas['Manner'], string> = { bearer: 'a token', basic: 'a user and password', oauth2: 'renewed tokens' }

// Connections shows how the directories' own interfaces answer, what waits for them, and with what they
// are entered.
export function Connections() {
  const connections = useConnections()
  const [open, setOpen] = useState<Open>()
  const tryNow = useVerb({
    does: (c: Connection) => told(api.POST('/api/connections/{directory}/tries', { params: { path: { directory: c.directory } } })),
    changes: ['connections'],
    says: (_, c) => `${c.name} is asked again now.`,
    tells: true,
  })
  if (!connections.data) return <Pending error={connections.error} />
  const silent = connections.data.filter((c) => c.silent_for)
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Connections</h2>
        <span className="second">
          {silent.length === 0 ? 'Nobody is silent.' : `${counted(silent.length, 'directory', 'directories')} silent.`}
        </span>
      </div>
      <p className="second">
        Directories that Uvent asks by their own interface. One that does not answer is left alone for a while, then asked again; what waits
        for it is asked for up to four days, a search for six hours.
      </p>
      {connections.data.length === 0 && <p className="second">No directory has an interface that Uvent knows. A rulebook names it.</p>}
      {connections.data.length > 0 && (
        <DataTable
          rows={connections.data}
          columns={columnsOf(open, setOpen, tryNow)}
          rowKey={(c) => c.directory}
          rowClass={(c) => (c.silent_for ? 'off' : undefined)}
          beneath={(c) =>
            open?.directory === c.directory &&
            (open.look === 'waiting' ? <Waiting of={c} /> : <CredentialForm of={c} onDone={() => setOpen(undefined)} />)
          }
        />
      )}
    </section>
  )
}

function columnsOf(open: Open | undefined, setOpen: (o?: Open) => void, tryNow: Verb<unknown, Connection>): Column<Connection>[] {
  const toggle = (directory: string, look: Open['look']) => {
    const same = open?.directory === directory && open.look === look
    setOpen(same ? undefined : { directory, look })
  }
  return [
    { id: 'directory', head: 'Directory', names: true, by: (c) => c.name, cell: (c) => c.name },
    { id: 'answers', head: 'Does it answer', by: (c) => c.silent_for ?? 0, cell: (c) => <Answers of={c} /> },
    {
      id: 'waiting',
      head: 'Waiting',
      className: 'text-nowrap',
      by: (c) => c.waiting,
      cell: (c) =>
        c.waiting === 0 ? (
          <span className="quiet">nothing</span>
        ) : (
          <Button
            variant="link"
            size="sm"
            className="p-0"
            aria-expanded={open?.directory === c.directory && open.look === 'waiting'}
            onClick={() => toggle(c.directory, 'waiting')}
          >
            {c.waiting}, the oldest for {lasting(c.waiting_for ?? 0)}
          </Button>
        ),
    },
    { id: 'entered', head: 'Entered with', cell: (c) => <Entered of={c} onChange={() => toggle(c.directory, 'credential')} /> },
    {
      id: 'acts',
      head: '',
      className: 'acts-cell text-nowrap',
      cell: (c) =>
        !!c.silent_for && (
          <Needs what="send" shared>
            <Do verb={tryNow} of={c} variant="outline-secondary" size="sm">
              Try now
            </Do>
          </Needs>
        ),
    },
  ]
}

function Answers({ of: c }: { of: Connection }) {
  if (c.silent_for)
    return (
      <>
        Silent for {lasting(c.silent_for)}
        {c.alone_for ? `; asked again in ${lasting(c.alone_for)}` : '; being asked'}
        <span className="says">{c.says}</span>
      </>
    )
  if (!c.answered) return <span className="quiet">not asked yet</span>
  return <>Yes, {lasting(c.answered_ago ?? 0)} ago</>
}

function Entered({ of: c, onChange }: { of: Connection; onChange: () => void }) {
  const administers = useSession().data?.may.includes('administer')
  if (c.stand_in) return <span className="quiet">our account, as a stand-in</span>
  return (
    <>
      {c.credential ? manners[c.credential.manner] : <span className="quiet">nothing</span>}
      {c.credential?.ends_in && <span className="second"> for {lasting(c.credential.ends_in)} more</span>}
      {c.credential?.moved && <span className="says">Its interface has moved since. Give it again for the new address.</span>}
      {administers && (
        <Button variant="link" size="sm" className="p-0 ms-2" onClick={onChange}>
          {c.credential ? 'Change' : 'Set'}
        </Button>
      )}
    </>
  )
}
