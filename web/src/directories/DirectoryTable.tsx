import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { useAccounts, useDirectoryCounts, useSeesAll } from '../api/queries'
import type { Scope } from '../app/place'
import { counted } from '../app/View'
import { DataTable, type Column } from '../kit/table'
import { worked } from './worked'

type Directory = Schemas['Directory']

// DirectoryTable lists the directories. Beside a chosen one there is room for little.
export function DirectoryTable({ directories, chosen, scope }: { directories: Directory[]; chosen?: Directory; scope: Scope }) {
  const counts = useDirectoryCounts(scope).data
  const accounts = useAccounts().data
  const all = useSeesAll()
  const of = (d: Directory) => counts?.find((c) => c.directory === d.id) ?? { public: 0, wanted: 0 }
  const columns: Column<Directory>[] = [
    {
      id: 'name',
      head: 'Directory',
      names: true,
      by: (d) => d.name,
      cell: (d) => (
        <Link to={`?directory=${d.id}`} data-row aria-current={d === chosen}>
          {d.name}
        </Link>
      ),
    },
    { id: 'kind', head: 'Kind', by: (d) => d.kind, cell: (d) => d.kind },
    { id: 'worked', head: 'Worked', by: (d) => worked[d.worked] ?? '', cell: (d) => worked[d.worked] },
    { id: 'weight', head: 'Weight', num: true, by: (d) => d.weight, cell: (d) => d.weight },
    {
      id: 'account',
      head: 'Account',
      cell: (d) => <AccountOf directory={d} account={accounts?.find((a) => a.directory === d.id)} />,
    },
    {
      id: 'public',
      head: 'Public',
      num: true,
      by: (d) => of(d).public,
      cell: (d) => `${of(d).public} of ${of(d).wanted}`,
    },
  ]
  return (
    <DataTable
      className="mb-3 directories"
      rows={directories}
      columns={columns.filter((c) => (chosen ? ['name', 'weight', 'public'].includes(c.id) : all || c.id !== 'account'))}
      rowKey={(d) => d.id}
      rowClass={(d) => (d === chosen ? 'marked' : undefined)}
    />
  )
}

function AccountOf({ directory: d, account }: { directory: Directory; account?: Schemas['Account'] }) {
  if (!account) return <span className="quiet">{d.worked === 'fed' ? 'none needed' : 'none listed'}</span>
  return (
    <>
      <span className="mono">{account.email}</span>
      {account.warnings.length > 0 && (
        <Link to="?look=accounts" className="says d-inline ms-2">
          {counted(account.warnings.length, 'warning')}
        </Link>
      )}
    </>
  )
}
