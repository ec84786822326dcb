import type { ReactNode } from 'react'
import { Do, type Verb } from '../kit/verb'

// Endable lists what was given out and can be ended: sessions, keys, addresses.
export function Endable<T extends { id: string }>({
  list,
  end,
  kept,
  children,
}: {
  list?: T[]
  end: Verb<unknown, string>
  kept?: (one: T) => boolean // cannot be ended here
  children: (one: T) => ReactNode
}) {
  return (
    <ul className="made-links">
      {list?.map((one) => (
        <li key={one.id}>
          <span>{children(one)}</span>
          {!kept?.(one) && (
            <Do verb={end} of={one.id} variant="link" size="sm" className="p-0">
              End it
            </Do>
          )}
        </li>
      ))}
    </ul>
  )
}
