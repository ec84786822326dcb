import { useId } from 'react'
import type { Schemas } from '../api/client'

type Part = 'empty' | 'wait' | 'done' | 'stop'

const control: Record<Schemas['Strand']['control'], [Part, string]> = {
  none: ['empty', 'not held'],
  asked: ['wait', 'asked for'],
  held: ['done', 'held'],
  held_by_another: ['stop', 'held by another'],
  lost: ['stop', 'lost'],
}

const verification: Record<Schemas['Strand']['verification'], [Part, string]> = {
  not_begun: ['empty', 'verification not begun'],
  code_on_its_way: ['wait', 'code on its way'],
  code_at_hand: ['wait', 'code at hand'],
  in_review: ['wait', 'in review'],
  verified: ['done', 'verified'],
  refused: ['stop', 'verification refused'],
  lapsed: ['stop', 'code lapsed'],
}

const visibility: Record<Schemas['Strand']['visibility'], [Part, string]> = {
  absent: ['empty', 'not there'],
  hidden: ['empty', 'hidden'],
  publishing: ['wait', 'being published'],
  public: ['done', 'public'],
  withdrawn: ['stop', 'withdrawn by us'],
  suspended: ['stop', 'suspended'],
  removed: ['stop', 'removed'],
}

export const strandWords = (s: Schemas['Strand']) =>
  [control[s.control], verification[s.verification], visibility[s.visibility]].map((p) => p[1]).join(', ')

const sizes = { small: 9, cell: 11, middle: 12, large: 24 }

// Strand is our mark of a listing: control, verification and visibility as
// three slanted segments, each empty, hatched (waiting), filled (done) or
// struck (stopped), so that it reads without colour.
export function Strand({ strand, size = 'middle' }: { strand: Schemas['Strand']; size?: keyof typeof sizes }) {
  const hatch = useId()
  const words = strandWords(strand)
  const h = sizes[size]
  return (
    <svg className="strand" width={3.45 * h} height={h} viewBox="-0.5 -0.5 42 13" role="img" aria-label={words}>
      <title>{words}</title>
      <pattern id={hatch} width="3.2" height="3.2" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="3.2" height="3.2" fill="#e4e7f3" />
        <rect width="1.3" height="3.2" fill="#4a5fa5" />
      </pattern>
      {[control[strand.control][0], verification[strand.verification][0], visibility[strand.visibility][0]].map((part, i) => (
        <g key={i} transform={`translate(${i * 13.4} 0)`}>
          <path d="M3.4 0.4h10l-3.1 11.2H0.3z" className={part + '-part'} fill={part === 'wait' ? `url(#${hatch})` : undefined} />
          {part === 'stop' && <path d="M1.8 10.8 12 1.2" className="stroke" strokeWidth="1.4" />}
        </g>
      ))}
    </svg>
  )
}
