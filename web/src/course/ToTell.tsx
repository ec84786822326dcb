import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { api, told, type Schemas } from '../api/client'
import { useCopy } from '../app/copy'
import { listingPath, type Scope } from '../app/place'
import { Do, useVerb } from '../kit/verb'
import { Standing } from '../verification/Rounds'
import { byHand, Steps } from './Steps'

type Step = Schemas['CourseStep']

// ToTell is what directories do not say yet, though the records do, with what does it.
export function ToTell({ scope }: { scope: Scope }) {
  const course = useQuery({
    queryKey: ['course', scope],
    queryFn: () => told(api.GET('/api/courses', { params: { query: { client: scope.client, location: scope.location } } })),
  })
  const copy = useCopy()
  const [round, setRound] = useState<string>()
  const [sure, setSure] = useState('')
  const start = useVerb({
    does: ({ steps, method }: { steps: Step[]; method?: string }) =>
      told(
        api.POST('/api/rounds', {
          body: { what: 'send', items: steps.map(({ location, directory }) => ({ location, directory, method })) },
        }),
      ),
    changes: ['course'],
    then: (r) => setRound(r.id),
    tells: true,
  })
  const tell = useVerb({
    does: (s: Step) =>
      told(api.POST('/api/listings/{location}/{directory}/told', { params: { path: { location: s.location, directory: s.directory } } })),
    changes: ['course', 'today'],
    tells: true,
  })
  const steps = course.data ?? []
  const now = steps.filter((s) => s.now && !s.busy && !s.final && !byHand(s))
  if (steps.length === 0 && !round) return null
  return (
    <section>
      <div className="group-head">
        <h2>To be told now</h2>
        <span>what the records say, and these directories do not</span>
        {now.length > 0 && (
          <Button className="ms-auto" disabled={start.isPending} onClick={() => start.mutate({ steps: now })}>
            {now.length === 1 ? 'Do it' : `Do the ${now.length} that Uvent can`}
          </Button>
        )}
      </div>
      {round && <Standing id={round} onClose={() => setRound(undefined)} />}
      {steps.length > 0 && (
        <Steps
          steps={steps}
          many={!scope.location}
          act={(s) => {
            const key = s.location + s.directory
            if (s.act === 'give')
              return (
                <Link className="btn btn-outline-secondary" to={listingPath(s.location, s.directory) + '?look=worksheet'}>
                  Open the worksheet
                </Link>
              )
            if (s.act === 'leave')
              return (
                s.now && (
                  <Link className="btn btn-outline-secondary" to={listingPath(s.location, s.directory)}>
                    Open the listing
                  </Link>
                )
              )
            if (s.act === 'tell')
              return (
                <>
                  <Button variant="outline-secondary" onClick={() => void copy('The text', s.words)} title={s.words}>
                    Copy the text
                  </Button>
                  <Do verb={tell} of={s} variant="outline-secondary">
                    They are told
                  </Do>
                </>
              )
            if (s.busy || !s.now) return null
            if (s.final)
              return sure === key ? (
                <Button
                  variant="danger"
                  disabled={start.isPending}
                  onClick={() => {
                    setSure('')
                    start.mutate({ steps: [s], method: 'confirmed' })
                  }}
                >
                  Yes, for good
                </Button>
              ) : (
                <Button variant="outline-secondary" onClick={() => setSure(key)}>
                  Do it, for good
                </Button>
              )
            return <span className="second">by Uvent</span>
          }}
        />
      )}
    </section>
  )
}
