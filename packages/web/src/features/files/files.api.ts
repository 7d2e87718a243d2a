import { api, request, type Answer } from '#shared/lib/api'

export const filesApi = api.injectEndpoints({
  endpoints: (build) => ({
    file: build.query<Answer<'readFile'>, { repository: string; path: string }>({
      query: ({ repository, path }) => request('readFile', { params: { repository }, query: { path } }),
      providesTags: ['Code', 'Tie'],
    }),
    itemCode: build.query<Answer<'readItemCode'>, string>({
      query: (key) => request('readItemCode', { params: { key } }),
      providesTags: (_result, _error, key) => ['Code', 'Tie', { type: 'Item', id: key }],
    }),
    foundLines: build.query<Answer<'searchFiles'>, { q: string }>({
      query: (query) => request('searchFiles', { query }),
      providesTags: ['Code'],
    }),
  }),
})

export const { useFileQuery, useItemCodeQuery, useFoundLinesQuery } = filesApi
