import { Link, useSearchParams } from 'react-router'
import { useAccounts, useDirectories, useDirectoryCounts, useRulebookProblems } from '../api/queries'
import { usePlace } from '../app/place'
import { counted, Pending, ViewHead } from '../app/View'
import { Accounts } from './Accounts'
import { CopyGraph } from './CopyGraph'
import { HandIn } from './HandIn'
import { RulebookText } from './RulebookText'

export const worked: Record<string, string> = {
  connected: 'connected',
  by_hand: 'by hand',
  written: 'by hand, written request',
  file: 'file',
  fed: 'fed only',
  suggestions: 'suggestions',
}

const looks = [
  ['all', 'Directories'],
  ['copies', 'Who copies from whom'],
  ['accounts', 'Accounts'],
  ['new', 'Add a directory'],
] as const

// DirectoriesView shows each directory's rulebook, in sentences and as its file, the
// accounts by which they know us, and who copies from whom.
export function DirectoriesView() {
  const { scope } = usePlace()
  const directories = useDirectories()
  const counts = useDirectoryCounts(scope)
  const accounts = useAccounts()
  const bad = useRulebookProblems().data ?? []
  const [params] = useSearchParams()
  if (!directories.data) return <Pending error={directories.error} />
  const chosen = directories.data.find((d) => d.id === params.get('directory'))
  const look = chosen ? 'all' : (looks.find(([id]) => id === params.get('look'))?.[0] ?? 'all')
  const of = (id: string) => counts.data?.find((c) => c.directory === id)
  const troubled = accounts.data?.filter((a) => a.warnings.length > 0).length ?? 0
  return (
    <>
      <ViewHead title="Directories" says={`${counted(directories.data.length, 'directory', 'directories')}; a rulebook each, as data.`} />
      <nav className="sections" aria-label="What to look at">
        {looks.map(([id, words]) => (
          <Link key={id} to={id === 'all' ? '?' : `?look=${id}`} className={look === id ? 'active' : ''} aria-current={look === id}>
            {words}
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
      {look === 'accounts' && <Accounts directories={directories.data} />}
      {look === 'new' && <RulebookText location={scope.location} />}
      {look === 'all' && (
        <div className={chosen ? 'beside' : ''}>
          <table className="grid mb-3 directories">
            <thead>
              <tr>
                <th scope="col">Directory</th>
                {!chosen && <th scope="col">Kind</th>}
                {!chosen && <th scope="col">Worked</th>}
                <th scope="col" className="num">
                  Weight
                </th>
                {!chosen && <th scope="col">Account</th>}
                <th scope="col" className="num">
                  Public
                </th>
              </tr>
            </thead>
            <tbody>
              {directories.data.map((d) => {
                const account = accounts.data?.find((a) => a.directory === d.id)
                return (
                  <tr key={d.id} className={d === chosen ? 'marked' : ''}>
                    <th scope="row">
                      <Link to={`?directory=${d.id}`} data-row aria-current={d === chosen}>
                        {d.name}
                      </Link>
                    </th>
                    {!chosen && <td>{d.kind}</td>}
                    {!chosen && <td>{worked[d.worked]}</td>}
                    <td className="num">{d.weight}</td>
                    {!chosen && (
                      <td>
                        {account ? (
                          <>
                            <span className="mono">{account.email}</span>
                            {account.warnings.length > 0 && (
                              <Link to="?look=accounts" className="says d-inline ms-2">
                                {counted(account.warnings.length, 'warning')}
                              </Link>
                            )}
                          </>
                        ) : (
                          <span className="quiet">{d.worked === 'fed' ? 'none needed' : 'none listed'}</span>
                        )}
                      </td>
                    )}
                    <td className="num">
                      {of(d.id)?.public ?? 0} of {of(d.id)?.wanted ?? 0}
                    </td>
                  </tr>
                )
              })}
            </tbody>
          </table>
          {chosen && (
            <section>
              <div className="sheet mb-3">
                <div className="sheet-head">
                  <h2>{chosen.name}’s rulebook</h2>
                  <span className="second">
                    {worked[chosen.worked]}
                    {chosen.page && (
                      <>
                        {' · '}
                        <a href={chosen.page} target="_blank" rel="noreferrer">
                          its pages
                        </a>
                      </>
                    )}
                  </span>
                </div>
                <p>{chosen.summary}</p>
                {chosen.worked === 'file' && <HandIn directory={chosen} scope={scope} />}
                <div className="body rulebook">
                  {chosen.says.map((s) => (
                    <section key={s.about}>
                      <h3>{s.about}</h3>
                      <ul>
                        {s.says.map((line) => (
                          <li key={line}>{line}</li>
                        ))}
                      </ul>
                    </section>
                  ))}
                </div>
              </div>
              <RulebookText key={chosen.id} directory={chosen} location={scope.location} />
            </section>
          )}
        </div>
      )}
    </>
  )
}
