import { useQuery } from '@tanstack/react-query'
import { Dropdown } from 'react-bootstrap'
import { api, told } from '../../api/client'
import { useWhose } from '../held'

// PhotoPick chooses one of the photos for an entry, or none.
export function PhotoPick({ label, value, onChange }: { label: string; value: string; onChange: (id: string) => void }) {
  const query = useWhose()
  const photos =
    useQuery({
      queryKey: ['photos', query],
      queryFn: () => told(api.GET('/api/photos', { params: { query: query ?? {} } })),
      enabled: !!query,
    }).data ?? []
  return (
    <Dropdown className="photo-pick">
      <Dropdown.Toggle as="button" type="button" aria-label={label} tabIndex={-1} disabled={photos.length === 0 && !value}>
        {value ? (
          <img src={`/api/photos/${value}/small`} alt="" />
        ) : (
          <span title={photos.length === 0 ? 'Bring photos in first' : label}>+</span>
        )}
      </Dropdown.Toggle>
      <Dropdown.Menu>
        {value && <Dropdown.Item onClick={() => onChange('')}>No photo</Dropdown.Item>}
        {photos.map((p) => (
          <Dropdown.Item key={p.id} onClick={() => onChange(p.id)} active={p.id === value}>
            <img src={`/api/photos/${p.id}/small`} alt="" /> {p.caption || p.file_name}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  )
}
