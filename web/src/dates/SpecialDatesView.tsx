import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { useSpecialDates } from '../api/queries'
import { pathOf, usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { Failed } from '../kit/verb'
import { DatesTable } from './DatesTable'
import { keyOf, undecided, useDecide } from './decide'

// SpecialDatesView shows public holidays and other dates over the locations of a
// scope, and decides them for many at once.
export function SpecialDatesView() {
  const { scope } = usePlace()
  const dates = useSpecialDates(scope)
  const name = useScopeName(scope)
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const decide = useDecide(() => setChosen(new Set()))
  if (!dates.data) return <Pending error={dates.error} />
  const rows = dates.data
  const left = rows.filter((d) => undecided(d).length > 0)
  const picked = left.filter((d) => chosen.has(keyOf(d)))
  return (
    <>
      <ViewHead
        title={name ? `Special dates, ${name}` : 'Special dates'}
        says={
          left.length === 0
            ? 'Every public holiday of the next twelve months is decided.'
            : `${counted(left.length, 'date')} of the next twelve months undecided somewhere. Directories show the usual hours until something else is said.`
        }
      >
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
      <Failed error={decide.error} />
      {rows.length === 0 ? (
        <div className="empty">
          <h2>No dates yet</h2>
          <p>Public holidays stand here for each location that has hours, by its own country and region, until they are decided.</p>
          <Link className="btn btn-primary" to={pathOf('record', scope)}>
            Go to the record
          </Link>
        </div>
      ) : (
        <DatesTable dates={rows} picked={picked} decide={decide} onChoose={setChosen} />
      )}
    </>
  )
}
