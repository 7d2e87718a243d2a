import { api, request, type Answer } from '#shared/lib/api'

export const threadsApi = api.injectEndpoints({
  endpoints: (build) => ({
    thread: build.query<Answer<'readThread'>, string>({
      query: (id) => request('readThread', { params: { id } }),
      providesTags: ['Thread'],
    }),
  }),
})

export const { useThreadQuery } = threadsApi
