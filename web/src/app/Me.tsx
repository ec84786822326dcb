import { Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { useSession } from '../api/queries'
import { useSignOut } from './signOut'

// Me is the menu of the person who is signed in.
export function Me({ onKeys }: { onKeys: () => void }) {
  const session = useSession().data
  const signOut = useSignOut()
  return (
    <>
      <Dropdown.Toggle className="me" variant="link" title={session?.name}>
        {session?.initials}
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <Dropdown.Header>
          {session?.name}
          <br />
          {session?.email}
        </Dropdown.Header>
        <Dropdown.Item as={Link} to="/you">
          You, sessions and keys
        </Dropdown.Item>
        {session?.role !== 'client' && (
          <>
            <Dropdown.Item as={Link} to="/people">
              People
            </Dropdown.Item>
            <Dropdown.Item as={Link} to="/letters">
              Letters
            </Dropdown.Item>
          </>
        )}
        {session?.may.includes('administer') && (
          <Dropdown.Item as={Link} to="/log">
            Log
          </Dropdown.Item>
        )}
        <Dropdown.Item as={Link} to="/interface">
          Interface
        </Dropdown.Item>
        <Dropdown.Divider />
        <Dropdown.Item as="button" onClick={onKeys}>
          Keys <span className="second">?</span>
        </Dropdown.Item>
        <Dropdown.Item as="button" onClick={signOut}>
          Sign out
        </Dropdown.Item>
      </Dropdown.Menu>
    </>
  )
}
