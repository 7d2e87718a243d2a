import { api, BY_CURSOR, request, type Answer } from '#shared/lib/api'

export const dependenciesApi = api.injectEndpoints({
  endpoints: (build) => ({
    releasePackages: build.infiniteQuery<Answer<'listReleasePackages'>, { release: string; q: string }, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg: { release, q }, pageParam }) =>
        request('listReleasePackages', { params: { release }, query: { q, limit: 60, ...(pageParam !== null && { cursor: pageParam }) } }),
      providesTags: ['Release'],
    }),
    foundPackage: build.infiniteQuery<Answer<'findPackage'>, string, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg: q, pageParam }) =>
        request('findPackage', { query: { q, limit: 60, ...(pageParam !== null && { cursor: pageParam }) } }),
      providesTags: ['Release'],
    }),
    sendBill: build.mutation<Answer<'sendBill'>, { release: string; file: File }>({
      query: ({ release, file }) => ({
        ...request('sendBill', { params: { release } }),
        body: file.slice(0, file.size, 'application/vnd.cyclonedx+json'),
      }),
      invalidatesTags: ['Release'],
    }),
    takeBillBack: build.mutation<Answer<'takeBillBack'>, string>({
      query: (release) => request('takeBillBack', { params: { release } }),
      invalidatesTags: ['Release'],
    }),
  }),
})

export const { useReleasePackagesInfiniteQuery, useFoundPackageInfiniteQuery, useSendBillMutation, useTakeBillBackMutation } =
  dependenciesApi
