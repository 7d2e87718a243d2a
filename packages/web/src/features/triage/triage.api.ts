import type { TriageSource } from '@dystracer/core/triage/decision'
import { api, request, type Answer, type Body } from '#shared/lib/api'

export const triageApi = api.injectEndpoints({
  endpoints: (build) => ({
    proposals: build.query<Answer<'readProposals'>, string>({
      query: (key) => request('readProposals', { params: { key } }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    triage: build.query<Answer<'listTriage'>, { source?: TriageSource | undefined; limit: number }>({
      query: (query) => request('listTriage', { query }),
      providesTags: ['Triage'],
    }),
    decideMany: build.mutation<Answer<'decideMany'>, Body<'decideMany'>>({
      query: (body) => request('decideMany', { body }),
      invalidatesTags: ['Triage', 'Items', 'LongItems', 'Item', 'Overview'],
    }),
    triageWeeks: build.query<Answer<'readTriageWeeks'>, { project: string; weeks: number }>({
      query: ({ project, weeks }) => request('readTriageWeeks', { params: { project }, query: { weeks } }),
      providesTags: ['Triage'],
    }),
  }),
})

export const { useProposalsQuery, useTriageQuery, useDecideManyMutation, useTriageWeeksQuery } = triageApi
