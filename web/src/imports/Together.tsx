import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useHotkeys } from 'react-hotkeys-hook'
import { counted } from '../app/View'
import { useBench, type Alike } from './work'

const key = (a: Alike) => [a.key, a.says, a.read, a.why].join('\u0000')
const cells = (a: Alike) => (a.cells === 1 ? 'cell' : 'cells')

// Together is one answer for all cells that say the same: what is left out, and what could be meant otherwise.
// What was surely read is listed on one line.
export function Together() {
  const { alike, edit } = useBench()
  const [all, setAll] = useState(false)
  const open = alike.filter((a) => !a.sure)
  const sure = alike.filter((a) => a.sure)
  const first = open.find((a) => a.read)
  const take = (a: Alike) => edit.mutate({ kind: 'mend', key: a.key, from: a.says, to: a.read })
  useHotkeys('t', () => first && take(first), { useKey: true, enabled: !!first && !edit.isPending })
  if (alike.length === 0) return null
  const shown = all || open.length < 5 ? open : open.slice(0, 3)
  return (
    <section aria-label="Mended together">
      <div className="group-head">
        <h2>Mended together</h2>
        <span>one answer for all cells that say the same</span>
      </div>
      <ul className="rows together">
        {shown.map((a) => (
          <One key={key(a)} alike={a} first={a === first} onTake={() => take(a)} />
        ))}
        {open.length > shown.length && (
          <li className="more">
            <Button variant="link" size="sm" onClick={() => setAll(true)}>
              {counted(open.length - shown.length, 'more question')}
            </Button>
          </li>
        )}
        {sure.length > 0 && <Sure sure={sure} />}
        {open.length === 0 && sure.length === 0 && <li>Nothing was read as something else than it says.</li>}
      </ul>
    </section>
  )
}

// Sure is what was read as something else than it says, and could be nothing else: what many cells say, and of the
// others how many there are.
function Sure({ sure }: { sure: Alike[] }) {
  const { titles } = useBench()
  const [all, setAll] = useState(false)
  const often = sure.filter((a) => a.cells > 1).slice(0, 6)
  const others = new Map<string, number>()
  for (const a of sure) if (!often.includes(a)) others.set(a.key, (others.get(a.key) ?? 0) + a.cells)
  return (
    <li className="sure">
      <p>
        {(all ? sure : often).map((a) => (
          <span key={key(a)}>
            <b>
              {a.cells} {cells(a)} {a.says ? `${a.cells === 1 ? 'says' : 'say'} “${a.says}”` : 'say nothing'}
            </b>{' '}
            {a.read}
          </span>
        ))}
        {!all &&
          [...others].map(([k, n]) => (
            <span key={k}>
              <b>{n}</b> in {titles[k]?.toLowerCase() ?? k}
            </span>
          ))}
      </p>
      <Button variant="link" size="sm" onClick={() => setAll(!all)}>
        {all ? 'Fewer' : `Look over ${sure.length}`}
      </Button>
    </li>
  )
}

function One({ alike: a, first, onTake }: { alike: Alike; first: boolean; onTake: () => void }) {
  const { edit, titles } = useBench()
  const [other, setOther] = useState<string>()
  const title = titles[a.key] ?? a.column
  return (
    <li className={a.why ? 'left' : ''}>
      <span className="tell" aria-hidden="true">
        {a.why ? '≠' : '?'}
      </span>
      <span className="num">{a.cells}</span>
      <span className="alike">
        {a.says
          ? `${cells(a)} ${a.cells === 1 ? 'says' : 'say'} “${a.says}”`
          : `${a.cells === 1 ? 'row has' : 'rows have'} no ${title.toLowerCase()}`}
      </span>
      <span className="second">
        {a.why ? `${title}: ${a.why}` : `${title}: read as ${a.read}`}
        {a.waits && '; the row waits'}
      </span>
      {other === undefined ? (
        <span className="do">
          {a.read && (
            <Button variant="outline-secondary" size="sm" disabled={edit.isPending} onClick={onTake}>
              Take {a.read} {first && <kbd>t</kbd>}
            </Button>
          )}
          <Button variant="outline-secondary" size="sm" onClick={() => setOther(a.says)}>
            {a.why ? 'Mend' : 'Other'}
          </Button>
        </span>
      ) : (
        <Form
          className="do"
          onSubmit={(e) => {
            e.preventDefault()
            edit.mutate({ kind: 'mend', key: a.key, from: a.says, to: other }, { onSuccess: () => setOther(undefined) })
          }}
        >
          <Form.Control
            autoFocus
            size="sm"
            aria-label={`${title} of ${a.cells} ${cells(a)}`}
            value={other}
            maxLength={10_000}
            onChange={(e) => setOther(e.target.value)}
            onKeyDown={(e) => e.key === 'Escape' && setOther(undefined)}
          />
          <Button type="submit" size="sm" disabled={edit.isPending || other === a.says}>
            {other === '' ? 'Leave out' : 'Keep'}
          </Button>
          <Button variant="link" size="sm" onClick={() => setOther(undefined)}>
            Cancel
          </Button>
        </Form>
      )}
    </li>
  )
}
