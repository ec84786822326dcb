import type { InfiniteData } from '@tanstack/react-query'
import { Button, type ButtonProps } from 'react-bootstrap'

// rowsOf are the rows of all pages that were read.
export const rowsOf = <P, R>(list: { data?: InfiniteData<P> }, rows: (page: P) => R[]): R[] => list.data?.pages.flatMap(rows) ?? []

// More reads on in a list that comes in pages, and says when that failed.
export function More({
  list,
  onMore,
  children,
  ...button
}: { list: { isFetching: boolean; error: Error | null }; onMore: () => void; children: string } & Omit<ButtonProps, 'onClick'>) {
  return (
    <>
      <Button {...button} data-row disabled={list.isFetching} onClick={onMore}>
        {list.isFetching ? 'Reading' : children}
      </Button>
      {list.error && (
        <span className="wrong mb-0" role="alert">
          {' '}
          {list.error.message}
        </span>
      )}
    </>
  )
}
