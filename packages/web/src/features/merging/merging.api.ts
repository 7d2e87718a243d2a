import { api, request, type Answer } from '#shared/lib/api'

const mergingApi = api.injectEndpoints({
  endpoints: (build) => ({
    mergesWaiting: build.query<Answer<'listMergesWaiting'>, void>({
      query: () => request('listMergesWaiting', {}),
      providesTags: ['Code', 'Build'],
    }),
  }),
})

export const { useMergesWaitingQuery } = mergingApi
