import { Link } from 'react-router'

// NoClients stands where there is nothing yet, and offers the first step.
export function NoClients() {
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
