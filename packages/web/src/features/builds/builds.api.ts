import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { api, request, type Answer, type Body } from '#shared/lib/api'

/** The parameters that name a build, from its id `repository/113`. */
function placeOf(id: string): { repository: string; number: string } {
  const place = splitRepositoryId(id)
  return { repository: place?.repository ?? '', number: place?.rest ?? id }
}

export const buildsApi = api.injectEndpoints({
  endpoints: (build) => ({
    builds: build.query<Answer<'listBuilds'>, { cursor?: string }>({
      query: ({ cursor }) => request('listBuilds', { query: { limit: 100, cursor } }),
      providesTags: ['Build'],
    }),
    build: build.query<Answer<'readBuild'>, string>({
      query: (id) => request('readBuild', { params: placeOf(id) }),
      providesTags: ['Build'],
    }),
    failures: build.query<Answer<'readFailures'>, string>({
      query: (id) => request('readFailures', { params: placeOf(id) }),
      providesTags: ['Build', 'Code'],
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

export const { useBuildsQuery, useBuildQuery, useFailuresQuery, useTestRecordQuery, useTakeFailureMutation, useLogFailureMutation } =
  buildsApi
