import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { api, told, type Listing, type Schemas } from '../api/client'
import { ago, useNow, useTimes } from '../app/clock'
import { useCopy } from '../app/copy'
import { Do, Failed, useVerb } from '../kit/verb'

type Task = Listing['owner_tasks'][number]

const tasks: Record<Task, string> = {
  code: 'type the code',
  paper: 'send a paper',
  call: 'choose a time for the call',
  video: 'film the place',
  card: 'confirm a card payment',
}

// OwnerLinks makes private pages for the owner, and shows what became of them.
export function OwnerLinks({ listing: l }: { listing: Listing }) {
  const copy = useCopy()
  const [made, setMade] = useState<Schemas['MadeOwnerLink']>()
  const [chosen, setTask] = useState<Task>()
  const [mail, setMail] = useState(l.owner_email !== '')
  const task = chosen && l.owner_tasks.includes(chosen) ? chosen : l.owner_tasks[0]
  const path = { location: l.row.location, directory: l.row.directory }
  const [ends, setEnds] = useState(false)
  const guard = l.ways.find((w) => w.method === 'call')?.guard
  const ended = task === 'call' && guard && !guard.keeps ? l.attempts.find((a) => a.id === guard.attempt && a.method !== 'call') : undefined
  const make = useVerb({
    does: () =>
      told(
        api.POST('/api/listings/{location}/{directory}/owner-links', {
          params: { path },
          body: { task: task!, mail: mail && l.owner_email !== '', instead: ended && ends ? ended.id : undefined },
        }),
      ),
    changes: ['listing'],
    then: setMade,
  })
  if (l.owner_tasks.length === 0 && l.owner_links.length === 0) return null
  return (
    <section className="sheet owner-links">
      <h2>Ask the owner</h2>
      {task && !made && (
        <>
          <p className="second">A private page, with no account, on which the owner does one thing:</p>
          <div className="px-3">
            {l.owner_tasks.length > 1 &&
              l.owner_tasks.map((t) => (
                <Form.Check
                  key={t}
                  type="radio"
                  name="owner-task"
                  id={`owner-${t}`}
                  label={tasks[t]}
                  checked={task === t}
                  onChange={() => setTask(t)}
                />
              ))}
            {l.owner_tasks.length === 1 && <p className="p-0 m-0">{tasks[task]}.</p>}
            <Form.Check
              id="owner-mail"
              className="mt-2"
              disabled={l.owner_email === ''}
              checked={mail && l.owner_email !== ''}
              onChange={(e) => setMail(e.target.checked)}
              label={l.owner_email === '' ? 'No owner’s email is known' : `Write to ${l.owner_email}, and remind them`}
            />
          </div>
          {ended && (
            <div className="px-3">
              <Form.Check
                id="owner-ends"
                checked={ends}
                onChange={(e) => setEnds(e.target.checked)}
                label={`The call may end the ${ended.title.toLowerCase()} that is under way`}
              />
            </div>
          )}
          <Failed error={make.error} />
          <p className="mt-2">
            <Do verb={make} of={undefined} running="Making it" variant="outline-secondary">
              Make the page
            </Do>
          </p>
        </>
      )}
      {made && (
        <div className="made">
          <img src={made.qr} alt="The address as a QR code" width="132" height="132" />
          <div>
            <p className="p-0">
              {made.mailed ? `It was written to ${l.owner_email}.` : 'Hand this address on, or show the code to the owner’s phone.'}
            </p>
            <p className="p-0 mono small made-address">{made.address}</p>
            <p className="p-0 d-flex flex-wrap gap-2">
              <Button variant="outline-secondary" size="sm" onClick={() => copy('The address', made.address)}>
                Copy the address
              </Button>
              <Button variant="outline-secondary" size="sm" onClick={() => copy('The message', message(made))}>
                Copy as a message
              </Button>
            </p>
            <p className="second small p-0 m-0">It is shown this once.</p>
          </div>
        </div>
      )}
      {l.owner_links.length > 0 && (
        <ul className="made-links">
          {l.owner_links.map((k) => (
            <Made key={k.id} link={k} zone={l.row.zone} />
          ))}
        </ul>
      )}
    </section>
  )
}

const message = (m: Schemas['MadeOwnerLink']) => [m.words.why, m.words.what, m.words.how, m.address, m.words.until].join('\n\n')

function Made({ link: k, zone }: { link: Schemas['OwnerLink']; zone: string }) {
  const now = useNow()
  const at = useTimes(zone)
  const withdraw = useVerb({
    does: () => told(api.DELETE('/api/owner-links/{link}', { params: { path: { link: k.id } } })),
    changes: ['listing'],
  })
  const live = k.state === 'open' || k.state === 'waiting'
  const says: Record<typeof k.state, string> = {
    open: k.opened_at ? `opened ${ago(new Date(k.opened_at), now)}` : 'not opened yet',
    waiting: k.call_at ? `wants the call ${at(k.call_at)}` : '',
    done: k.done_at ? `done ${at(k.done_at)}` : 'done',
    expired: 'expired' + (k.opened_at ? '' : ', never opened'),
    withdrawn: 'withdrawn',
    not_needed: 'not needed any more',
  }
  return (
    <li>
      <span>
        To {tasks[k.task]}
        <span className="second small">
          made {ago(new Date(k.made_at), now)}
          {k.sent_to && `, to ${k.sent_to}`}; {says[k.state]}
        </span>
        <Failed error={withdraw.error} />
      </span>
      {live && (
        <Do verb={withdraw} of={undefined} variant="link" className="p-0">
          Withdraw
        </Do>
      )}
    </li>
  )
}
