import { api, request, type Answer, type Body } from '#shared/lib/api'

const auditsApi = api.injectEndpoints({
  endpoints: (build) => ({
    keptReports: build.query<Answer<'listKeptReports'>, string>({
      query: (project) => request('listKeptReports', { params: { project } }),
      providesTags: ['Requirement'],
    }),
    keepReport: build.mutation<Answer<'keepReport'>, { project: string } & Body<'keepReport'>>({
      query: ({ project, ...body }) => request('keepReport', { params: { project }, body }),
      invalidatesTags: ['Requirement'],
    }),
    scheduleReports: build.mutation<Answer<'scheduleReports'>, { project: string } & Body<'scheduleReports'>>({
      query: ({ project, ...body }) => request('scheduleReports', { params: { project }, body }),
      invalidatesTags: ['Requirement'],
    }),
  }),
})

export const { useKeptReportsQuery, useKeepReportMutation, useScheduleReportsMutation } = auditsApi
