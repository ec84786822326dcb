import type { ReactNode } from 'react'

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

// Pending stands where an answer is still awaited, or did not come.
export function Pending({ error }: { error: Error | null }) {
  if (error)
    return (
      <p className="wrong" role="alert">
        {error.message}
      </p>
    )
  return <p className="loading">Loading</p>
}

export const counted = (n: number, one: string, many = one + 's') => `${n} ${n === 1 ? one : many}`
