import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef, useState } from 'react'

export type Windowed = {
  // The lines to draw, by their place.
  seen: number[]
  // How much room the lines before and after them take, in pixels.
  before: number
  after: number
  // Where the whole of it hangs, so that it is known how far it stands down the view.
  table: React.RefObject<HTMLTableElement | null>
  // Measures a line whose height is not known beforehand.
  measure: (line: HTMLElement | null) => void
}

// useWindow draws only those of many lines that are looked at, and keeps the room of the others.
// Lines are as high as `height` says, in pixels, until they are measured.
export function useWindow(count: number, height: number): Windowed {
  const table = useRef<HTMLTableElement>(null)
  const [top, setTop] = useState(0)
  useEffect(() => setTop(table.current?.offsetTop ?? 0), [count])
  // eslint-disable-next-line react-hooks/incompatible-library -- its answer is read in this render only
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => document.getElementById('view'),
    estimateSize: () => height,
    overscan: 20,
    scrollMargin: top,
  })
  const items = virtual.getVirtualItems()
  const first = items[0]
  const last = items.at(-1)
  return {
    seen: items.map((i) => i.index),
    before: first ? first.start - top : 0,
    after: last ? virtual.getTotalSize() - (last.end - top) : 0,
    table,
    measure: virtual.measureElement,
  }
}
