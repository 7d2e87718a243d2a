import type { GroupField, ItemSort } from '@dystracer/core/looking/orders'
import { printValues } from '@dystracer/core/looking/value-list'
import { BY_CURSOR, api, LONG_LIST_PAGES, request, type Answer, type Body } from '#shared/lib/api'

export interface ItemsArgs {
  filter: string
  sort: ItemSort
  groupBy?: GroupField | undefined
  folded?: readonly string[] | undefined
  /** Whether a column shows what each item is a part of. */
  withParents?: boolean | undefined
}

export const lookingApi = api.injectEndpoints({
  endpoints: (build) => ({
    items: build.infiniteQuery<Answer<'listItems'>, ItemsArgs, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg: { filter, sort, groupBy, folded = [], withParents }, pageParam }) =>
        request('listItems', {
          query: {
            filter,
            sort,
            limit: 200,
            withTotal: 'false',
            groupBy,
            ...(withParents && { withParents: 'true' }),
            ...(folded.length > 0 && { folded: printValues(folded) }),
            ...(pageParam !== null && { cursor: pageParam }),
          },
        }),
      // Reading a list again reads all of its pages. One of many pages is patched as changes come, and read again only when somebody asks
      // or much has changed.
      providesTags: (result) => [(result?.pages.length ?? 0) > LONG_LIST_PAGES ? 'LongItems' : 'Items'],
    }),
    itemCounts: build.query<Answer<'countItems'>, { filter: string; groupBy?: GroupField | undefined }>({
      query: (query) => request('countItems', { query }),
      providesTags: ['Items'],
    }),
    found: build.query<Answer<'findExcerpts'>, { filter: string; keys: string }>({
      query: (query) => request('findExcerpts', { query }),
      providesTags: ['Items'],
    }),
    outline: build.query<Answer<'readOutline'>, { filter: string; sort: ItemSort }>({
      query: (query) => request('readOutline', { query }),
      providesTags: ['Items'],
    }),
    boardItems: build.query<Answer<'listItems'>, { filter: string; sort: ItemSort; limit: number }>({
      query: (query) => request('listItems', { query }),
      providesTags: ['Items'],
    }),
    bulk: build.mutation<Answer<'changeMany'>, Body<'changeMany'>>({
      query: (body) => request('changeMany', { body }),
      invalidatesTags: ['Items', 'LongItems', 'Item', 'Overview'],
    }),
    views: build.query<Answer<'listViews'>, string>({
      query: (project) => request('listViews', { params: { project } }),
      providesTags: ['Views'],
    }),
    saveView: build.mutation<Answer<'saveView'>, { project: string; view: Body<'saveView'> }>({
      query: ({ project, view }) => request('saveView', { params: { project }, body: view }),
      invalidatesTags: ['Views'],
    }),
    removeView: build.mutation<Answer<'removeView'>, { project: string; viewId: string }>({
      query: (params) => request('removeView', { params }),
      invalidatesTags: ['Views'],
    }),
    pinView: build.mutation<Answer<'pinView'>, { project: string; viewId: string; isPinned: boolean }>({
      query: ({ isPinned, ...params }) => request('pinView', { params, body: { isPinned } }),
      invalidatesTags: ['Views'],
    }),
    feedLinks: build.query<Answer<'readFeedLinks'>, string>({ query: (filter) => request('readFeedLinks', { query: { filter } }) }),
  }),
})

export const {
  useItemsInfiniteQuery,
  useBoardItemsQuery,
  useItemCountsQuery,
  useLazyFoundQuery,
  useOutlineQuery,
  useBulkMutation,
  useViewsQuery,
  useSaveViewMutation,
  useRemoveViewMutation,
  usePinViewMutation,
  useLazyFeedLinksQuery,
} = lookingApi
