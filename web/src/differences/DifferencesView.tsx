import { useState } from 'react'
import { ButtonGroup, Button, Form } from 'react-bootstrap'
import { useHotkeys } from 'react-hotkeys-hook'
import { useSearchParams } from 'react-router'
import { useDifferences, useSession } from '../api/queries'
import { useNow } from '../app/clock'
import { usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { Search } from '../kit/Search'
import { Rounds } from '../verification/Rounds'
import { Agreement } from './Agreement'
import { Bar } from './Bar'
import { Fold } from './Fold'
import { bys, groupsOf, rowsOf, type Difference, type Row } from './rows'
import { Table } from './Table'
import { spanOf } from './Way'
import { people } from './words'

// DifferencesView shows where pages do not mean what the record says: what each difference costs, since when, where it came
// from, and what mending it sets off.
export function DifferencesView() {
  const { scope } = usePlace()
  const [params, setParams] = useSearchParams()
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const [agreement, setAgreement] = useState(false)
  const name = useScopeName(scope)
  const ofClient = useSession().data?.role === 'client'
  const now = useNow(60_000)
  const filter = {
    directory: params.get('directory') ?? undefined,
    fact: params.get('fact') ?? undefined,
    search: params.get('search') ?? undefined,
  }
  const list = useDifferences(scope, filter)
  const all = useDifferences(scope, {}) // by which can be filtered
  const by = bys.find((b) => b.id === params.get('by'))?.id ?? 'source'
  const set = (key: string, value: string | undefined) => {
    if (value) params.set(key, value)
    else params.delete(key)
    setParams(params, { replace: true })
  }
  useHotkeys('g', () => set('by', bys[(bys.findIndex((b) => b.id === by) + 1) % bys.length]!.id), { useKey: true })
  const data = list.data
  const rows = rowsOf(data?.rows ?? [])
  const choose = (some: Row[], on: boolean) => {
    const next = new Set(chosen)
    for (const r of some) {
      if (on) next.add(r.id)
      else next.delete(r.id)
    }
    setChosen(next)
  }
  const focused = () => rows.filter((r) => r.id === (document.activeElement as HTMLElement | null)?.dataset.row)
  useHotkeys('space', () => focused().forEach((r) => choose([r], !chosen.has(r.id))), { preventDefault: true }, [chosen, rows])
  useHotkeys('shift+space', () => choose(rows, true), { preventDefault: true }, [chosen, rows])
  useHotkeys('escape', () => setChosen(new Set()))
  if (!data) return <Pending error={list.error} />
  const picked = rows.filter((r) => chosen.has(r.id))
  return (
    <>
      <ViewHead
        title={name ? `Differences, ${name}` : 'Differences'}
        says={<Says data={data} sources={sourcesOf(all.data?.rows)} onOpen={() => setAgreement(!agreement)} />}
      />
      {agreement && <Agreement parts={data.parts} agree={data.agree} />}
      <Rounds scope={scope} />
      <div className="differences-filter">
        <Search key={filter.search ?? ''} value={filter.search ?? ''} what="Value, place or directory" onChange={(v) => set('search', v)} />
        <Choice
          label="All facts"
          value={filter.fact}
          of={named(all.data?.rows, (d) => [d.fact, d.title])}
          onChange={(v) => set('fact', v)}
        />
        <Choice
          label="All directories"
          value={filter.directory}
          of={named(all.data?.rows, (d) => [d.directory, d.directory_name])}
          onChange={(v) => set('directory', v)}
        />
        <span className="second">
          Costliest first, by <kbd>g</kbd>
        </span>
        <ButtonGroup size="sm" aria-label="Put together by">
          {bys.map((b) => (
            <Button key={b.id} variant="outline-secondary" active={b.id === by} aria-pressed={b.id === by} onClick={() => set('by', b.id)}>
              {b.title}
            </Button>
          ))}
        </ButtonGroup>
      </div>
      {rows.length === 0 ? (
        <Nothing filtered={!!(filter.fact || filter.directory || filter.search)} pages={data.parts.reduce((n, p) => n + p.pages, 0)} />
      ) : (
        <Table groups={groupsOf(rows, by)} by={by} span={spanOf(rows, now)} chosen={chosen} onChoose={choose} />
      )}
      {data.more && <p className="second">These are the 500 dearest; choose a client, a fact or a directory to see the others.</p>}
      <Fold scope={scope} standing="sent" title="on their way" />
      <Fold scope={scope} standing="accepted" title="accepted as they are, or not to be mended there" />
      {rows.length > 0 && <Legend />}
      {picked.length > 0 && !ofClient && <Bar rows={picked} onNone={() => setChosen(new Set())} onSent={(id) => set('round', id)} />}
    </>
  )
}

const sourcesOf = (rows: Difference[] | undefined) => new Set(rows?.map((d) => d.source)).size

const named = (rows: Difference[] | undefined, of: (d: Difference) => [string, string]) =>
  [...new Map((rows ?? []).map(of)).entries()].sort((a, b) => a[1].localeCompare(b[1]))

function Says({
  data,
  sources,
  onOpen,
}: {
  data: { open: number; pages: number; people: number; agree: number; parts: { pages: number }[] }
  sources: number
  onOpen: () => void
}) {
  const pages = data.parts.reduce((n, p) => n + p.pages, 0)
  if (pages === 0 && data.open === 0) return <>No page is public yet that was looked at.</>
  return (
    <>
      {data.open === 0 ? 'None' : data.open} on {data.pages} of {counted(pages, 'page')}
      {sources > 0 && `, from ${counted(sources, 'source')}`}
      {data.people >= 0.8 && (
        <>
          ; <b>{people(data.people)} a week</b> misled
        </>
      )}
      . Name, address and phone agree on{' '}
      <Button variant="link" className="p-0 align-baseline" onClick={onOpen}>
        {Math.round(data.agree * 100)} %
      </Button>{' '}
      of the weight.
    </>
  )
}

function Choice({
  label,
  value,
  of,
  onChange,
}: {
  label: string
  value: string | undefined
  of: [string, string][]
  onChange: (v: string) => void
}) {
  return (
    <Form.Select size="sm" aria-label={label} value={value ?? ''} onChange={(e) => onChange(e.target.value)}>
      <option value="">
        {label} {of.length}
      </option>
      {of.map(([id, title]) => (
        <option key={id} value={id}>
          {title}
        </option>
      ))}
    </Form.Select>
  )
}

function Nothing({ filtered, pages }: { filtered: boolean; pages: number }) {
  return (
    <div className="empty">
      {filtered ? (
        <h2>No difference is of that kind</h2>
      ) : pages > 0 ? (
        <>
          <h2>{pages === 1 ? 'The one page says' : `All ${pages} pages say`} what the record says</h2>
          <p>They are looked at again by night, those soonest that change most.</p>
        </>
      ) : (
        <>
          <h2>No page was looked at yet</h2>
          <p>Once a listing is public, its page is looked at and held against the record, fact by fact; what does not agree stands here.</p>
        </>
      )}
    </div>
  )
}

function Legend() {
  return (
    <p className="way-legend second" aria-hidden="true">
      <svg width="10" height="12">
        <path className="node first" d="M2 11h4l2-10h-4z" />
      </svg>{' '}
      first shown
      <svg width="26" height="12">
        <line className="wrong" x1="0" x2="26" y1="6" y2="6" />
      </svg>{' '}
      still wrong
      <svg width="36" height="12">
        <line className="until" x1="0" x2="14" y1="6" y2="6" />
        <rect className="right" x="14" y="2" width="20" height="8" />
      </svg>{' '}
      right again
    </p>
  )
}
