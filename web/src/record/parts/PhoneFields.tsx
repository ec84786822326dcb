import { useQuery } from '@tanstack/react-query'
import { Button, Form } from 'react-bootstrap'
import { api, told, type FieldProblem, type Rec } from '../../api/client'
import { problemAt, TextField } from '../Field'

const most = 3

const kinds: Record<string, string> = {
  landline: 'a landline',
  mobile: 'a mobile',
  landline_or_mobile: 'a landline or a mobile',
  toll_free: 'toll-free',
  other: 'a number',
}

// PhoneFields are a record's phones and what each can do. The first is the main one.
export function PhoneFields({
  phones,
  country,
  problems,
  onChange,
}: {
  phones: Rec['phones']
  country: string
  problems: FieldProblem[]
  onChange: (p: Rec['phones']) => void
}) {
  const rows = phones.length === 0 ? [{ e164: '', voice: true, text: false }] : phones
  const set = (i: number, part: Partial<Rec['phones'][number]>) => onChange(rows.map((p, j) => (i === j ? { ...p, ...part } : p)))
  return (
    <>
      {rows.map((p, i) => (
        <div className="phone-row" key={i}>
          <Number
            label={i === 0 ? 'Main phone' : `Phone ${i + 1}`}
            value={p.e164}
            country={country}
            problem={problemAt(problems, `phones.${i}.e164`)}
            onChange={(e164) => set(i, { e164 })}
          />
          <div className="w3">
            <span className="form-label d-inline-block">It can take</span>
            <div className="checks">
              <Form.Check id={`voice-${i}`} label="calls" checked={p.voice} onChange={(e) => set(i, { voice: e.target.checked })} />
              <Form.Check id={`text-${i}`} label="texts" checked={p.text} onChange={(e) => set(i, { text: e.target.checked })} />
              {rows.length > 1 && (
                <Button variant="link" size="sm" onClick={() => onChange(rows.filter((_, j) => j !== i))}>
                  Take out
                </Button>
              )}
              {i === rows.length - 1 && rows.length < most && p.e164 && (
                <Button variant="link" size="sm" onClick={() => onChange([...rows, { e164: '', voice: true, text: false }])}>
                  Add a phone
                </Button>
              )}
            </div>
          </div>
        </div>
      ))}
    </>
  )
}

function Number({
  label,
  value,
  country,
  problem,
  onChange,
}: {
  label: string
  value: string
  country: string
  problem?: string
  onChange: (t: string) => void
}) {
  const read = useQuery({
    queryKey: ['phone', value, country],
    queryFn: () => told(api.POST('/api/phones', { body: { phone: value, country } })),
    enabled: value.length > 3,
    staleTime: Infinity,
  }).data
  const says = !read ? undefined : read.valid ? `${read.national}, ${kinds[read.kind]}` : `Not yet a phone: ${read.reason}`
  return (
    <TextField label={label} width="w3" type="tel" value={value} onChange={onChange} problem={problem} help={value ? says : undefined} />
  )
}
