import { Button } from 'react-bootstrap'
import { Link, useSearchParams } from 'react-router'
import { useDirectories, useListings } from '../api/queries'
import { usePlace } from '../app/place'
import { useSay } from '../app/say'
import { counted, Pending, ViewHead } from '../app/View'

// DirectoriesView shows each directory's rulebook, in sentences and as its file.
export function DirectoriesView() {
  const { scope } = usePlace()
  const directories = useDirectories()
  const listings = useListings(scope)
  const [params] = useSearchParams()
  const say = useSay()
  if (!directories.data) return <Pending error={directories.error} />
  const shown = directories.data.find((d) => d.id === params.get('directory')) ?? directories.data[0]
  const here = (id: string) => listings.data?.filter((r) => r.directory === id && !r.not_for) ?? []
  return (
    <>
      <ViewHead title="Directories" says={`${counted(directories.data.length, 'directory', 'directories')}; a rulebook each, as data.`} />
      <table className="grid mb-3">
        <thead>
          <tr>
            <th scope="col">Directory</th>
            <th scope="col">Kind</th>
            <th scope="col" className="num">
              Weight
            </th>
            <th scope="col">Account</th>
            <th scope="col" className="num">
              Public
            </th>
          </tr>
        </thead>
        <tbody>
          {directories.data.map((d) => (
            <tr key={d.id}>
              <th scope="row">
                <Link to={`?directory=${d.id}`} data-row aria-current={d === shown}>
                  {d.name}
                </Link>
              </th>
              <td>{d.kind}</td>
              <td className="num">{d.weight}</td>
              <td className="mono">{d.account}</td>
              <td className="num">
                {here(d.id).filter((r) => r.strand.visibility === 'public').length} of {here(d.id).length}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {shown && (
        <section className="sheet">
          <div className="sheet-head">
            <h2>{shown.name}’s rulebook</h2>
          </div>
          <p>{shown.summary}</p>
          <div className="body rulebook">
            {shown.says.map((s) => (
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
          <details>
            <summary>The file</summary>
            <pre className="file" tabIndex={0}>
              {shown.rulebook}
            </pre>
            <Button
              variant="outline-secondary"
              className="m-3"
              onClick={async () => {
                await navigator.clipboard.writeText(shown.rulebook)
                say('The rulebook is on the clipboard.')
              }}
            >
              Copy the file
            </Button>
          </details>
        </section>
      )}
    </>
  )
}
