import { createContext, use, useCallback, useEffect, useRef, useState, type ReactNode } from 'react'

type Line = { text: string; undo?: () => void }

const SayContext = createContext<(text: string, undo?: () => void) => void>(() => {})

// useSay shows a line at the foot of the view for a while: what was done, and
// how to undo it where it can be undone.
export const useSay = () => use(SayContext)

export function SayProvider({ children }: { children: ReactNode }) {
  const [line, setLine] = useState<Line>()
  const timer = useRef<number>(undefined)
  const say = useCallback((text: string, undo?: () => void) => {
    clearTimeout(timer.current)
    setLine({ text, undo })
    timer.current = window.setTimeout(() => setLine(undefined), undo ? 12_000 : 6_000)
  }, [])
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key !== 'u' || e.ctrlKey || e.metaKey || e.altKey || typing(e.target) || !line?.undo) return
      line.undo()
      setLine(undefined)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [line])
  return (
    <SayContext value={say}>
      {children}
      <div aria-live="polite" role="status">
        {line && (
          <div className="toast-line">
            <span>{line.text}</span>
            {line.undo && (
              <button
                title="u"
                onClick={() => {
                  line.undo?.()
                  setLine(undefined)
                }}
              >
                Undo
              </button>
            )}
          </div>
        )}
      </div>
    </SayContext>
  )
}

// typing reports whether keys belong to a field.
export function typing(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
}
