import { useRef } from 'react'
import { Button } from 'react-bootstrap'
import type { Schemas } from '../api/client'

// RulebookEditor is the text, with its lines numbered and its mistakes listed below it; each leads to
// its line.
export function RulebookEditor({
  text,
  problems,
  onChange,
}: {
  text: string
  problems: Schemas['RulebookCheck']['problems']
  onChange: (text: string) => void
}) {
  const area = useRef<HTMLTextAreaElement>(null)
  const lines = text.split('\n')
  const jump = (line: number) => {
    const el = area.current
    if (!el) return
    const start = lines.slice(0, line - 1).reduce((n, l) => n + l.length + 1, 0)
    el.focus()
    el.setSelectionRange(start, start + (lines[line - 1]?.length ?? 0))
    el.scrollTop = (line - 4) * 18
  }
  return (
    <>
      <div className="editor">
        <pre aria-hidden="true">{lines.map((_, i) => (problems.some((p) => p.line === i + 1) ? `▸${i + 1}` : `${i + 1}`)).join('\n')}</pre>
        <textarea
          ref={area}
          aria-label="The rulebook"
          spellCheck={false}
          value={text}
          rows={Math.min(26, lines.length + 1)}
          onChange={(e) => onChange(e.target.value)}
          onScroll={(e) => {
            const gutter = e.currentTarget.previousElementSibling
            if (gutter) gutter.scrollTop = e.currentTarget.scrollTop
          }}
        />
      </div>
      {problems.length > 0 && (
        <ul className="problems" role="alert">
          {problems.map((p, i) => (
            <li key={i}>
              <Button variant="link" className="p-0" onClick={() => jump(p.line)}>
                line {p.line}
              </Button>{' '}
              {p.path && <span className="mono">{p.path}</span>} {p.message}
            </li>
          ))}
        </ul>
      )}
    </>
  )
}
