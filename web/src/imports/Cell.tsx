import { useRef, useState, type KeyboardEvent } from 'react'
import { Form } from 'react-bootstrap'
import { useBench, type Row } from './work'

// Cell is what a row says of one fact: as it was read, and under it what the file said. It is edited in place: Enter
// keeps, Tab keeps and goes on, Esc leaves it as it was; g is for all cells that say the same.
export function Cell({ row, fact, strong }: { row: Row; fact: string; strong?: boolean }) {
  const { import: i, edit, titles, alike } = useBench()
  const [typed, setTyped] = useState<{ text: string; all: boolean }>()
  const button = useRef<HTMLButtonElement>(null)
  const problem = row.problems.find((p) => p.key === fact)
  const reading = row.readings.find((r) => r.key === fact)
  const says = row.says[fact] ?? ''
  const title = titles[fact] ?? fact
  const file = problem?.value || reading?.from || says
  const like = alike.find((a) => a.key === fact && a.says === (problem?.value || reading?.from))
  const may = (i.state === 'ready' || i.state === 'in') && !row.in
  const keep = () => {
    if (!typed || typed.text === (problem ? problem.value : says)) return setTyped(undefined)
    edit.mutate(
      typed.all && like
        ? { kind: 'mend', key: fact, from: like.says, to: typed.text }
        : { kind: 'cell', lines: [row.line], key: fact, to: typed.text },
      { onSuccess: () => setTyped(undefined) },
    )
  }
  const onKey = (e: KeyboardEvent) => {
    e.stopPropagation()
    if (e.key === 'Escape') {
      setTyped(undefined)
      requestAnimationFrame(() => button.current?.focus())
    }
    if (e.key === 'Tab') keep()
  }
  if (typed)
    return (
      <Form
        className="cell-edit"
        onSubmit={(e) => {
          e.preventDefault()
          keep()
        }}
      >
        <Form.Control
          autoFocus
          size="sm"
          aria-label={`${title} of line ${row.line}`}
          value={typed.text}
          maxLength={10_000}
          disabled={edit.isPending}
          onChange={(e) => setTyped({ ...typed, text: e.target.value })}
          onKeyDown={onKey}
        />
        <span className="hint">
          <kbd>Enter</kbd> keep <kbd>Esc</kbd> as it was
          {like && like.cells > 1 && (
            <Form.Check
              id={`all-${row.line}-${fact}`}
              label={`all ${like.cells} cells that say “${like.says}”`}
              checked={typed.all}
              onChange={(e) => setTyped({ ...typed, all: e.target.checked })}
            />
          )}
        </span>
      </Form>
    )
  const begin = (all: boolean) => setTyped({ text: problem ? problem.value : says, all })
  const quoted = problem ? problem.value : reading && reading.from !== says ? reading.from : ''
  return (
    <button
      ref={button}
      type="button"
      className={'cell' + (problem ? ' left' : reading && !reading.sure ? ' guess' : '') + (strong ? ' strong' : '')}
      disabled={!may}
      title={problem?.reason ?? (may ? `Edit ${title.toLowerCase()}` : undefined)}
      aria-label={`${title}: ${problem ? 'left out' : says || 'nothing'}${quoted ? `, the file says ${quoted}` : ''}`}
      onClick={() => begin(false)}
      onKeyDown={(e) => e.key === 'g' && !e.ctrlKey && !e.metaKey && (e.preventDefault(), begin(true))}
    >
      {problem ? (
        <b>{problem.value || !file ? (problem.value ? 'left out' : `no ${title.toLowerCase()}`) : 'left out'}</b>
      ) : says ? (
        <>
          {says}
          {reading && !reading.sure && <b> ?</b>}
        </>
      ) : (
        <span className="second">–</span>
      )}
      {quoted && <span className="file">“{quoted}”</span>}
    </button>
  )
}
