import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import type { Listing, Schemas } from '../api/client'
import { pathOf } from '../app/place'
import { Failed } from '../kit/verb'
import { useListingVerb } from './verbs'

// PaperCheck lays the papers that the directory would take beside the record, before
// anybody there does.
export function PaperCheck({ listing: l }: { listing: Listing }) {
  if (l.papers.length === 0) return null
  return (
    <>
      {l.papers.map((p) => (
        <Compared key={p.id} listing={l} paper={p} />
      ))}
    </>
  )
}

function Compared({ listing: l, paper: p }: { listing: Listing; paper: Schemas['ComparedPaper'] }) {
  const faults = p.findings.filter((f) => !f.good)
  return (
    <section className="sheet mt-3 paper-check" aria-label={p.file_name}>
      <div className="sheet-head">
        <h2>
          {p.kind}, <span className="mono">{p.file_name}</span>
        </h2>
        <span className="second">{faults.length === 0 ? 'agrees with the record' : `${faults.length} to mend before it is sent`}</span>
      </div>
      {faults.length > 0 && <Sides listing={l} paper={p} />}
    </section>
  )
}

// Sides are what stands on a paper, and what the record says of it.
function Sides({ listing: l, paper: p }: { listing: Listing; paper: Schemas['ComparedPaper'] }) {
  const verb = useListingVerb(l)
  const faults = p.findings.filter((f) => !f.good)
  const marked = new Map(p.findings.filter((f) => f.line >= 0).map((f) => [f.line, f.good && !faults.some((x) => x.line === f.line)]))
  return (
    <>
      <Failed error={verb.error} />
      <div className="paper-two">
        <pre className="paper-text" aria-label="What stands on the paper">
          {p.words.split('\n').map((line, i) => (
            <span key={i} className={marked.has(i) ? (marked.get(i) ? 'same' : 'other') : ''}>
              {marked.has(i) ? (marked.get(i) ? '= ' : '≠ ') : '  '}
              {line}
              {'\n'}
            </span>
          ))}
        </pre>
        <ul className="paper-findings">
          {p.findings.map((f) => (
            <li key={f.fact}>
              <b className={f.good ? 'good' : 'bad'} aria-hidden="true">
                {f.good ? '=' : '≠'}
              </b>
              <div>
                {f.record && <span className="second small">Record: {f.record}</span>}
                <p>{f.says}</p>
                {!f.good && (f.mend || f.fact !== 'text') && (
                  <p className="d-flex flex-wrap gap-2">
                    {f.mend && (f.fact === 'unit' || f.fact === 'name') && (
                      <Button
                        variant="outline-secondary"
                        size="sm"
                        disabled={verb.isPending}
                        onClick={() => verb.mutate({ do: 'mend', paper: p.id, fact: f.fact as 'unit' | 'name' })}
                      >
                        {f.mend === '–' ? 'Take it out of the record' : `Put “${f.mend}” into the record`}
                      </Button>
                    )}
                    <Link className="btn btn-sm btn-outline-secondary" to={pathOf('record', { location: l.row.location }) + '#papers'}>
                      Add another paper
                    </Link>
                  </p>
                )}
              </div>
            </li>
          ))}
        </ul>
      </div>
    </>
  )
}
