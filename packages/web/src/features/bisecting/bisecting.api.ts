import { api, request, type Answer, type Body } from '#shared/lib/api'

const bisectingApi = api.injectEndpoints({
  endpoints: (build) => ({
    bisections: build.query<Answer<'listBisections'>, string>({
      query: (repository) => request('listBisections', { params: { repository } }),
      providesTags: ['Build', 'Tie'],
    }),
    beginBisection: build.mutation<Answer<'beginBisection'>, { repository: string } & Body<'beginBisection'>>({
      query: ({ repository, ...body }) => request('beginBisection', { params: { repository }, body }),
      invalidatesTags: ['Build'],
    }),
    callOffBisection: build.mutation<Answer<'callOffBisection'>, { repository: string; bisectionId: string }>({
      query: (params) => request('callOffBisection', { params }),
      invalidatesTags: ['Build'],
    }),
  }),
})

export const { useBisectionsQuery, useBeginBisectionMutation, useCallOffBisectionMutation } = bisectingApi
