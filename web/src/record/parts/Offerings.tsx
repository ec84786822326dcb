import { Button, Form } from 'react-bootstrap'
import { useFacts } from '../../api/queries'
import { Entries } from '../Entries'
import { useHeld } from '../held'
import { Origin } from '../Origin'
import { blankItem, SectionTable, type Section } from './SectionTable'

// Offerings are sections of items with their prices, and ways to pay.
export function Offerings() {
  const { record: r, set } = useHeld()
  const put = (i: number, section: Section) => set({ offerings: r.offerings.map((s, j) => (j === i ? section : s)) })
  const add = () => set({ offerings: [...r.offerings, { title: '', items: [blankItem] }] })
  return (
    <>
      <section className="sheet">
        <div className="sheet-head">
          <h2>
            Offerings <Origin path="offerings" />
          </h2>
          <Button variant="link" className="p-0" onClick={add}>
            Add a section
          </Button>
        </div>
        {r.offerings.length === 0 ? (
          <p className="second">
            A menu, a price list or services, in sections. Add a section, then type or paste rows from a spreadsheet: what, price, what the
            price is for, words.
          </p>
        ) : (
          <p className="second">
            Enter goes down, arrows move, Alt with an arrow moves the row; rows can be pasted from a spreadsheet. An empty row is not kept.
          </p>
        )}
        {r.offerings.map((s, i) => (
          <SectionTable
            key={i}
            at={i}
            section={s}
            onChange={(next) => put(i, next)}
            onTakeOut={() => set({ offerings: r.offerings.filter((_, j) => j !== i) })}
          />
        ))}
      </section>
      <Payments />
      <Team />
    </>
  )
}

function Payments() {
  const { record: r, set } = useHeld()
  const kinds = useFacts().data?.payments ?? []
  return (
    <section className="sheet">
      <h2>
        Ways to pay <Origin path="payments" />
      </h2>
      <div className="checks px-3 pb-2">
        {kinds.map((k) => (
          <Form.Check
            key={k.key}
            id={'pay-' + k.key}
            label={k.title}
            checked={r.payments.includes(k.key)}
            onChange={(e) => set({ payments: e.target.checked ? [...r.payments, k.key] : r.payments.filter((p) => p !== k.key) })}
          />
        ))}
      </div>
    </section>
  )
}

function Team() {
  const { record: r, set, shared } = useHeld()
  if (!shared) return null // who works where is each location's to say
  return (
    <section className="sheet">
      <h2>Team</h2>
      <p className="second">Whom the public may see. Directories take different numbers of them, the first ones first.</p>
      <Entries
        path="team"
        one="Member"
        items={r.team}
        blank={{ name: '', role: '', email: '', phone: '', photo: '' }}
        columns={[
          { key: 'name', title: 'Name' },
          { key: 'role', title: 'What they do' },
          { key: 'email', title: 'Email' },
          { key: 'phone', title: 'Phone' },
        ]}
        photo
        onChange={(team) => set({ team })}
      />
    </section>
  )
}
