import { useState } from 'react'
import { upload } from './upload'

type Sending = { key: number; name: string; part: number; problem?: string }

let nextKey = 0

// useUploads sends files one after the other, and keeps what is on its way and
// what was refused.
export function useUploads<T>(most: number | undefined, onDone: (done: T) => void) {
  const [sending, setSending] = useState<Sending[]>([])
  const change = (key: number, part: Partial<Sending>) => setSending((all) => all.map((s) => (s.key === key ? { ...s, ...part } : s)))
  const drop = (key: number) => setSending((all) => all.filter((s) => s.key !== key))
  const send = async (files: File[], path: string, fields: Record<string, string>) => {
    const rows = files.map((file) => ({ key: nextKey++, file }))
    setSending((all) => [...all, ...rows.map((r) => ({ key: r.key, name: r.file.name || 'pasted', part: 0 }))])
    for (const r of rows) {
      if (most && r.file.size > most) {
        change(r.key, {
          problem: `The file has ${Math.round(r.file.size / 1048576)} MB; up to ${most >> 20} MB are taken. Make it smaller.`,
        })
        continue
      }
      try {
        onDone(await upload<T>(path, fields, r.file, (part) => change(r.key, { part })))
        drop(r.key)
      } catch (e) {
        change(r.key, { problem: (e as Error).message })
      }
    }
  }
  return { sending, send, drop }
}

// Uploads lists files on their way, and those that were refused with the reason.
export function Uploads({ sending, onDrop }: { sending: Sending[]; onDrop: (key: number) => void }) {
  if (sending.length === 0) return null
  return (
    <ul className="plain-list sending" aria-live="polite">
      {sending.map((s) => (
        <li key={s.key}>
          <b>{s.name}</b>
          {s.problem ? (
            <span className="wrong-text">
              {s.problem}{' '}
              <button type="button" className="plain" aria-label={`Dismiss ${s.name}`} onClick={() => onDrop(s.key)}>
                ×
              </button>
            </span>
          ) : (
            <progress max={1} value={s.part < 1 ? s.part : undefined} aria-label={`${s.name} is being sent`} />
          )}
        </li>
      ))}
    </ul>
  )
}
