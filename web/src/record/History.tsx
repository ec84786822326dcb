import { useQuery } from '@tanstack/react-query'
import { Modal } from 'react-bootstrap'
import { api, told } from '../api/client'
import { useTimes } from '../app/clock'
import { Pending } from '../app/View'
import { Do, Failed, useVerb } from '../kit/verb'

// History lists when a record was saved, by whom, and what changed; each saving
// can be taken back by itself.
export function History({ location, zone, show, onHide }: { location: string; zone: string; show: boolean; onHide: () => void }) {
  const path = { params: { path: { location } } }
  const history = useQuery({
    queryKey: ['history', location],
    queryFn: () => told(api.GET('/api/locations/{location}/history', path)),
    enabled: show,
  })
  const at = useTimes(zone)
  const back = useVerb({
    does: (saved: number) => told(api.POST('/api/locations/{location}/history/{saved}/undo', { params: { path: { location, saved } } })),
    changes: ['history', 'location'],
    says: () => 'Taken back.',
  })
  return (
    <Modal show={show} onHide={onHide} size="lg" scrollable>
      <Modal.Header closeButton>
        <Modal.Title as="h2">What was saved, and when</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Failed error={back.error} />
        {!history.data ? (
          <Pending error={history.error} />
        ) : (
          <ol className="savings">
            {history.data.map((s) => (
              <li key={s.id}>
                <div>
                  <b>{at(s.at)}</b> <span className="second">{s.actor}</span>
                  {s.from && <span className="second"> from {s.from}</span>}
                  {s.added ? (
                    <p>The location was added.</p>
                  ) : (
                    <dl>
                      {s.changes.map((c) => (
                        <div key={c.path}>
                          <dt>{c.title}</dt>
                          <dd>
                            {c.before ? <del>{c.before}</del> : <span className="second">not said</span>} →{' '}
                            {c.after ? <ins>{c.after}</ins> : <span className="second">not said</span>}
                          </dd>
                        </div>
                      ))}
                    </dl>
                  )}
                </div>
                {!s.added && (
                  <Do verb={back} of={s.id} variant="outline-secondary" size="sm">
                    Take back
                  </Do>
                )}
              </li>
            ))}
          </ol>
        )}
      </Modal.Body>
    </Modal>
  )
}
