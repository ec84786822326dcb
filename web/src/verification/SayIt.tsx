import { Form } from 'react-bootstrap'
import type { Listing } from '../api/client'
import { Send } from '../kit/form'
import { Failed, wrongWith } from '../kit/verb'
import { AsShown } from './AsShown'
import { asSent, postKinds, useKept, type Post } from './post'
import { PostFields } from './PostFields'
import { useListingVerb } from './verbs'

// SayIt says something through a listing. It is shown as the public will see it, while it is typed.
export function SayIt({ listing: l, left }: { listing: Listing; left: number }) {
  const s = l.speaks
  const verb = useListingVerb(l)
  const [post, setPost] = useKept(`post ${l.row.location} ${l.row.directory}`, {
    kind: s.kinds[0] ?? 'post',
    title: '',
    radius_kilometres: 0,
  })
  const none = post.kind === 'post' && left === 0
  const inFields = Object.keys(post).some((key) => wrongWith(verb.error, key))
  return (
    <section className="sheet">
      <div className="sheet-head">
        <h2>Say something on {l.row.directory_name}</h2>
        {s.kinds.length > 1 && <Kinds kinds={s.kinds} chosen={post.kind} onChoose={(kind) => setPost({ ...post, kind })} />}
      </div>
      <form
        className="say"
        onSubmit={(e) => {
          e.preventDefault()
          verb.mutate({ do: 'say', post: asSent(post) }, { onSuccess: (after) => !after.trouble && setPost(undefined) })
        }}
      >
        <PostFields listing={l} post={post} error={verb.error} onChange={(part) => setPost({ ...post, ...part })} />
        <div className="said-preview" aria-label="As the public will see it">
          <p className="second small">As the public will see it</p>
          <AsShown post={{ ...post, link: undefined, radius_kilometres: undefined }} />
        </div>
        <div className="said-do">
          {!inFields && <Failed error={verb.error} />}
          {l.trouble && !l.busy && <p className="wrong">{l.trouble}</p>}
          <Send verb={verb} running="Sending" variant="outline-secondary" disabled={!!l.busy || none}>
            Send the {post.kind}
          </Send>
          {none && <span className="second ms-2">No post is left this month.</span>}
        </div>
      </form>
    </section>
  )
}

function Kinds({ kinds, chosen, onChoose }: { kinds: Post['kind'][]; chosen: Post['kind']; onChoose: (k: Post['kind']) => void }) {
  return (
    <span role="group" aria-label="What it is" className="d-flex gap-3">
      {kinds.map((k) => (
        <Form.Check
          key={k}
          type="radio"
          name="say-kind"
          id={'say-' + k}
          label={postKinds[k]}
          checked={chosen === k}
          onChange={() => onChoose(k)}
        />
      ))}
    </span>
  )
}
