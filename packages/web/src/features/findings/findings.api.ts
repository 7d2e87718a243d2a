import { api, request, type Answer, type Body } from '#shared/lib/api'

export const findingsApi = api.injectEndpoints({
  endpoints: (build) => ({
    asideFindings: build.query<Answer<'listAsideFindings'>, void>({
      query: () => request('listAsideFindings', {}),
      providesTags: ['Build'],
    }),
    setFindingAside: build.mutation<Answer<'setFindingAside'>, { repository: string } & Body<'setFindingAside'>>({
      query: ({ repository, ...body }) => request('setFindingAside', { params: { repository }, body }),
      invalidatesTags: ['Build', 'Code'],
    }),
  }),
})

export const { useAsideFindingsQuery, useSetFindingAsideMutation } = findingsApi
