import { api, request, type Answer } from '#shared/lib/api'

const pastApi = api.injectEndpoints({
  endpoints: (build) => ({
    moments: build.query<Answer<'listMoments'>, void>({
      query: () => request('listMoments', {}),
      providesTags: ['Release', 'Requirement'],
    }),
    lateFacts: build.query<Answer<'listLateFacts'>, string>({ query: (at) => request('listLateFacts', { query: { at } }) }),
  }),
})

export const { useMomentsQuery, useLateFactsQuery } = pastApi
