import { api, request, type Answer } from '#shared/lib/api'

export const filesApi = api.injectEndpoints({
  endpoints: (build) => ({
    file: build.query<Answer<'readFile'>, { repository: string; path: string }>({
      query: ({ repository, path }) => request('readFile', { params: { repository }, query: { path } }),
      providesTags: ['Code', 'Tie'],
    }),
    foundLines: build.query<Answer<'searchFiles'>, { q: string }>({
      query: (query) => request('searchFiles', { query }),
      providesTags: ['Code'],
    }),
  }),
})

export const { useFileQuery, useFoundLinesQuery } = filesApi
