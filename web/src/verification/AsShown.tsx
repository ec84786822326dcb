import type { Schemas } from '../api/client'
import { dateWords } from '../app/clock'
import { postKinds } from './post'

// AsShown is a post as the public sees it.
export function AsShown({ post: p }: { post: Schemas['Post'] }) {
  return (
    <>
      <p>
        <b>{p.title || 'Title'}</b>{' '}
        <span className="second">
          {postKinds[p.kind]}
          {p.percent ? `, ${p.percent} % off` : ''}
          {p.until ? `, until ${dateWords(p.until)}` : ''}
          {p.radius_kilometres ? `, within ${p.radius_kilometres} km` : ''}
        </span>
      </p>
      {p.text && <p className="said-text">{p.text}</p>}
      {p.button && (
        <p>
          <span className="said-button">{p.button}</span> <span className="second mono small">{p.link}</span>
        </p>
      )}
    </>
  )
}
