import { api, request, type Answer } from '#shared/lib/api'

const wholeChangeApi = api.injectEndpoints({
  endpoints: (build) => ({
    wholeChange: build.query<Answer<'readWholeChange'>, string>({
      query: (key) => request('readWholeChange', { params: { key } }),
      providesTags: (_result, _error, key) => ['Code', 'Tie', { type: 'Item', id: key }],
    }),
  }),
})

export const { useWholeChangeQuery } = wholeChangeApi
