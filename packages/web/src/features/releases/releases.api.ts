import { api, request, type Answer, type Body } from '#shared/lib/api'

export const releasesApi = api.injectEndpoints({
  endpoints: (build) => ({
    releases: build.query<Answer<'readReleaseBoard'>, void>({ query: () => request('readReleaseBoard', {}), providesTags: ['Release'] }),
    release: build.query<Answer<'readRelease'>, string>({
      query: (release) => request('readRelease', { params: { release } }),
      providesTags: ['Release'],
    }),
    deploy: build.mutation<Answer<'askDeployment'>, Body<'askDeployment'>>({
      query: (body) => request('askDeployment', { body }),
      invalidatesTags: ['Release', 'Overview'],
    }),
    setEnvironment: build.mutation<Answer<'setEnvironment'>, { environment: string } & Body<'setEnvironment'>>({
      query: ({ environment, ...body }) => request('setEnvironment', { params: { environment }, body }),
      invalidatesTags: ['Release', 'Items', 'Item', 'Overview'],
    }),
    removeEnvironment: build.mutation<Answer<'removeEnvironment'>, string>({
      query: (environment) => request('removeEnvironment', { params: { environment } }),
      invalidatesTags: ['Release', 'Items', 'Item', 'Overview'],
    }),
    approve: build.mutation<Answer<'approveDeployment'>, string>({
      query: (id) => request('approveDeployment', { params: { id } }),
      invalidatesTags: ['Release', 'Overview'],
    }),
  }),
})

export const {
  useReleasesQuery,
  useReleaseQuery,
  useDeployMutation,
  useApproveMutation,
  useSetEnvironmentMutation,
  useRemoveEnvironmentMutation,
} = releasesApi
