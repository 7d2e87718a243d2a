import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { api, request, type Answer } from '#shared/lib/api'

export const buildsApi = api.injectEndpoints({
  endpoints: (build) => ({
    builds: build.query<Answer<'listBuilds'>, { cursor?: string }>({
      query: ({ cursor }) => request('listBuilds', { query: { limit: 100, cursor } }),
      providesTags: ['Build'],
    }),
    build: build.query<Answer<'readBuild'>, string>({
      query: (id) => {
        const place = splitRepositoryId(id)
        return request('readBuild', { params: { repository: place?.repository ?? '', number: place?.rest ?? id } })
      },
      providesTags: ['Build'],
    }),
  }),
})

export const { useBuildsQuery, useBuildQuery } = buildsApi
