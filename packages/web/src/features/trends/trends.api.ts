import { api, request, type Answer, type Body } from '#shared/lib/api'

interface OfBuild {
  repository: string
  number: string
}

export const trendsApi = api.injectEndpoints({
  endpoints: (build) => ({
    trend: build.query<Answer<'readTrend'>, string>({
      query: (repository) => request('readTrend', { params: { repository } }),
      providesTags: ['Build'],
    }),
    buildCoverage: build.query<Answer<'readBuildCoverage'>, OfBuild>({
      query: ({ repository, number }) => request('readBuildCoverage', { params: { repository, number } }),
      providesTags: ['Build'],
    }),
    uncoveredFailures: build.query<Answer<'listUncoveredFailures'>, OfBuild>({
      // It takes git, and what a build ran does not change: it is not asked again with every build.
      query: ({ repository, number }) => request('listUncoveredFailures', { params: { repository, number } }),
    }),
    pinnedCharts: build.query<Answer<'listPinnedCharts'>, string>({
      query: (project) => request('listPinnedCharts', { params: { project } }),
      providesTags: ['Views'],
    }),
    setPinnedCharts: build.mutation<Answer<'setPinnedCharts'>, { project: string } & Body<'setPinnedCharts'>>({
      query: ({ project, ...body }) => request('setPinnedCharts', { params: { project }, body }),
      invalidatesTags: ['Views'],
    }),
  }),
})

export const { useTrendQuery, useBuildCoverageQuery, useUncoveredFailuresQuery, usePinnedChartsQuery, useSetPinnedChartsMutation } =
  trendsApi
