import { api, request, type Answer } from '#shared/lib/api'
import type { LogPlace } from './log-id'

type Which = Omit<LogPlace, 'line'>
const askedOf = ({ repository, number, step, attempt }: Which) => ({ params: { repository, number }, query: { step, attempt } })

export const buildLogsApi = api.injectEndpoints({
  endpoints: (build) => ({
    buildLogs: build.query<Answer<'listBuildLogs'>, { repository: string; number: string }>({
      query: (params) => request('listBuildLogs', { params }),
      providesTags: ['Build'],
    }),
    logLines: build.query<Answer<'readLogLines'>, Which & { from: number; count: number }>({
      query: ({ from, count, ...which }) => {
        const { params, query } = askedOf(which)
        return request('readLogLines', { params, query: { ...query, from, count } })
      },
    }),
    foundInLog: build.query<Answer<'findInLog'>, Which & { text: string; upTo: number }>({
      query: ({ text, upTo: _, ...which }) => {
        const { params, query } = askedOf(which)
        return request('findInLog', { params, query: { ...query, text } })
      },
    }),
  }),
})

export const { useBuildLogsQuery, useLogLinesQuery, useFoundInLogQuery, useLazyFoundInLogQuery } = buildLogsApi
