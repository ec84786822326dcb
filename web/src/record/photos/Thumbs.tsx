import type { KeyboardEvent } from 'react'
import type { Schemas } from '../../api/client'
import { counted } from '../../app/View'
import type { Order } from './useOrder'

type Photo = Schemas['Photo']

const moved = 'text/uvent-photo'

// Thumbs are the photos in their order, by what they show. They are dragged about, or moved with keys.
export function Thumbs({
  photos,
  groups,
  chosen,
  onChoose,
  order,
}: {
  photos: Photo[]
  groups: Schemas['Column'][]
  chosen?: Photo
  onChoose: (id: string) => void
  order: Order
}) {
  const byKey = (e: KeyboardEvent, p: Photo, group: Photo[]) => {
    if (!e.altKey || (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight')) return
    e.preventDefault()
    const at = group.indexOf(p)
    const before = e.key === 'ArrowLeft' ? group[at - 1] : group[at + 2]
    if (before) order.before(p.id, before)
    else if (e.key === 'ArrowRight' && group[at + 1]) order.last(p)
  }
  return (
    <ul className="sheet thumbs">
      {groups.flatMap((g) => {
        const group = photos.filter((p) => p.group === g.key)
        return group.map((p) => (
          <li
            key={p.id}
            draggable
            onDragStart={(e) => e.dataTransfer.setData(moved, p.id)}
            onDragOver={(e) => e.dataTransfer.types.includes(moved) && e.preventDefault()}
            onDrop={(e) => {
              e.preventDefault()
              order.before(e.dataTransfer.getData(moved), p)
            }}
          >
            <button
              type="button"
              aria-pressed={p.id === chosen?.id}
              title={p.file_name + '; Alt with an arrow moves it'}
              onClick={() => onChoose(p.id)}
              onKeyDown={(e) => byKey(e, p, group)}
            >
              <img src={`/api/photos/${p.id}/small`} alt={p.alternative || p.file_name} draggable={false} />
              <b>{g.title}</b>
              <span>{remarks(p)}</span>
            </button>
          </li>
        ))
      })}
    </ul>
  )
}

// remarks are what to know of a photo at a glance.
function remarks(p: Photo): string {
  const faults = p.fits.reduce((n, f) => n + f.faults.length, 0)
  return [p.shared && 'client’s', p.blurred && 'blurred', p.like && 'twice', faults > 0 && counted(faults, 'fault')]
    .filter(Boolean)
    .join(' · ')
}
