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

const { useBuildLogsQuery } = buildLogsApi
export const { useLogLinesQuery, useFoundInLogQuery, useLazyFoundInLogQuery } = buildLogsApi

/** While a build runs, its logs are looked at again after so long. */
const AGAIN_MS = 2000

/** What the steps of a build printed; of one that runs, as it grows. */
export function useBuildLogs(of: { repository: string; number: string }, isRunning: boolean) {
  return useBuildLogsQuery(of, { pollingInterval: isRunning ? AGAIN_MS : 0 })
}
