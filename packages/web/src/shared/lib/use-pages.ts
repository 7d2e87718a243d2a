import { useCallback, useMemo } from 'react'

/** What an infinite query gives, as far as a list needs it. */
interface Paged<Row> {
  data?: { pages: { rows: Row[] }[] } | undefined
  error?: unknown
  isLoading: boolean
  hasNextPage: boolean
  isFetching: boolean
  fetchNextPage: () => unknown
}

/** The pages of a list as one, and how the next is fetched when its end comes near. */
export function usePages<Row>({ data, error, isLoading, hasNextPage, isFetching, fetchNextPage }: Paged<Row>) {
  const rows = useMemo(() => data?.pages.flatMap((page) => page.rows) ?? [], [data])
  const hasMore = hasNextPage && !isFetching
  const onNearEnd = useCallback(() => {
    if (hasMore) void fetchNextPage()
  }, [hasMore, fetchNextPage])
  return { rows, onNearEnd, data, error, isLoading }
}
