import { useLayoutEffect, useRef, useState } from 'react'
import { Button } from 'react-bootstrap'
import type { Schemas } from '../api/client'
import { useCopy } from '../app/copy'
import { typing } from '../app/say'

export type Line = Schemas['WorksheetLine']

// Lines are a worksheet's values, of which one is marked.
export function Lines({ label, lines, onTick }: { label: string; lines: Line[]; onTick: (line: Line, given: boolean) => void }) {
  const toClipboard = useCopy()
  const [at, setAt] = useState(() =>
    Math.max(
      0,
      lines.findIndex((x) => !x.given),
    ),
  )
  const table = useRef<HTMLTableElement>(null)
  const go = (i: number) => {
    const next = Math.max(0, Math.min(lines.length - 1, i))
    setAt(next)
    table.current?.rows[next]?.scrollIntoView({ block: 'nearest' })
  }
  const copy = async (i: number) => {
    const line = lines[i]
    if (!line || !(await toClipboard(line.value.label, line.value.text))) return
    onTick(line, true)
    const rest = lines.findIndex((x, j) => j > i && !x.given)
    go(rest >= 0 ? rest : i)
  }
  // Before the picture changes: a key pressed at once acts on what is shown, not on what was.
  useLayoutEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return
      const does: Record<string, () => void> = {
        c: () => void copy(at),
        j: () => go(at + 1),
        k: () => go(at - 1),
        ArrowDown: () => go(at + 1),
        ArrowUp: () => go(at - 1),
        x: () => lines[at] && onTick(lines[at], !lines[at].given),
      }
      const act = does[e.key]
      if (!act) return
      e.preventDefault()
      e.stopPropagation()
      act()
    }
    window.addEventListener('keydown', onKey, true)
    return () => window.removeEventListener('keydown', onKey, true)
  })
  return (
    <table className="grid values" aria-label={label} ref={table}>
      <tbody>
        {lines.map((x, i) => (
          <tr
            key={x.value.key}
            className={(i === at ? 'marked ' : '') + (x.given ? 'given' : '')}
            aria-current={i === at}
            onClick={() => setAt(i)}
          >
            <td>
              <input
                type="checkbox"
                className="form-check-input"
                aria-label={`${x.value.label} is given`}
                checked={x.given}
                onChange={(e) => onTick(x, e.target.checked)}
              />
            </td>
            <th scope="row">{x.value.label}</th>
            <td className="text">
              <Value line={x} />
            </td>
            <td className="acts-cell no-print">
              <Button variant="link" size="sm" className="p-0" title="c" onClick={() => void copy(i)}>
                Copy
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

// Value is what is given, and what to know of it.
function Value({ line: x }: { line: Line }) {
  return (
    <>
      {x.value.text}
      {x.value.tick && <span className="says">Tick “{x.value.tick}”, or nobody sees it.</span>}
      {x.value.says.map((t) => (
        <span className="says second" key={t}>
          {t}
        </span>
      ))}
      {x.before && <span className="says">Last time: {x.before}</span>}
      {x.new && <span className="says">New since last time.</span>}
    </>
  )
}
