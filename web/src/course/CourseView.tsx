import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { useParams } from 'react-router'
import { api, Refusal, told, type FieldProblem, type Schemas } from '../api/client'
import { useClients, useLocationRecord } from '../api/queries'
import { Lacking, Needs } from '../app/Needs'
import { usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { Plans } from '../record/Notices'
import { Failed, useVerb } from '../kit/verb'
import { Chosen, type Choosable } from '../kit/Chosen'
import { Standing } from '../verification/Rounds'
import { byHand, Steps } from './Steps'
import { ToTell } from './ToTell'
import { first, TurnForm, turnOf, type Wanted } from './TurnForm'

// CourseView closes locations, opens them again or moves them, and shows what that comes to
// on every directory before it is done.
export function CourseView() {
  const { scope } = usePlace()
  const { location = '' } = useParams()
  const name = useScopeName(scope)
  const clients = useClients()
  const record = useLocationRecord(location)
  if (!clients.data || (location && !record.data)) return <Pending error={clients.error ?? record.error} />
  const all = clients.data
    .filter((c) => !scope.client || c.id === scope.client)
    .flatMap((c) => c.locations.filter((l) => !location || l.id === location).map((l) => ({ ...l, more: c.name })))
  return (
    <>
      <ViewHead
        title={name ? `Close, move, reopen: ${name}` : 'Close, move, reopen'}
        says="Every directory is told in its own way, and in an order that loses nothing."
      />
      {location && <Plans location={location} />}
      <Lacking />
      <Needs what="send">
        <Turning key={location || scope.client || ''} all={all} record={record.data?.record} />
        <ToTell scope={scope} />
      </Needs>
    </>
  )
}

function Turning({ all, record }: { all: Choosable[]; record?: Schemas['Record'] }) {
  const [wanted, setWanted] = useState<Wanted>(() => first(record))
  const [left, setLeft] = useState<ReadonlySet<string>>(() => new Set(all.length === 1 ? [] : all.map((l) => l.id)))
  const [round, setRound] = useState<string>()
  const locations = all.filter((l) => !left.has(l.id)).map((l) => l.id)
  const body = turnOf(wanted, locations)
  const layout = useQuery({
    queryKey: ['course-layout', body],
    queryFn: () => told(api.POST('/api/course-layouts', { body: body! })),
    enabled: !!body,
    retry: false,
    placeholderData: (before) => before,
  })
  const set = useVerb({
    does: () => told(api.POST('/api/courses', { body: body! })),
    changes: 'all',
    then: (s) => setRound(s.round),
    says: (s) =>
      s.changed > 0
        ? `${counted(s.changed, 'record')} changed.`
        : `${counted(s.planned, 'change')} ${s.planned === 1 ? 'waits for its date' : 'wait for their dates'}.`,
    undo: async ({ batch }) => {
      const u = await told(api.DELETE('/api/courses/{batch}', { params: { path: { batch } } }))
      setRound(undefined)
      return u.left.length > 0
        ? `Taken back, but for ${u.left.join(', ')}, which changed since.`
        : 'Taken back. Directories that were told are told so again.'
    },
  })
  const error = set.error ?? layout.error
  const problems: FieldProblem[] = error instanceof Refusal ? error.fields : []
  const steps = body ? (layout.data ?? []) : []
  const own = steps.filter((s) => byHand(s) || s.final).length
  return (
    <>
      <form
        className="sheet turning"
        onSubmit={(e) => {
          e.preventDefault()
          if (body) set.mutate()
        }}
      >
        <h2>What happens</h2>
        <TurnForm wanted={wanted} single={all.length === 1} problems={problems} onChange={setWanted} />
        {all.length > 1 && <Chosen of="location" all={all} left={left} onChange={setLeft} />}
        <Failed error={problems.length === 0 ? error : null} />
        <p className="turn-acts">
          <Button type="submit" disabled={!body || set.isPending || !!layout.error}>
            {set.isPending ? 'Changing' : wanted.on ? 'Do it from that day' : 'Do it now'}
          </Button>
          <span className="second">
            {!body
              ? (wanted.lacks ?? (locations.length === 0 ? 'Choose locations.' : 'Say what happens.'))
              : layout.isPending
                ? 'Laying it out'
                : steps.length === 0
                  ? 'No listing has to be told of it.'
                  : `${counted(steps.length, 'step')}: Uvent does ${steps.length - own} by itself${own > 0 ? `, ${own} ${own === 1 ? 'is' : 'are'} left to you` : ''}.`}
          </span>
        </p>
      </form>
      {round && <Standing id={round} onClose={() => setRound(undefined)} />}
      {steps.length > 0 && !set.isSuccess && <Steps steps={steps} many={all.length > 1} />}
    </>
  )
}
