import { useState } from 'react'
import { Button, ButtonGroup } from 'react-bootstrap'
import { Link, useSearchParams } from 'react-router'
import { api, told } from '../api/client'
import { useSpecialDates } from '../api/queries'
import { dateWords, useNow } from '../app/clock'
import { pathOf, usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { Failed, useVerb } from '../kit/verb'
import { Rounds } from '../verification/Rounds'
import { keyOf, undecided, useDecide, type DateRow } from './decide'
import { Matrix } from './Matrix'

const DAY = 86_400_000

// SpecialDatesView shows public holidays and other dates over the locations of a scope and the directories that can take
// them: it decides them for many at once, and sends them.
export function SpecialDatesView() {
  const { scope } = usePlace()
  const [params, setParams] = useSearchParams()
  const dates = useSpecialDates(scope)
  const name = useScopeName(scope)
  const now = useNow(60_000)
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const decide = useDecide(() => setChosen(new Set()))
  const set = (key: string, value: string | undefined) => {
    if (value) params.set(key, value)
    else params.delete(key)
    setParams(params, { replace: true })
  }
  const send = useVerb({
    does: ({ date, directories }: { date: DateRow; directories: string[] }) =>
      told(
        api.POST('/api/special-dates/sends', {
          body: { from: date.from, to: date.to, directories, client: scope.client, location: scope.location },
        }),
      ),
    changes: ['special-dates', 'differences'],
    then: (round) => set('round', round.id),
  })
  if (!dates.data) return <Pending error={dates.error} />
  const soon = new Date(now.getTime() + 92 * DAY).toISOString().slice(0, 10)
  const wants = (d: DateRow) => undecided(d).length > 0 || d.directories.some((o) => o.differ > 0 && !o.late)
  const near = dates.data.filter((d) => d.from <= soon)
  const reach = params.get('reach') === 'year' ? dates.data : near
  const rows = params.get('wants') ? reach.filter(wants) : reach
  const left = dates.data.filter((d) => undecided(d).length > 0)
  const picked = rows.filter((d) => undecided(d).length > 0 && chosen.has(keyOf(d)))
  return (
    <>
      <ViewHead title={name ? `Special dates, ${name}` : 'Special dates'} says={says(dates.data, left.length)}>
        {picked.length > 0 && (
          <>
            <Button
              variant="outline-secondary"
              disabled={decide.isPending}
              onClick={() => decide.mutate({ dates: picked, what: { usual: true } })}
            >
              Usual hours on {picked.length}
            </Button>
            <Button disabled={decide.isPending} onClick={() => decide.mutate({ dates: picked, what: {} })}>
              Closed on {picked.length}
            </Button>
          </>
        )}
      </ViewHead>
      <Rounds scope={scope} />
      <Failed error={decide.error ?? send.error} />
      {dates.data.length === 0 ? (
        <div className="empty">
          <h2>No dates yet</h2>
          <p>Public holidays stand here for each location that has hours, by its own country and region, until they are decided.</p>
          <Link className="btn btn-primary" to={pathOf('record', scope)}>
            Go to the record
          </Link>
        </div>
      ) : (
        <>
          <div className="differences-filter">
            <ButtonGroup size="sm" aria-label="How far ahead">
              <Button variant="outline-secondary" active={reach === near} onClick={() => set('reach', undefined)}>
                Three months {near.length}
              </Button>
              <Button variant="outline-secondary" active={reach !== near} onClick={() => set('reach', 'year')}>
                Twelve {dates.data.length}
              </Button>
            </ButtonGroup>
            <Button
              size="sm"
              variant="outline-secondary"
              active={!!params.get('wants')}
              aria-pressed={!!params.get('wants')}
              onClick={() => set('wants', params.get('wants') ? undefined : 'me')}
            >
              Only what wants me {reach.filter(wants).length}
            </Button>
            <span className="second">
              = agrees <b>2 ≠</b> pages to send <s>2 ≠</s> too late <span className="sent">1 →</span> on its way · cannot
            </span>
          </div>
          {rows.length === 0 ? (
            <div className="empty">
              <h2>No date wants you</h2>
            </div>
          ) : (
            <Matrix
              dates={rows}
              picked={picked}
              decide={decide}
              onChoose={setChosen}
              sending={send.isPending}
              onSend={(date, directories) => send.mutate({ date, directories })}
            />
          )}
        </>
      )}
    </>
  )
}

// says is what is to be done first: what can still be saved, and until when.
function says(dates: DateRow[], left: number): string {
  const out: string[] = []
  const next = dates.flatMap((d) =>
    d.directories
      .filter((o) => o.differ > 0 && !o.late && o.last_day)
      .map((o) => ({ day: o.last_day!, name: d.name || dateWords(d.from), pages: o.differ })),
  )
  next.sort((a, b) => a.day.localeCompare(b.day))
  const first = next[0]
  if (first) {
    const pages = next.filter((n) => n.name === first.name).reduce((n, o) => n + o.pages, 0)
    out.push(`${first.name} differs on ${counted(pages, 'page')}; sent by ${dateWords(first.day)} it shows in time.`)
  }
  if (left === 0) out.push('Every public holiday of the next twelve months is decided.')
  else
    out.push(
      `${counted(left, 'date')} of the next twelve months undecided somewhere. Directories show the usual hours until something else is said.`,
    )
  return out.join(' ')
}
