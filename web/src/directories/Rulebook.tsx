import type { Schemas } from '../api/client'
import type { Scope } from '../app/place'
import { HandIn } from './HandIn'
import { RulebookText } from './RulebookText'
import { worked } from './worked'

// Rulebook is what a directory's rulebook says, in sentences and as its file.
export function Rulebook({ directory: d, scope }: { directory: Schemas['Directory']; scope: Scope }) {
  return (
    <section>
      <div className="sheet mb-3">
        <div className="sheet-head">
          <h2>{d.name}’s rulebook</h2>
          <span className="second">
            {worked[d.worked]}
            {d.page && (
              <>
                {' · '}
                <a href={d.page} target="_blank" rel="noreferrer">
                  its pages
                </a>
              </>
            )}
          </span>
        </div>
        <p>{d.summary}</p>
        {d.worked === 'file' && <HandIn directory={d} scope={scope} />}
        <div className="body rulebook">
          {d.says.map((s) => (
            <section key={s.about}>
              <h3>{s.about}</h3>
              <ul>
                {s.says.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            </section>
          ))}
        </div>
      </div>
      <RulebookText key={d.id} directory={d} location={scope.location} />
    </section>
  )
}
