import { Modal } from 'react-bootstrap'
import { useHotkeys } from 'react-hotkeys-hook'
import { useNavigate } from 'react-router'
import { useQueryClient } from '@tanstack/react-query'
import { useClients } from '../api/queries'
import { api, told } from '../api/client'
import { activities, listingPath, pathOf, placeOf, type Scope } from './place'
import { useSay } from './say'

// useKeys binds the keys that work everywhere. None works while typing.
export function useKeys({ focusFind, showHelp }: { focusFind: () => void; showHelp: () => void }) {
  const navigate = useNavigate()
  const clients = useClients().data
  const queries = useQueryClient()
  const say = useSay()

  useHotkeys('/', focusFind, { preventDefault: true, useKey: true })
  useHotkeys('shift+?,?', showHelp, { preventDefault: true, useKey: true })
  useHotkeys(
    activities.map((a) => a.key),
    (_, key) => {
      const to = activities.find((a) => a.key === key.keys?.[0])
      if (to) navigate(pathOf(to.id, placeOf(window.location.pathname).scope))
    },
    { useKey: true },
  )

  // [ and ] walk the pane from top to bottom: all, each client, each location.
  const order: Scope[] = [{}, ...(clients ?? []).flatMap((c) => [{ client: c.id }, ...c.locations.map((l) => ({ location: l.id }))])]
  const step = (by: number) => {
    // By the address, which is there before the view is: keys come fast.
    const { activity, scope } = placeOf(window.location.pathname)
    const here = order.findIndex((s) => s.client === scope.client && s.location === scope.location)
    const to = order[Math.max(0, Math.min(order.length - 1, here + by))]
    if (to) navigate(pathOf(activity, to))
  }
  useHotkeys('[', () => step(-1), { useKey: true })
  useHotkeys(']', () => step(1), { useKey: true })

  useHotkeys('j', () => moveRow(1), { useKey: true })
  useHotkeys('k', () => moveRow(-1), { useKey: true })

  useHotkeys(
    'n',
    async () => {
      const today = await queries.fetchQuery({ queryKey: ['today', {}], queryFn: () => told(api.GET('/api/today')) })
      const mine = today.rows.filter((t) => t.task?.group === 'mine')
      const here = mine.findIndex((t) => window.location.pathname === listingPath(t.location, t.directory))
      const next = mine[(here + 1) % mine.length]
      if (next) navigate(listingPath(next.location, next.directory))
      else say('Nothing waits for you.')
    },
    { useKey: true },
  )
}

// moveRow walks the rows of the view: whatever carries data-row.
function moveRow(by: number) {
  const rows = [...document.querySelectorAll<HTMLElement>('#view [data-row]')]
  if (rows.length === 0) return
  const here = rows.indexOf(document.activeElement as HTMLElement)
  const to = here < 0 ? (by > 0 ? 0 : rows.length - 1) : Math.max(0, Math.min(rows.length - 1, here + by))
  rows[to]?.focus()
  rows[to]?.scrollIntoView({ block: 'nearest' })
}

const all: [string[], string][] = [
  [['/'], 'Find or jump'],
  [['[', ']'], 'Previous, next in the pane on the left'],
  [activities.map((a) => a.key), activities.map((a) => a.title).join(', ')],
  [['j', 'k'], 'Next, previous row'],
  [['Enter'], 'Open the row'],
  [['c', 'x'], 'Claim what the row has found, create a new listing (Verification)'],
  [['=', '+', '-'], 'It is the same, it is new, leave it out (a row on its way in)'],
  [['g'], 'Edit all cells that say the same (on its way in)'],
  [['t', 's', 'f'], 'Take the first guess, bring in, search rows (on its way in; f on Today too)'],
  [['Space', 'esc'], 'Choose the row, Shift for all; none (Today, Differences)'],
  [['a', 's', 'g', 'f'], 'Accept or send what is chosen, group otherwise, search (Differences)'],
  [['d', 'p', 'h', 'm', 'a'], 'Done, put off, hand over, note, ask the owner: what is chosen (Today)'],
  [['o'], 'The page of the row’s listing (Today)'],
  [['n'], 'The next thing that only you can move'],
  [['u'], 'Undo, while the line at the foot offers it'],
  [['?'], 'This list'],
]

export function KeysHelp({ show, onHide }: { show: boolean; onHide: () => void }) {
  return (
    <Modal show={show} onHide={onHide}>
      <Modal.Header closeButton>
        <Modal.Title as="h2">Keys</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <dl className="keys">
          {all.map(([keys, what]) => (
            <div key={what} style={{ display: 'contents' }}>
              <dt>
                {keys.map((k) => (
                  <kbd key={k}>{k}</kbd>
                ))}
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
        <p className="second mt-3 mb-0">
          In the drawn week: arrows move a sitting’s end, Shift with arrows its start, Delete takes it out.
        </p>
      </Modal.Body>
    </Modal>
  )
}
