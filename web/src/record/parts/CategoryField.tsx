import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { useFacts } from '../../api/queries'
import { Field, type Width } from '../Field'

// CategoryField finds one of our categories by its name or by other words for it.
export function CategoryField({
  label,
  path,
  help,
  placeholder = 'not said',
  value,
  onChange,
  problem,
  width,
}: {
  label: string
  path?: string
  help?: string
  placeholder?: string
  value: string
  onChange: (id: string) => void
  problem?: string
  width: Width
}) {
  const categories = useFacts().data?.categories ?? []
  const [typed, setTyped] = useState<string>()
  const [at, setAt] = useState(0)
  const name = categories.find((c) => c.id === value)?.name ?? value
  const words = (typed ?? '').toLowerCase().split(/\s+/).filter(Boolean)
  const found = categories.filter((c) => {
    const all = [c.name, ...c.words]
      .join(' ')
      .toLowerCase()
      .split(/[^\p{L}\p{N}]+/u)
    return words.every((w) => all.some((x) => x.startsWith(w)))
  })
  // Names that begin with what is typed come before those found by other words.
  const first = (typed ?? '').toLowerCase()
  found.sort((a, b) => Number(b.name.toLowerCase().startsWith(first)) - Number(a.name.toLowerCase().startsWith(first)))
  const take = (id: string) => {
    onChange(id)
    setTyped(undefined)
    setAt(0)
  }
  return (
    <Field label={label} path={path} width={width} problem={problem} help={help}>
      {(id, invalid) => (
        <div className="position-relative">
          <Form.Control
            id={id}
            role="combobox"
            aria-expanded={typed !== undefined}
            aria-controls={id + '-list'}
            aria-autocomplete="list"
            autoComplete="off"
            isInvalid={invalid}
            value={typed ?? name}
            onFocus={(e) => {
              setTyped('')
              e.target.select()
            }}
            onBlur={() => setTyped(undefined)}
            onChange={(e) => {
              setTyped(e.target.value)
              setAt(0)
            }}
            placeholder={name || placeholder}
            onKeyDown={(e) => {
              if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
                e.preventDefault()
                setAt(Math.max(0, Math.min(found.length - 1, at + (e.key === 'ArrowDown' ? 1 : -1))))
              }
              if (e.key === 'Enter') {
                e.preventDefault()
                if (typed && found[at]) take(found[at].id)
              }
              if (e.key === 'Escape') setTyped(undefined)
            }}
          />
          {typed !== undefined && (
            <ul className="dropdown-menu show w-100" role="listbox" id={id + '-list'} style={{ maxHeight: 240, overflowY: 'auto' }}>
              {found.map((c, i) => (
                <li key={c.id} role="option" aria-selected={i === at}>
                  <button
                    type="button"
                    tabIndex={-1}
                    className={'dropdown-item' + (i === at ? ' active' : '')}
                    onMouseDown={(e) => {
                      e.preventDefault()
                      take(c.id)
                    }}
                  >
                    {c.name}
                  </button>
                </li>
              ))}
              {found.length === 0 && <li className="px-3 second">No category of ours has these words.</li>}
            </ul>
          )}
        </div>
      )}
    </Field>
  )
}
