import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { BY_CURSOR, api, pageQuery, request, type Answer, type Body } from '#shared/lib/api'

/** The parameters that name a build, from its id `repository/113`. */
function placeOf(id: string): { repository: string; number: string } {
  const place = splitRepositoryId(id)
  return { repository: place?.repository ?? '', number: place?.rest ?? id }
}

export const buildsApi = api.injectEndpoints({
  endpoints: (build) => ({
    builds: build.infiniteQuery<Answer<'listBuilds'>, { filter: string }, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg, pageParam }) => request('listBuilds', { query: pageQuery(queryArg, pageParam) }),
      providesTags: ['Build'],
    }),
    aside: build.query<Answer<'listAside'>, void>({ query: () => request('listAside', {}), providesTags: ['Build'] }),
    setAside: build.mutation<Answer<'setAside'>, { repository: string } & Body<'setAside'>>({
      query: ({ repository, ...body }) => request('setAside', { params: { repository }, body }),
      invalidatesTags: ['Build', 'Code'],
    }),
    badgeLink: build.query<Answer<'readBadgeLink'>, string>({
      query: (repository) => request('readBadgeLink', { params: { repository } }),
    }),
    artefacts: build.query<Answer<'listArtefacts'>, string>({
      query: (release) => request('listArtefacts', { params: { release } }),
      providesTags: ['Release'],
    }),
    mainLines: build.query<Answer<'listMainLines'>, void>({ query: () => request('listMainLines', {}), providesTags: ['Build', 'Code'] }),
    build: build.query<Answer<'readBuild'>, string>({
      query: (id) => request('readBuild', { params: placeOf(id) }),
      providesTags: ['Build'],
    }),
    failures: build.query<Answer<'readFailures'>, string>({
      query: (id) => request('readFailures', { params: placeOf(id) }),
      providesTags: ['Build', 'Code'],
    }),
    failure: build.query<Answer<'readFailure'>, { id: string; suite: string; name: string }>({
      query: ({ id, ...query }) => request('readFailure', { params: placeOf(id), query }),
      providesTags: ['Build'],
    }),
    buildFindings: build.query<Answer<'readBuildFindings'>, string>({
      query: (id) => request('readBuildFindings', { params: placeOf(id) }),
      providesTags: ['Build'],
    }),
    testRecord: build.query<Answer<'readTestRecord'>, { repository: string; suite: string; name: string }>({
      query: ({ repository, ...query }) => request('readTestRecord', { params: { repository }, query }),
      providesTags: ['Build'],
    }),
    takeFailure: build.mutation<Answer<'takeFailure'>, { id: string } & Body<'takeFailure'>>({
      query: ({ id, ...body }) => request('takeFailure', { params: placeOf(id), body }),
      invalidatesTags: ['Build'],
    }),
    logFailure: build.mutation<Answer<'logFailure'>, { id: string } & Body<'logFailure'>>({
      query: ({ id, ...body }) => request('logFailure', { params: placeOf(id), body }),
      invalidatesTags: ['Items', 'Triage', 'Overview'],
    }),
  }),
})

export const {
  useBuildsInfiniteQuery,
  useArtefactsQuery,
  useMainLinesQuery,
  useLazyBadgeLinkQuery,
  useAsideQuery,
  useSetAsideMutation,
  useBuildQuery,
  useBuildFindingsQuery,
  useFailureQuery,
  useFailuresQuery,
  useTestRecordQuery,
  useTakeFailureMutation,
  useLogFailureMutation,
} = buildsApi
