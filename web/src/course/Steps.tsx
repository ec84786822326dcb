import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { dateWords } from '../app/clock'
import { listingPath } from '../app/place'

type Step = Schemas['CourseStep']

export const byHand = (s: Step) => s.act === 'tell' || s.act === 'give' || s.act === 'leave'

// Steps are what is done on each directory, in order.
export function Steps({ steps, many, act }: { steps: Step[]; many: boolean; act?: (s: Step) => ReactNode }) {
  return (
    <ol className="course">
      {steps.map((s) => (
        <li key={s.location + s.directory + s.act + s.facts.join()} className={s.final ? 'final' : undefined}>
          <time dateTime={s.on}>{dateWords(s.on)}</time>
          <div>
            <Link to={listingPath(s.location, s.directory)} data-row>
              {many && `${s.label} on `}
              {s.directory_name}
            </Link>
            <p>{s.says}</p>
          </div>
          <div className="marks">
            {s.final && <span className="tag stop">cannot be taken back</span>}
            {s.verifies && <span className="tag">new verification</span>}
            {s.after && <span className="tag wait">{s.after}</span>}
            {s.busy && <span className="tag wait">asked just now</span>}
          </div>
          <div className="do">{act ? act(s) : <span className="second">{byHand(s) || s.final ? 'by you' : 'by Uvent'}</span>}</div>
        </li>
      ))}
    </ol>
  )
}
