import type { MatrixColumn } from '@dystracer/core/threads/matrix'
import { api, request, type Answer } from '#shared/lib/api'

export const threadsApi = api.injectEndpoints({
  endpoints: (build) => ({
    thread: build.query<Answer<'readThread'>, string>({
      query: (id) => request('readThread', { params: { id } }),
      providesTags: ['Thread'],
    }),
    impact: build.query<Answer<'readImpact'>, string>({
      query: (key) => request('readImpact', { params: { key } }),
      providesTags: ['Thread', 'Requirement', 'Items', 'Build', 'Release'],
    }),
    matrix: build.query<Answer<'readMatrix'>, { project: string; columns: MatrixColumn }>({
      query: ({ project, columns }) => request('readMatrix', { params: { project }, query: { columns } }),
      providesTags: ['Thread', 'Requirement', 'Items', 'Build', 'Release'],
    }),
  }),
})

export const { useThreadQuery, useMatrixQuery, useImpactQuery } = threadsApi
