import { Form } from 'react-bootstrap'
import { useFacts } from '../../api/queries'
import { Chips } from '../Chips'
import { FactField, Field, problemAt, TextField } from '../Field'
import { factAt, useHeld, withFact } from '../held'
import { State } from './State'

const kinds: [string, string][] = [
  ['premises', 'Premises: people come'],
  ['goes_to_customers', 'Goes to customers'],
  ['both', 'Both'],
]

// Identity is who the location is. A client's own form has no label, kind or state.
export function Identity() {
  const { record: r, set, problems, shared } = useHeld()
  return (
    <section className="sheet">
      <h2>Identity</h2>
      <div className="fields">
        <FactField label="Trading name" path="name" width="w3" help="As on the sign." />
        <FactField label="Legal name" path="legal_name" width="w3" help="As on papers." />
        {shared && (
          <>
            <FactField label="What we call this location" path="label" width="w2" placeholder={r.address.locality} />
            <FactField label="Store code" path="store_code" width="w1" />
          </>
        )}
        <TextField
          label="Former names"
          path="former_names"
          width="w3"
          value={r.former_names.join(' | ')}
          problem={problemAt(problems, 'former_names.0')}
          help="Parted by | ; searches look for them too."
          onChange={(t) => set({ former_names: t === '' ? [] : t.split('|').map((n) => n.trimStart()) })}
        />
        {shared && (
          <>
            <TextField
              label="Former addresses"
              path="former_addresses"
              width="w6"
              value={r.former_addresses.join(' | ')}
              problem={problemAt(problems, 'former_addresses.0')}
              placeholder="4 Rope Walk, Port Sable, WA 98991"
              help="Each on one line, parted by | ; searches look there too. What this record said before is among them by itself."
              onChange={(t) => set({ former_addresses: t === '' ? [] : t.split('|').map((n) => n.trimStart()) })}
            />
            <div className="w6">
              <span className="form-label d-inline-block">Kind of location</span>
              <div className="checks" role="radiogroup" aria-label="Kind of location">
                {kinds.map(([kind, words]) => (
                  <Form.Check
                    key={kind}
                    type="radio"
                    name="kind"
                    id={'kind-' + kind}
                    label={words}
                    checked={r.kind === kind}
                    onChange={() => set({ kind })}
                  />
                ))}
              </div>
            </div>
            <State state={r.state} opened={r.opened} problems={problems} onChange={set} />
          </>
        )}
      </div>
    </section>
  )
}

// Company is the firm behind the location: what some directories ask for before
// a claim.
export function Company() {
  const { record: r, set, problems } = useHeld()
  const facts = useFacts().data
  return (
    <section className="sheet">
      <h2>The company</h2>
      <p className="second">Some directories ask for these before a claim. Mostly the client says them once for all.</p>
      <div className="fields">
        <FactField label="Registration number" path="company.registration" width="w2" />
        <Choice label="Kind of company" path="company.kind" of={facts?.company_kinds ?? []} />
        <Choice label="Company size" path="company.size" of={facts?.company_sizes ?? []} unit="people" />
        <FactField label="Industry" path="company.industry" width="w2" />
        <FactField label="Founded" path="company.founded" width="w2" placeholder="1987" />
        <Chips
          label="Domains"
          path="company.domains"
          width="w2"
          items={r.company.domains}
          problem={problemAt(problems, 'company.domains') ?? problemAt(problems, 'company.domains.0')}
          help="Of its sites and mail. Enter adds one."
          onChange={(domains) => set(withFact(r, 'company.domains', domains))}
        />
      </div>
    </section>
  )
}

// Choice is a fact that is one of a list.
function Choice({ label, path, of, unit }: { label: string; path: string; of: string[]; unit?: string }) {
  const { record, set, problems } = useHeld()
  return (
    <Field label={label} path={path} width="w2" problem={problemAt(problems, path)}>
      {(id, invalid) => (
        <Form.Select
          id={id}
          value={factAt(record, path) as string}
          isInvalid={invalid}
          onChange={(e) => set(withFact(record, path, e.target.value))}
        >
          <option value="">not said</option>
          {of.map((o) => (
            <option key={o} value={o}>
              {unit ? `${o} ${o === '1' ? 'person' : unit}` : o}
            </option>
          ))}
        </Form.Select>
      )}
    </Field>
  )
}
