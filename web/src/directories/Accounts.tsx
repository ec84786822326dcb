import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { api, told, type Schemas } from '../api/client'
import { useAccounts } from '../api/queries'
import { Pending } from '../app/View'
import { DataTable, type Column } from '../kit/table'
import { Do, useVerb, type Verb } from '../kit/verb'
import { AccountForm, factsOf, type AccountFacts } from './AccountForm'

type Account = Schemas['Account']

const blank: AccountFacts = { directory: '', email: '', holder: '', class: '', confirmed: false, personal: false, note: '', gone: false }

const add = (f: AccountFacts) => told(api.POST('/api/accounts', { body: f }))

// Accounts is the register of accounts by which directories know us. It never holds a
// password.
export function Accounts({ directories }: { directories: Schemas['Directory'][] }) {
  const accounts = useAccounts()
  const [open, setOpen] = useState<string>()
  const close = () => setOpen(undefined)
  const drop = useVerb({
    does: (a: Account) => told(api.DELETE('/api/accounts/{account}', { params: { path: { account: a.id } } })),
    changes: ['accounts'],
    says: (_, a) => `${a.email} is out of the list.`,
    undo: async (_, a) => {
      await add(factsOf(a))
      return `${a.email} is in the list again.`
    },
    tells: true,
  })
  if (!accounts.data) return <Pending error={accounts.error} />
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Accounts</h2>
        <Button variant="outline-secondary" onClick={() => setOpen('new')} disabled={open === 'new'}>
          Add an account
        </Button>
      </div>
      <p className="second">Which account is used where, and who can sign in with it. Passwords do not belong here.</p>
      {open === 'new' && (
        <AccountForm
          key="new"
          facts={{ ...blank, directory: directories[0]?.id ?? '' }}
          directories={directories}
          keep={add}
          onDone={close}
        />
      )}
      {accounts.data.length === 0 && open !== 'new' && <p className="second">No account is listed yet. Add the first one.</p>}
      {accounts.data.length > 0 && (
        <DataTable
          rows={accounts.data}
          columns={columnsOf(directories, setOpen, drop)}
          rowKey={(a) => a.id}
          rowClass={(a) => (a.warnings.length > 0 ? 'off' : undefined)}
          instead={(a) =>
            open === a.id && (
              <AccountForm
                facts={factsOf(a)}
                directories={directories}
                fixed
                keep={(f) => told(api.PUT('/api/accounts/{account}', { params: { path: { account: a.id } }, body: f }))}
                onDone={close}
              />
            )
          }
        />
      )}
    </section>
  )
}

function columnsOf(directories: Schemas['Directory'][], open: (id: string) => void, drop: Verb<unknown, Account>): Column<Account>[] {
  const name = (a: Account) => directories.find((d) => d.id === a.directory)?.name ?? a.directory
  return [
    { id: 'directory', head: 'Directory', names: true, by: name, cell: name },
    {
      id: 'email',
      head: 'Signs in as',
      by: (a) => a.email,
      cell: (a) => (
        <>
          <span className="mono">{a.email}</span>
          {a.note && <span className="second d-block small">{a.note}</span>}
        </>
      ),
    },
    {
      id: 'holder',
      head: 'Holder',
      by: (a) => a.holder,
      cell: (a) => (
        <>
          {a.gone ? <s>{a.holder}</s> : a.holder}
          {a.personal && <span className="second"> own account behind it</span>}
          {a.warnings.map((w) => (
            <span className="says" key={w}>
              {w}
            </span>
          ))}
        </>
      ),
    },
    { id: 'class', head: 'Class', className: 'text-nowrap', cell: (a) => a.class || <span className="quiet">one for all</span> },
    { id: 'confirmed', head: 'Email', className: 'text-nowrap', cell: (a) => (a.confirmed ? 'confirmed' : 'not confirmed') },
    {
      id: 'acts',
      head: '',
      className: 'acts-cell text-nowrap',
      cell: (a) => (
        <>
          <Button variant="link" size="sm" className="p-0 me-2" onClick={() => open(a.id)}>
            Change
          </Button>
          <Do verb={drop} of={a} variant="link" size="sm" className="p-0">
            Take out
          </Do>
        </>
      ),
    },
  ]
}
