import { Button, Form } from 'react-bootstrap'
import type { Schemas } from '../../api/client'
import { problemAt } from '../Field'
import { useHeld } from '../held'
import { Origin } from '../Origin'
import { Answer } from './Answer'

// Socials are the business's profiles on social networks; the last row is for the next one.
export function Socials({ answers }: { answers?: Schemas['LinkAnswer'][] }) {
  const { record: r, set, problems } = useHeld()
  const socials = [...r.socials, { name: '', url: '', show: true }]
  const setSocial = (i: number, part: Partial<(typeof socials)[number]>) =>
    set({ socials: socials.map((s, j) => (i === j ? { ...s, ...part } : s)).filter((s) => s.name || s.url) })
  return (
    <section className="sheet">
      <h2>
        Social profiles <Origin path="socials" />
      </h2>
      <table className="entries">
        <thead>
          <tr>
            <th scope="col" style={{ width: '26%' }}>
              Network
            </th>
            <th scope="col">Address</th>
            <th scope="col" style={{ width: 90 }}>
              Show it
            </th>
            <th />
          </tr>
        </thead>
        <tbody>
          {socials.map((s, i) => {
            const problem = problemAt(problems, `socials.${i}.url`)
            return (
              <tr key={i}>
                <td>
                  <Form.Control aria-label={`Network ${i + 1}`} value={s.name} onChange={(e) => setSocial(i, { name: e.target.value })} />
                </td>
                <td>
                  <Form.Control
                    aria-label={`Address of profile ${i + 1}`}
                    type="url"
                    placeholder="https://"
                    value={s.url}
                    isInvalid={!!problem}
                    onChange={(e) => setSocial(i, { url: e.target.value })}
                  />
                  <Answer answers={answers} address={s.url} />
                  {problem && <span className="wrong-text">{problem}</span>}
                </td>
                <td>
                  <Form.Check
                    id={`show-${i}`}
                    aria-label={`Show profile ${i + 1}`}
                    label={s.show ? 'yes' : 'no'}
                    checked={s.show}
                    onChange={(e) => setSocial(i, { show: e.target.checked })}
                  />
                </td>
                <td className="acts-cell">
                  {i < r.socials.length && (
                    <Button variant="link" size="sm" onClick={() => set({ socials: r.socials.filter((_, j) => j !== i) })}>
                      Take out
                    </Button>
                  )}
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </section>
  )
}
