import { useFacts } from '../../api/queries'
import { CategoryField } from './CategoryField'
import { problemAt } from '../Field'
import { useHeld } from '../held'
import { Origin } from '../Origin'

const most = 9

// Categories are what the business is, and what it says yes or no to.
export function Categories() {
  const { record: r, problems, set: onChange } = useHeld()
  const facts = useFacts().data
  const name = (id: string) => facts?.categories.find((c) => c.id === id)?.name ?? id
  const kinds = [r.category, ...r.other_categories]
  const groups = kinds.map((id) => facts?.categories.find((c) => c.id === id)?.group)
  const offered =
    facts?.attributes.filter((a) => a.for.some((f) => f === 'all' || kinds.includes(f) || groups.includes(f)) || a.id in r.attributes) ?? []
  const said = offered.filter((a) => a.id in r.attributes).length
  const set = (id: string, value: boolean | undefined) => {
    const next = { ...r.attributes }
    if (value === undefined) delete next[id]
    else next[id] = value
    onChange({ attributes: next })
  }
  return (
    <section className="sheet">
      <h2>Categories and attributes</h2>
      <div className="fields">
        <CategoryField
          label="Main category"
          path="category"
          help="Type what they do: “bike fix”, “vet”."
          width="w3"
          value={r.category}
          problem={problemAt(problems, 'category')}
          onChange={(category) => onChange({ category, other_categories: r.other_categories.filter((o) => o !== category) })}
        />
        <div className="w3">
          {r.other_categories.length < most && (
            <CategoryField
              key={r.other_categories.length}
              label="Add another category"
              path="other_categories"
              placeholder="up to nine more"
              width="w6"
              value=""
              problem={problemAt(problems, 'other_categories') ?? problemAt(problems, 'other_categories.0')}
              onChange={(id) =>
                id !== r.category && !r.other_categories.includes(id) && onChange({ other_categories: [...r.other_categories, id] })
              }
            />
          )}
        </div>
        {r.other_categories.length > 0 && (
          <div className="w6 chips plain">
            {r.other_categories.map((id) => (
              <span key={id}>
                {name(id)}
                <button
                  type="button"
                  aria-label={`Take out ${name(id)}`}
                  onClick={() => onChange({ other_categories: r.other_categories.filter((o) => o !== id) })}
                >
                  ×
                </button>
              </span>
            ))}
          </div>
        )}
      </div>
      <h3 className="sub">
        Attributes{' '}
        <span>{said === 0 ? 'none said yet' : `${said} of ${offered.length} said`}; which are offered depends on the categories</span>{' '}
        <Origin path="attributes" />
      </h3>
      <ul className="attributes">
        {offered.map((a) => {
          const value = r.attributes[a.id]
          return (
            <li key={a.id}>
              <span>
                {a.name}
                {value && a.asks && <small>asks for {a.asks}</small>}
              </span>
              <span className="three" role="radiogroup" aria-label={a.name}>
                {(
                  [
                    ['yes', true],
                    ['no', false],
                    ['not said', undefined],
                  ] as const
                ).map(([words, v]) => (
                  <button key={words} type="button" role="radio" aria-checked={value === v} onClick={() => set(a.id, v)}>
                    {words}
                  </button>
                ))}
              </span>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
