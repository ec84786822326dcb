import { useEffect, type ReactNode } from 'react'
import { Link, useLocation, useNavigate } from 'react-router'
import { Refusal, type FieldProblem, type Rec } from '../api/client'
import { useFacts } from '../api/queries'
import { Pending, ViewHead } from '../app/View'
import { problemAt } from './Field'
import { HeldContext, withOwn } from './held'
import { Area, AreaTaken } from './parts/Area'
import { Categories } from './parts/Categories'
import { Contact } from './parts/Contact'
import { HoursEditor } from './parts/HoursEditor'
import { Company, Identity } from './parts/Identity'
import { Links } from './parts/Links'
import { Missing, useIntake, WaysOpen } from './parts/Missing'
import { Offerings } from './parts/Offerings'
import { Papers } from './parts/Papers'
import { HoursTaken, ReadFromHours } from './parts/ReadFromHours'
import { SpecialDates } from './parts/SpecialDates'
import { Photos } from './photos/Photos'
import { Words } from './parts/Words'

const parts = [
  { id: 'identity', name: 'Identity', shared: true },
  { id: 'contact', name: 'Contact', shared: true },
  { id: 'hours', name: 'Hours', shared: false },
  { id: 'area', name: 'Service area', shared: false },
  { id: 'categories', name: 'Categories', shared: true },
  { id: 'words', name: 'Words', shared: true },
  { id: 'photos', name: 'Photos', shared: true },
  { id: 'links', name: 'Links', shared: true },
  { id: 'offerings', name: 'Offerings', shared: true },
  { id: 'papers', name: 'Papers', shared: true },
  { id: 'missing', name: 'Still missing', shared: false },
] as const

type Part = (typeof parts)[number]['id']

// partOf is the part in which a fact is kept, by its path.
function partOf(path: string): Part {
  if (/^(address|mailing|pin|phones|email|website|zone|directions|parking)/.test(path)) return 'contact'
  if (path.startsWith('hours')) return 'hours'
  if (path.startsWith('area')) return 'area'
  if (/^(category|other_categories|attributes)/.test(path)) return 'categories'
  if (/^(links|socials|videos|tags)/.test(path)) return 'links'
  if (/^(offerings|payments|team)/.test(path)) return 'offerings'
  if (path.startsWith('licences')) return 'papers'
  return path.startsWith('words') ? 'words' : 'identity'
}

const noProblems: FieldProblem[] = []

// RecordForm is a record to fill in, part by part; what is wrong is shown in the
// part where it stands. Without shared facts it is a client's own.
export function RecordForm({
  title,
  says,
  record: r,
  shared,
  client,
  location,
  error,
  pathsFrom = '',
  notice,
  acts,
  head,
  aside,
  onChange,
  onSave,
}: {
  title: string
  says: ReactNode
  record: Rec
  shared?: Rec
  client: string
  location?: string
  error: Error | null
  pathsFrom?: string // what the paths of problems begin with
  notice?: ReactNode
  acts: ReactNode
  head?: ReactNode // stands above the facts of identity
  aside?: ReactNode
  onChange: (r: Rec) => void
  onSave: () => void
}) {
  const facts = useFacts()
  const problems = error instanceof Refusal ? error.fields.map((p) => ({ ...p, path: p.path.replace(pathsFrom, '') })) : noProblems
  const { hash } = useLocation()
  const navigate = useNavigate()
  const shown = parts.filter((p) => (shared || p.shared) && (location || p.id !== 'missing'))
  const missing = useIntake(location)?.missing.length ?? 0
  const part: Part = shown.find((p) => '#' + p.id === hash)?.id ?? 'identity'
  useEffect(() => {
    // What is wrong is shown, whichever part it is in.
    const first = error instanceof Refusal ? error.fields[0] : undefined
    if (first) navigate({ hash: partOf(first.path.replace(pathsFrom, '')) }, { replace: true })
  }, [error, navigate, pathsFrom])
  // Before it is known what can be the client's, nothing typed can be told from what is its own.
  if (!facts.data) return <Pending error={facts.error} />
  const inheritable = facts.data.inheritable
  const set = (some: Partial<Rec>) => onChange(withOwn(r, some, inheritable, shared))
  const place = { country: r.address.country, region: r.address.region, zone: r.zone }
  return (
    <HeldContext value={{ record: r, problems, set, inheritable, shared, location, client }}>
      <form
        noValidate
        onSubmit={(e) => {
          e.preventDefault()
          onSave()
        }}
      >
        <ViewHead title={title} says={says}>
          {acts}
        </ViewHead>
        <nav className="sections" aria-label="Parts of the record">
          {shown.map(({ id, name }) => {
            const wrong = problems.filter((p) => partOf(p.path) === id).length
            return (
              <Link key={id} to={{ hash: id }} replace aria-current={part === id}>
                {name}
                {id === 'missing' && missing > 0 && <span className="count plain">{missing}</span>}
                {wrong > 0 && <span className="count">{wrong}</span>}
              </Link>
            )
          })}
        </nav>
        {notice}
        {error && (
          <p className="wrong" role="alert">
            {error.message}
          </p>
        )}
        <div className={part === 'photos' ? 'record whole' : 'record'}>
          <div>
            {part === 'identity' && (
              <>
                {head}
                <Identity />
                <Company />
              </>
            )}
            {part === 'contact' && <Contact />}
            {part === 'hours' && (
              <>
                <section className="sheet">
                  <h2>Hours</h2>
                  <HoursEditor text={r.hours} place={place} problem={problemAt(problems, 'hours')} onChange={(hours) => set({ hours })} />
                </section>
                <section className="sheet">
                  <SpecialDates text={r.hours} place={place} onChange={(hours) => set({ hours })} />
                </section>
              </>
            )}
            {part === 'area' && <Area />}
            {part === 'categories' && <Categories />}
            {part === 'words' && <Words />}
            {part === 'photos' && <Photos />}
            {part === 'links' && <Links />}
            {part === 'offerings' && <Offerings />}
            {part === 'papers' && <Papers />}
            {part === 'missing' && location && <Missing location={location} />}
          </div>
          <aside hidden={part === 'photos'}>
            {part === 'area' && <AreaTaken />}
            {part === 'missing' && location && <WaysOpen location={location} />}
            {part === 'hours' && shared && <HoursTaken text={r.hours} place={place} />}
            {part !== 'area' && part !== 'missing' && part !== 'hours' && aside}
            {shared && (part === 'identity' || part === 'hours') && <ReadFromHours text={r.hours} place={place} />}
          </aside>
        </div>
      </form>
    </HeldContext>
  )
}
