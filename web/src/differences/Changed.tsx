import { parts } from './parts'

// Changed writes one side of a difference, and marks only the words in which it differs from the other: struck where they
// are shown wrongly, underlined where they are right.
export function Changed({ is, text, from }: { is: 'old' | 'new'; text: string; from: string }) {
  if (text === from) return <>{text}</>
  return (
    <span className="told-apart">
      {parts(text, from).map((p, i) =>
        p.differs ? is === 'old' ? <del key={i}>{p.text}</del> : <ins key={i}>{p.text}</ins> : <span key={i}>{p.text}</span>,
      )}
    </span>
  )
}
