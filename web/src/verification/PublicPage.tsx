import type { Schemas } from '../api/client'
import { Cut } from '../record/photos/Cut'

type Page = Schemas['PublicPage']
type Piece = Schemas['PagePiece']
type Line = Piece['lines'][number]

// marks say how a line compares with the page beside it.
const marks: Record<string, string> = {
  '≈': 'in other words on the page beside it',
  '≠': 'otherwise on the page beside it',
  '∅': 'missing on the page as it is',
}

// PublicPage draws a page as a directory lays it out, in one of a few plain looks.
export function PublicPage({ page, label }: { page: Page; label: string }) {
  return (
    <article className={'public-page pp-' + page.style} aria-label={label}>
      {page.bands.map((band, i) => (
        <Band key={i} columns={band} />
      ))}
    </article>
  )
}

// ResultRow draws its entry in a list of results, with the photos as small as they are there.
export function ResultRow({ page, label }: { page: Page; label: string }) {
  if (page.row.length === 0) return null
  return (
    <div className={'public-page result-row pp-' + page.style} aria-label={label} role="group">
      <Band columns={page.row} tiny />
    </div>
  )
}

function Band({ columns, tiny }: { columns: Piece[][]; tiny?: boolean }) {
  return (
    <div className="pp-band" style={{ '--columns': columns.length } as React.CSSProperties}>
      {columns.map((pieces, i) => (
        <div key={i} className="pp-column">
          {pieces.map((p) => (
            <PieceOf key={p.id} piece={p} tiny={tiny} />
          ))}
        </div>
      ))}
    </div>
  )
}

function PieceOf({ piece: p, tiny }: { piece: Piece; tiny?: boolean }) {
  return (
    <section className={'pp-piece pp-' + p.id}>
      {p.photos.length > 0 && <Photos piece={p} tiny={tiny} />}
      {p.id === 'map' && p.lines.length > 0 ? <Mark line={p.lines[0]!} /> : <Lines piece={p} tiny={tiny} />}
      {p.lacks && (p.id === 'posts' ? <p className="pp-ghost">{p.lacks}</p> : <p className="pp-lacks">{p.lacks}</p>)}
    </section>
  )
}

// bare are pieces that need no word to say what they are.
const bare = ['title', 'kind', 'button']

function Lines({ piece: p, tiny }: { piece: Piece; tiny?: boolean }) {
  if (p.lines.length === 0) return null
  const shown = tiny ? p.lines.slice(0, 1) : p.lines
  if (p.id === 'title') return <Title line={p.lines[0]!} />
  return (
    <>
      {shown.map((l, i) => (
        <p key={l.key + i} className="pp-said">
          {!tiny && !bare.includes(p.id) && !l.key.startsWith('text.') && (
            <span className={'pp-label' + (shown[i - 1]?.key === l.key ? ' again' : '')}>{l.label}</span>
          )}
          <Text line={l} />
        </p>
      ))}
    </>
  )
}

const Title = ({ line }: { line: Line }) => (
  <h3>
    <Text line={line} />
  </h3>
)

function Text({ line: l }: { line: Line }) {
  const words = marks[l.mark]
  return (
    <span className={words ? 'pp-differs' : ''} title={words}>
      {l.text || 'nothing'}
      {words && (
        <>
          <b aria-hidden="true"> {l.mark}</b>
          <span className="visually-hidden">, {words}</span>
        </>
      )}
    </span>
  )
}

// Mark is a drawn map with where the place is on it: there are no tiles.
function Mark({ line }: { line: Line }) {
  return (
    <svg viewBox="0 0 240 84" className="drawn-map" role="img" aria-label={`A map with the pin at ${line.text}`}>
      <path d="M0 62 L78 50 L150 60 L240 34 M52 0 L70 84 M176 0 L162 84 M0 22 L240 12" />
      <path className="pin" d="M120 30 v24 M113 30 h14 l-7 9 z" />
    </svg>
  )
}

function Photos({ piece: p, tiny }: { piece: Piece; tiny?: boolean }) {
  const label = (photo: Schemas['PagePhoto']) => photo.alternative || p.id
  if (tiny) {
    const small = p.photos.find((photo) => photo.tiny > 0)
    return small ? <Cut photo={small.id} shape={small} width={small.tiny} label={label(small)} /> : null
  }
  if (p.id === 'logo') return <Cut photo={p.photos[0]!.id} shape={p.photos[0]!} width={68} label={label(p.photos[0]!)} />
  return (
    <div className="pp-photos">
      {p.photos.map((photo) => (
        <Cut key={photo.id} photo={photo.id} shape={photo} label={label(photo)} />
      ))}
    </div>
  )
}
