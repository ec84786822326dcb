import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useDirectories } from '../api/queries'
import { usePlace } from '../app/place'
import { useScopeName } from '../app/scopeName'
import { counted, Pending, ViewHead } from '../app/View'
import { NoClients } from '../record/NoClients'
import { Forecast } from './Forecast'
import { Legend } from './Legend'
import { Matrix } from './Matrix'
import { usePages, type Order } from './pages'
import { Switch } from './Switch'
import { Worth } from './Worth'

// CoverageView shows every location on every directory: where it stands, or how it fits.
export function CoverageView() {
  const { scope } = usePlace()
  const [params, setParams] = useSearchParams()
  const fitted = params.get('show') === 'fit'
  const order: Order = params.get('order') === 'gain' ? 'gain' : 'place'
  const [looked, setLooked] = useState<number[]>([0])
  const { first, error, rows } = usePages(scope, order, looked)
  const directories = useDirectories()
  const name = useScopeName(scope)
  if (!first || !directories.data) return <Pending error={error ?? directories.error} />
  const title = name ? `Coverage, ${name}` : 'Coverage'
  if (first.locations === 0)
    return (
      <>
        <ViewHead title={title} />
        <NoClients />
      </>
    )
  const set = (key: string, value: string, usual: string) => {
    const next = new URLSearchParams(params)
    if (value === usual) next.delete(key)
    else next.set(key, value)
    setParams(next, { replace: true })
  }
  const left = first.wanted - first.public - first.under_way
  return (
    <>
      <ViewHead
        title={title}
        says={`${counted(first.wanted, 'listing')} wanted, ${first.public} public, ${first.under_way} under way, ${left} not begun.`}
      >
        <Switch
          label="Show"
          value={fitted ? 'fit' : 'standing'}
          options={[
            ['standing', 'Where it stands'],
            ['fit', 'How it fits'],
          ]}
          onChange={(v) => set('show', v, 'standing')}
        />
        {!scope.location && (
          <Switch
            label="Order"
            value={order}
            options={[
              ['place', 'By place'],
              ['gain', 'Most to gain'],
            ]}
            onChange={(v) => set('order', v, 'place')}
          />
        )}
      </ViewHead>
      {error && <Pending error={error} />}
      <Matrix first={first} rows={rows} columns={directories.data} scope={scope} order={order} fitted={fitted} onLook={setLooked} />
      <Legend fitted={fitted} />
      {scope.location && <Worth location={scope.location} />}
      <Forecast scope={scope} />
    </>
  )
}
