import { api, request, type Answer } from '#shared/lib/api'

export const deskApi = api.injectEndpoints({
  endpoints: (build) => ({
    places: build.query<Answer<'readPlaces'>, void>({ query: () => request('readPlaces', {}), providesTags: ['Overview'] }),
    desk: build.query<Answer<'readDesk'>, void>({ query: () => request('readDesk', {}), providesTags: ['Overview'] }),
    search: build.query<Answer<'search'>, string>({ query: (q) => request('search', { query: { q } }) }),
  }),
})

export const { usePlacesQuery, useDeskQuery, useSearchQuery } = deskApi
