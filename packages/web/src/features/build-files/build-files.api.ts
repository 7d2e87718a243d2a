import { api, request, type Answer } from '#shared/lib/api'

export const buildFilesApi = api.injectEndpoints({
  endpoints: (build) => ({
    buildFiles: build.query<Answer<'listBuildFiles'>, { repository: string; number: string }>({
      query: (params) => request('listBuildFiles', { params }),
      providesTags: ['Build'],
    }),
    releaseFiles: build.query<Answer<'listReleaseFiles'>, string>({
      query: (release) => request('listReleaseFiles', { params: { release } }),
      providesTags: ['Build', 'Release'],
    }),
  }),
})

const { useBuildFilesQuery } = buildFilesApi
export const { useReleaseFilesQuery } = buildFilesApi

/** While a build runs, what it left is looked at again after so long. */
const AGAIN_MS = 5000

/** The files that a build left; of one that runs, as they come. */
export function useBuildFiles(of: { repository: string; number: string }, isRunning: boolean) {
  return useBuildFilesQuery(of, { pollingInterval: isRunning ? AGAIN_MS : 0 })
}
