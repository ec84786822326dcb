import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useSearchParams } from 'react-router'
import type { Schemas } from '../api/client'
import { useClients, useDirectories, useFolds, usePeople, useSpecialDates, type FoldFilter } from '../api/queries'
import { usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { More, rowsOf } from '../kit/paged'
import { Search } from '../kit/Search'
import { Undelivered } from '../letters/Undelivered'
import { NoClients } from '../record/NoClients'
import { minutesOf, taking } from './acts'
import { ActBar } from './ActBar'
import { chosenOf, type Out } from './chosen'
import { DueDates, minutesOfDates, useDueDates } from './Dates'
import { Rest } from './Rest'
import { Rows } from './Rows'
import { asksOwner } from './useAsk'

const groups: { id: Schemas['TaskGroup']; title: string; none: string }[] = [
  { id: 'mine', title: 'Yours', none: 'Nothing is yours to move.' },
  { id: 'owner', title: 'Owners', none: 'Nothing is with owners.' },
  { id: 'directory', title: 'Directories', none: 'Nothing is with directories.' },
]

// useFilter is which rows are shown, as it stands in the address: it can be handed on.
function useFilter(): [FoldFilter, (more: Partial<FoldFilter>) => void] {
  const [params, setParams] = useSearchParams()
  const filter: FoldFilter = {
    group: groups.find((g) => g.id === params.get('group'))?.id ?? 'mine',
    directory: params.get('directory') ?? undefined,
    with: params.get('with') ?? undefined,
    search: params.get('search') ?? undefined,
  }
  const set = (more: Partial<FoldFilter>) => {
    const next = { ...filter, ...more }
    const said = Object.entries(next).filter(([name, value]) => value && !(name === 'group' && value === 'mine')) as [string, string][]
    setParams(said, { replace: true })
  }
  return [filter, set]
}

// TodayView answers “what now?”.
export function TodayView() {
  const { scope } = usePlace()
  const [filter, setFilter] = useFilter()
  const folds = useFolds(scope, filter)
  const dates = useSpecialDates(scope)
  const due = useDueDates(dates.data)
  const clients = useClients()
  const name = useScopeName(scope)
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const [open, setOpen] = useState<string>()
  const [out, setOut] = useState<Out>({})
  // Dates stand above the rows: what came later would push a row away from under the pointer.
  if (!folds.data || !clients.data || dates.isPending) return <Pending error={folds.error ?? clients.error} />
  const title = name ? `Today, ${name}` : 'Today'
  if (clients.data.length === 0)
    return (
      <>
        <ViewHead title={title} />
        <NoClients />
      </>
    )
  const rows = rowsOf(folds, (p) => p.rows)
  const counts = folds.data.pages[0]!.counts
  const picked = rows.filter((r) => chosen.has(r.id))
  const choose = (ids: string[], on: boolean) =>
    setChosen((was) => new Set(on ? [...was, ...ids] : [...was].filter((id) => !ids.includes(id))))
  const filtered = !!(filter.directory || filter.with || filter.search)
  const mine = filter.group === 'mine'
  const above = mine && !filtered ? due : []
  return (
    <>
      <ViewHead
        title={title}
        says={`${counted(counts.mine + due.length, 'thing')} only you can move, ${counts.owner} with owners, ${counts.directory} with directories.${
          mine && rows.length > 0
            ? ` These ${counted(rows.length + above.length, 'row')} take ${taking(minutesOf(rows) + minutesOfDates(above))}.`
            : ''
        }`}
      >
        <Button variant="outline-secondary" className="no-print" onClick={() => window.print()}>
          Print the day
        </Button>
      </ViewHead>
      <Filters filter={filter} set={setFilter} counts={counts} dates={due.length} />
      {!scope.location && mine && <Undelivered client={scope.client} />}
      {folds.error && <Pending error={folds.error} />}
      {rows.length > 0 ? (
        <Rows
          rows={rows}
          above={{ rows: above.length, minutes: minutesOfDates(above) }}
          scope={scope}
          filter={filter}
          chosen={chosen}
          open={open}
          onChoose={choose}
          out={out}
          onOpen={setOpen}
          onOut={(fold, row) => {
            const was = out[fold] ?? []
            setOut({ ...out, [fold]: was.includes(row) ? was.filter((r) => r !== row) : [...was, row] })
            choose([fold], true)
          }}
        >
          <DueDates dates={above} scope={scope} />
        </Rows>
      ) : mine && !filtered && due.length > 0 ? (
        <ul className="rows matters">
          <DueDates dates={due} scope={scope} />
        </ul>
      ) : (
        <Empty filtered={filtered} group={filter.group} any={counts.mine + counts.owner + counts.directory + due.length > 0} />
      )}
      {folds.hasNextPage && (
        <p className="more-rows">
          The first {rows.length}.{' '}
          <More list={folds} variant="link" className="p-0" onMore={() => void folds.fetchNextPage()}>
            Show more
          </More>
        </p>
      )}
      <Rest scope={scope} />
      <ActBar
        chosen={picked.reduce((n, r) => n + r.count - (out[r.id]?.length ?? 0), 0)}
        rows={picked.length}
        minutes={picked.reduce((n, r) => n + (r.minutes * (r.count - (out[r.id]?.length ?? 0))) / r.count, 0)}
        asks={picked.some((r) => asksOwner(r.first))}
        of={() => chosenOf(scope, filter, picked, out)}
        onNone={() => {
          setChosen(new Set())
          setOut({})
        }}
      />
    </>
  )
}

function Empty({ filtered, group, any }: { filtered: boolean; group: Schemas['TaskGroup']; any: boolean }) {
  if (filtered) return <p className="empty">Nothing here fits what is asked for.</p>
  if (any) return <p className="empty">{groups.find((g) => g.id === group)?.none}</p>
  return (
    <div className="empty">
      <h2>Nothing to do and nothing awaited</h2>
      <p>Everything here is public. What falls due, or goes missing from a directory, will stand here.</p>
    </div>
  )
}

function Filters({
  filter,
  set,
  counts,
  dates,
}: {
  filter: FoldFilter
  set: (more: Partial<FoldFilter>) => void
  counts: Schemas['TaskCounts']
  dates: number
}) {
  const directories = useDirectories().data
  const people = usePeople().data?.people.filter((p) => p.role !== 'client')
  return (
    <div className="matter-filters no-print">
      <div className="switch" role="group" aria-label="Whose move">
        {groups.map((g) => (
          <button key={g.id} aria-pressed={filter.group === g.id} onClick={() => set({ group: g.id })}>
            {g.title} <span>{counts[g.id] + (g.id === 'mine' ? dates : 0)}</span>
          </button>
        ))}
      </div>
      <Form.Select
        size="sm"
        aria-label="Directory"
        value={filter.directory ?? ''}
        onChange={(e) => set({ directory: e.target.value || undefined })}
      >
        <option value="">any directory</option>
        {directories?.map((d) => (
          <option key={d.id} value={d.id}>
            {d.name}
          </option>
        ))}
      </Form.Select>
      <Form.Select size="sm" aria-label="With" value={filter.with ?? ''} onChange={(e) => set({ with: e.target.value || undefined })}>
        <option value="">with anyone</option>
        {people?.map((p) => (
          <option key={p.id} value={p.id}>
            with {p.name}
          </option>
        ))}
      </Form.Select>
      <Search value={filter.search ?? ''} what="Search matters" onChange={(search) => set({ search: search || undefined })} />
    </div>
  )
}
