import { useRef, useState } from 'react'
import type { Schemas } from '../../api/client'

type Focus = Schemas['Focus']

const within = (v: number) => Math.max(0, Math.min(1, v))

// FocusField shows a photo and what must be seen of it: a click sets a point, a
// drag a box, the arrow keys move it.
export function FocusField({ photo, onFocus }: { photo: Schemas['Photo']; onFocus: (f: Focus) => void }) {
  const box = useRef<HTMLDivElement>(null)
  const start = useRef<{ x: number; y: number }>(undefined)
  const [drawn, setDrawn] = useState<Focus>()
  const focus = drawn ?? photo.focus
  const at = (e: React.PointerEvent) => {
    const b = box.current!.getBoundingClientRect()
    return { x: within((e.clientX - b.x) / b.width), y: within((e.clientY - b.y) / b.height) }
  }
  const between = (a: { x: number; y: number }, b: { x: number; y: number }): Focus => ({
    x: Math.min(a.x, b.x),
    y: Math.min(a.y, b.y),
    w: Math.abs(a.x - b.x),
    h: Math.abs(a.y - b.y),
  })
  return (
    <div
      ref={box}
      className="focus-field"
      role="application"
      tabIndex={0}
      aria-label="What must be seen. A click sets a point, a drag a box, arrow keys move it."
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        start.current = at(e)
      }}
      onPointerMove={(e) => {
        if (!start.current) return
        const next = between(start.current, at(e))
        if (next.w > 0.02 || next.h > 0.02) setDrawn(next)
      }}
      onPointerUp={(e) => {
        if (!start.current) return
        onFocus(drawn ?? { ...at(e), w: 0, h: 0 })
        start.current = undefined
        setDrawn(undefined)
      }}
      onPointerCancel={() => {
        start.current = undefined
        setDrawn(undefined)
      }}
      onKeyDown={(e) => {
        const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key]
        if (!by) return
        e.preventDefault()
        onFocus({
          ...focus,
          x: Math.min(1 - focus.w, within(focus.x + by[0]! * 0.02)),
          y: Math.min(1 - focus.h, within(focus.y + by[1]! * 0.02)),
        })
      }}
    >
      <img src={`/api/photos/${photo.id}/screen`} alt={photo.alternative} draggable={false} width={photo.width} height={photo.height} />
      <span
        className={focus.w > 0 || focus.h > 0 ? 'focus-box' : 'focus-point'}
        style={{ left: `${focus.x * 100}%`, top: `${focus.y * 100}%`, width: `${focus.w * 100}%`, height: `${focus.h * 100}%` }}
      />
    </div>
  )
}
