import { CodeForm } from './CodeForm'
import { FilmForm, Shots } from './FilmForm'
import type { Doing, Page } from './labels'
import { pathTo } from './labels'
import { PaperForm } from './PaperForm'
import { PayForm } from './PayForm'
import { Times } from './Times'

// OneThing is one thing to do, with why it is asked for where it is the first.
export function OneThing({ first, ...d }: Doing & { first: boolean }) {
  const { thing: t, say } = d
  const w = t.words
  const judged = t.sent && t.sent.doubts.length > 0
  return (
    <div className="owner-thing">
      <p className={t.soon ? 'owner-soon' : 'owner-until'}>
        {say('until', { when: t.until })}
        <span className="second">, {t.directory}</span>
      </p>
      {!judged && <p>{w.what}</p>}
      {t.digits === 0 && !judged && <p>{w.how}</p>}
      {t.sent?.says && (
        <p className="owner-said" role="status">
          “{t.sent.says}” {say('told', { from: d.page.from })}
        </p>
      )}
      {t.digits > 0 ? (
        <CodeForm {...d} first={first} />
      ) : t.task === 'card' ? (
        <PayForm {...d} first={first} />
      ) : t.task === 'video' ? (
        <>
          {judged && <Judged {...d} />}
          <Shots shots={t.shots} />
          <FilmForm<Page> path={pathTo(d, 'video')} shots={t.shots} size="lg" say={say} then={d.then} />
        </>
      ) : t.task === 'paper' ? (
        <PaperForm {...d} first={first} judged={judged ? <Judged {...d} /> : undefined} />
      ) : (
        <Times {...d} />
      )}
      {first && <p className="owner-why">{w.why}</p>}
    </div>
  )
}

// Judged says what a directory would mind in what was sent, in the place where it was sent.
function Judged({ thing: t, say }: Doing) {
  return (
    <div className="owner-minded" role="status">
      <p>
        <b>{say('read')}</b>
      </p>
      <p>
        {t.sent!.doubts.join(' ')} {say('would', { directory: t.directory })}
      </p>
    </div>
  )
}
