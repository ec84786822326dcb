import { useQuery } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { api, told } from '../api/client'
import { useTimes } from '../app/clock'
import { counted } from '../app/View'

// Versions are a rulebook's texts so far; each can be taken up again.
export function Versions({ directory, onTake }: { directory: string; onTake: (text: string) => void }) {
  const at = useTimes('UTC')
  const versions = useQuery({
    queryKey: ['versions', directory],
    queryFn: () => told(api.GET('/api/directories/{directory}/versions', { params: { path: { directory } } })),
  }).data
  if (!versions || versions.length < 2) return null
  return (
    <details>
      <summary>{counted(versions.length, 'version')}</summary>
      <ul className="plain-list">
        {versions.map((v, i) => (
          <li key={v.version} className="d-flex justify-content-between">
            <div>
              <b>{v.version === 0 ? 'As it came' : `Version ${v.version}`}</b>
              <span>
                {v.saved_at ? `${v.saved_by}, ${at(v.saved_at)}` : v.saved_by}
                {i === 0 && '; in force'}
              </span>
            </div>
            <Button variant="link" size="sm" onClick={() => onTake(v.text)}>
              Take this text
            </Button>
          </li>
        ))}
      </ul>
    </details>
  )
}
