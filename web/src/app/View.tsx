import { useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { Refusal } from '../api/client'

// ViewHead is what stands on top of every view.
export function ViewHead({ title, says, mark, children }: { title: string; says?: ReactNode; mark?: ReactNode; children?: ReactNode }) {
  return (
    <div className="view-head">
      <title>{`${title} · Uvent`}</title>
      <div className="titled">
        {mark}
        <div>
          <h1>{title}</h1>
          {says && <p>{says}</p>}
        </div>
      </div>
      {children && <div className="acts">{children}</div>}
    </div>
  )
}

// Pending stands where an answer is still awaited, or did not come; it can be asked for again.
export function Pending({ error }: { error: Error | null }) {
  const queries = useQueryClient()
  if (!error) return <p className="loading">Loading</p>
  const gone = error instanceof Refusal && error.status === 404
  return (
    <div className="wrong" role="alert">
      {error.message}{' '}
      {gone ? (
        <Link to="/today">Go to Today</Link>
      ) : (
        <Button
          variant="link"
          className="p-0"
          onClick={() => void queries.refetchQueries({ predicate: (q) => q.state.status === 'error' })}
        >
          Try again
        </Button>
      )}
    </div>
  )
}

export const counted = (n: number, one: string, many = one + 's') => `${n} ${n === 1 ? one : many}`
