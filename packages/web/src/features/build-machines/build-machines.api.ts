import { api, request, type Answer, type Body } from '#shared/lib/api'

export const buildMachinesApi = api.injectEndpoints({
  endpoints: (build) => ({
    wantedBuilds: build.query<Answer<'listWantedBuilds'>, { repository?: string }>({
      query: (query) => request('listWantedBuilds', { query }),
      providesTags: ['Build'],
    }),
    wantBuild: build.mutation<Answer<'wantBuild'>, { repository: string } & Body<'wantBuild'>>({
      query: ({ repository, ...body }) => request('wantBuild', { params: { repository }, body }),
      invalidatesTags: ['Build'],
    }),
    stopWantedBuild: build.mutation<Answer<'stopWantedBuild'>, { repository: string; wantedId: string }>({
      query: (params) => request('stopWantedBuild', { params }),
      invalidatesTags: ['Build'],
    }),
    buildDescription: build.query<Answer<'readBuildDescription'>, string>({
      query: (repository) => request('readBuildDescription', { params: { repository }, query: {} }),
      providesTags: ['Code'],
    }),
    tryBuildDescription: build.query<Answer<'tryBuildDescription'>, { repository: string; text: string }>({
      query: ({ repository, text }) => request('tryBuildDescription', { params: { repository }, body: { text } }),
    }),
    proposeBuildDescription: build.mutation<Answer<'proposeBuildDescription'>, { repository: string; text: string }>({
      query: ({ repository, text }) => request('proposeBuildDescription', { params: { repository }, body: { text } }),
      invalidatesTags: ['Code'],
    }),
  }),
})

const { useWantedBuildsQuery } = buildMachinesApi
export const {
  useWantBuildMutation,
  useStopWantedBuildMutation,
  useBuildDescriptionQuery,
  useTryBuildDescriptionQuery,
  useProposeBuildDescriptionMutation,
} = buildMachinesApi

/** That a machine asks is no event: whether it is here is looked at again after so long. */
const AGAIN_MS = 15_000

/** Builds that are wanted, and the machines. */
export function useWantedBuilds(of: { repository?: string } = {}) {
  return useWantedBuildsQuery(of, { pollingInterval: AGAIN_MS })
}
