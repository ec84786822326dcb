import { Link } from 'react-router'
import { useSeesAll } from '../api/queries'

// NoClients stands where there is nothing yet, and offers the first step.
export function NoClients() {
  const all = useSeesAll()
  if (!all)
    return (
      <div className="empty">
        <h2>No clients of yours</h2>
        <p>You work for some clients, and none of them is here. An administrator says which they are, under People.</p>
      </div>
    )
  return (
    <div className="empty">
      <h2>No locations yet</h2>
      <p>
        Bring your clients’ locations in from a spreadsheet, or add a client by hand. Each location then stands here with every directory it
        can be listed on.
      </p>
      <Link className="btn btn-primary" to="/record/import">
        Bring in locations
      </Link>
      <Link className="btn btn-outline-secondary" to="/record/new-client">
        Add a client
      </Link>
    </div>
  )
}
