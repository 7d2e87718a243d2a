import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { BY_CURSOR, api, request, type Answer, type Body } from '#shared/lib/api'

export const tiesApi = api.injectEndpoints({
  endpoints: (build) => ({
    ties: build.query<Answer<'readTies'>, NodeRef>({
      query: (ref) => request('readTies', { query: ref }),
      providesTags: ['Tie', 'Code'],
    }),
    unexplained: build.infiniteQuery<Answer<'listUnexplained'>, { repository?: string }, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg, pageParam }) =>
        request('listUnexplained', { query: { ...queryArg, limit: 20, ...(pageParam !== null && { cursor: pageParam }) } }),
      providesTags: ['Tie'],
    }),
    decideTies: build.mutation<Answer<'decideTies'>, { repository: string } & Body<'decideTies'>>({
      query: ({ repository, ...body }) => request('decideTies', { params: { repository }, body }),
      invalidatesTags: ['Tie', 'Code', 'Item', 'Items'],
    }),
  }),
})

export const { useTiesQuery, useUnexplainedInfiniteQuery, useDecideTiesMutation } = tiesApi
