import type { Schemas } from '../api/client'
import { Strand } from '../marks/Strand'

const legend: [Schemas['Strand'], string][] = [
  [{ control: 'held', verification: 'verified', visibility: 'public' }, 'held, verified, public'],
  [{ control: 'held', verification: 'code_on_its_way', visibility: 'hidden' }, 'waiting'],
  [{ control: 'held', verification: 'lapsed', visibility: 'hidden' }, 'stopped'],
  [{ control: 'none', verification: 'not_begun', visibility: 'absent' }, 'not begun'],
]

// Legend says what the marks in the table mean.
export function Legend({ fitted }: { fitted: boolean }) {
  return (
    <div className="legend mt-2">
      {fitted ? (
        <span>
          A number is how complete the listing can be with what the record says; <b className="mono">∅</b> counts what is required and
          missing there, <b className="mono">≠</b> what it would show otherwise than it is, <b className="mono">*</b> the values of its own.
        </span>
      ) : (
        legend.map(([strand, words]) => (
          <span key={words}>
            <Strand strand={strand} /> {words}
          </span>
        ))
      )}
      <span>
        <b className="mono">–</b> cannot be listed there
      </span>
      <span>
        <b className="mono">·</b> not wanted
      </span>
    </div>
  )
}
