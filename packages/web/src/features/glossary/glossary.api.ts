import { api, request, type Answer, type Body } from '#shared/lib/api'

const glossaryApi = api.injectEndpoints({
  endpoints: (build) => ({
    terms: build.query<Answer<'listTerms'>, string>({
      query: (project) => request('listTerms', { params: { project } }),
      providesTags: ['Requirement'],
    }),
    setTerm: build.mutation<Answer<'setTerm'>, { project: string } & Body<'setTerm'>>({
      query: ({ project, ...body }) => request('setTerm', { params: { project }, body }),
      invalidatesTags: ['Requirement'],
    }),
    removeTerm: build.mutation<Answer<'removeTerm'>, { project: string; term: string }>({
      query: ({ project, term }) => request('removeTerm', { params: { project }, query: { term } }),
      invalidatesTags: ['Requirement'],
    }),
  }),
})

export const { useTermsQuery, useSetTermMutation, useRemoveTermMutation } = glossaryApi
