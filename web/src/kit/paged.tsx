import type { InfiniteData, UseInfiniteQueryResult } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'

// rowsOf are the rows of all pages that were read.
export const rowsOf = <P, R>(list: { data?: InfiniteData<P> }, rows: (page: P) => R[]): R[] => list.data?.pages.flatMap(rows) ?? []

// More reads on in a list that comes in pages, and says when that failed.
export function More({
  list,
  children,
}: {
  list: Pick<UseInfiniteQueryResult, 'fetchNextPage' | 'isFetchingNextPage' | 'hasNextPage' | 'error'>
  children: string
}) {
  if (!list.hasNextPage) return null
  return (
    <p className="mt-2">
      <Button variant="outline-secondary" data-row disabled={list.isFetchingNextPage} onClick={() => void list.fetchNextPage()}>
        {list.isFetchingNextPage ? 'Reading' : children}
      </Button>
      {list.error && (
        <span className="wrong mb-0" role="alert">
          {' '}
          {list.error.message}
        </span>
      )}
    </p>
  )
}
