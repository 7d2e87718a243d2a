import { api, request, type Answer, type Body } from '#shared/lib/api'

export const undoApi = api.injectEndpoints({
  endpoints: (build) => ({
    undoBulk: build.mutation<Answer<'undoMany'>, { seqs: readonly number[] }>({
      query: ({ seqs }) => request('undoMany', { body: { seqs: [...seqs] } }),
      invalidatesTags: ['Items', 'LongItems', 'Item', 'Overview'],
    }),
    undo: build.mutation<Answer<'undo'>, Body<'undo'>>({
      query: (body) => request('undo', { body }),
      invalidatesTags: ['Items', 'LongItems', 'Item', 'Triage', 'Overview', 'Fault'],
    }),
  }),
})

export const { useUndoBulkMutation, useUndoMutation } = undoApi
