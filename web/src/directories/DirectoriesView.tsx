import { Link, useSearchParams } from 'react-router'
import { useAccounts, useConnections, useDirectories, useRulebookProblems, useSeesAll } from '../api/queries'
import { usePlace } from '../app/place'
import { counted, Pending, ViewHead } from '../app/View'
import { Accounts } from './Accounts'
import { Connections } from './Connections'
import { CopyGraph } from './CopyGraph'
import { DirectoryTable } from './DirectoryTable'
import { Rulebook } from './Rulebook'
import { RulebookText } from './RulebookText'

const looks = [
  ['all', 'Directories'],
  ['copies', 'Who copies from whom'],
  ['connections', 'Connections'],
  ['accounts', 'Accounts'],
  ['new', 'Add a directory'],
] as const

// shared are the looks at what all clients share.
const shared = ['connections', 'accounts', 'new']

// DirectoriesView shows each directory's rulebook, in sentences and as its file, the
// accounts by which they know us, and who copies from whom.
export function DirectoriesView() {
  const { scope } = usePlace()
  const directories = useDirectories()
  const accounts = useAccounts()
  const silent = useConnections().data?.filter((c) => c.silent_for).length ?? 0
  const all = useSeesAll()
  const open = looks.filter(([id]) => all || !shared.includes(id))
  const bad = useRulebookProblems().data ?? []
  const [params] = useSearchParams()
  if (!directories.data) return <Pending error={directories.error} />
  const chosen = directories.data.find((d) => d.id === params.get('directory'))
  const look = chosen ? 'all' : (open.find(([id]) => id === params.get('look'))?.[0] ?? 'all')
  const troubled = accounts.data?.filter((a) => a.warnings.length > 0).length ?? 0
  return (
    <>
      <ViewHead title="Directories" says={`${counted(directories.data.length, 'directory', 'directories')}; a rulebook each, as data.`} />
      <nav className="sections" aria-label="What to look at">
        {open.map(([id, words]) => (
          <Link key={id} to={id === 'all' ? '?' : `?look=${id}`} className={look === id ? 'active' : ''} aria-current={look === id}>
            {words}
            {id === 'connections' && silent > 0 && <span className="count">{silent}</span>}
            {id === 'accounts' && troubled > 0 && <span className="count">{troubled}</span>}
          </Link>
        ))}
      </nav>
      {bad.map((b) => (
        <p className="wrong" role="alert" key={b}>
          Not in force: {b}
        </p>
      ))}
      {look === 'copies' && <CopyGraph directories={directories.data} />}
      {look === 'connections' && <Connections />}
      {look === 'accounts' && <Accounts directories={directories.data} />}
      {look === 'new' && <RulebookText location={scope.location} />}
      {look === 'all' && (
        <div className={chosen ? 'beside' : ''}>
          <DirectoryTable directories={directories.data} chosen={chosen} scope={scope} />
          {chosen && <Rulebook directory={chosen} scope={scope} />}
        </div>
      )}
    </>
  )
}
