import { useInfiniteQuery } from '@tanstack/react-query'
import { api, told, type Schemas } from '../api/client'
import { dayTime, useZone } from '../app/clock'
import { Pending, ViewHead } from '../app/View'
import { More, rowsOf } from '../kit/paged'
import { DataTable, type Column } from '../kit/table'
import { came, Undelivered } from './Undelivered'

type Letter = Schemas['WrittenLetter']

// LettersView lists all letters that were written to people, and what came of each.
export function LettersView() {
  const zone = useZone()
  const list = useInfiniteQuery({
    queryKey: ['letters', 'all'],
    queryFn: ({ pageParam }) => told(api.GET('/api/letters', { params: { query: { before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page) => page.next,
  })
  if (!list.data) return <Pending error={list.error} />
  const rows = rowsOf(list, (p) => p.letters)
  return (
    <>
      <ViewHead title="Letters" says="What Uvent wrote to owners, directories and people here, and what the mail server said to it." />
      <Undelivered all />
      {rows.length === 0 ? (
        <div className="empty">
          <h2>No letter was written yet</h2>
          <p>What is sent to owners and to directories stands here, with what came of it.</p>
        </div>
      ) : (
        <section>
          <div className="group-head">
            <h2>All letters</h2>
            <span>the newest first</span>
          </div>
          <DataTable rows={rows} columns={columnsOf(zone)} rowKey={(l) => l.id} rowClass={(l) => (troubled(l) ? 'off' : undefined)} />
        </section>
      )}
      {list.hasNextPage && (
        <p className="mt-2">
          <More list={list} variant="outline-secondary" onMore={() => void list.fetchNextPage()}>
            Older
          </More>
        </p>
      )}
    </>
  )
}

const troubled = (l: Letter) => !['queued', 'taken'].includes(l.state) && !l.aside

function columnsOf(zone: string): Column<Letter>[] {
  return [
    { id: 'at', head: 'Written', className: 'text-nowrap', by: (l) => l.number, cell: (l) => dayTime(new Date(l.at), zone) },
    { id: 'subject', head: 'About', names: true, by: (l) => l.subject, cell: (l) => l.subject },
    { id: 'to', head: 'To', by: (l) => l.to, cell: (l) => <span className="mono">{l.to}</span> },
    {
      id: 'whose',
      head: 'Whose',
      by: (l) => l.client_name,
      cell: (l) => [l.client_name, l.label].filter(Boolean).join(', ') || <span className="quiet">nobody’s alone</span>,
    },
    {
      id: 'state',
      head: 'What came of it',
      by: (l) => l.state,
      cell: (l) => (
        <>
          {came[l.state]}
          {l.aside && <span className="second">, put aside</span>}
          {l.says && l.state !== 'taken' && <span className="says">{l.says}</span>}
        </>
      ),
    },
  ]
}
