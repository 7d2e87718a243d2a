import { api, request, type Answer, type Body } from '#shared/lib/api'

/** A plan or a case by its project. */
interface OfPlan {
  project: string
  planId: string
}
interface OfCase {
  project: string
  number: string
}

export const casesApi = api.injectEndpoints({
  endpoints: (build) => ({
    cases: build.query<Answer<'listCases'>, string>({
      query: (project) => request('listCases', { params: { project } }),
      providesTags: ['Case'],
    }),
    testCase: build.query<Answer<'readCase'>, OfCase>({ query: (params) => request('readCase', { params }), providesTags: ['Case'] }),
    beginCase: build.mutation<Answer<'beginCase'>, { project: string } & Body<'beginCase'>>({
      query: ({ project, ...body }) => request('beginCase', { params: { project }, body }),
      invalidatesTags: ['Case', 'Requirement'],
    }),
    writeCase: build.mutation<Answer<'writeCase'>, OfCase & Body<'writeCase'>>({
      query: ({ project, number, ...body }) => request('writeCase', { params: { project, number }, body }),
      invalidatesTags: ['Case', 'Requirement'],
    }),
    retireCase: build.mutation<Answer<'retireCase'>, OfCase & Body<'retireCase'>>({
      query: ({ project, number, ...body }) => request('retireCase', { params: { project, number }, body }),
      invalidatesTags: ['Case', 'Requirement'],
    }),
    importCases: build.mutation<Answer<'importCases'>, { project: string; file: File; trial: boolean }>({
      query: ({ project, file, trial }) => ({
        ...request('importCases', { params: { project }, query: { trial: String(trial) } }),
        body: file.slice(0, file.size, 'text/csv'),
      }),
      invalidatesTags: (_, __, { trial }) => (trial ? [] : ['Case', 'Requirement']),
    }),
    testPlans: build.query<Answer<'listTestPlans'>, string>({
      query: (project) => request('listTestPlans', { params: { project } }),
      providesTags: ['Case'],
    }),
    testPlan: build.query<Answer<'readTestPlan'>, OfPlan>({
      query: (params) => request('readTestPlan', { params }),
      providesTags: ['Case'],
    }),
    makeTestPlan: build.mutation<Answer<'makeTestPlan'>, { project: string } & Body<'makeTestPlan'>>({
      query: ({ project, ...body }) => request('makeTestPlan', { params: { project }, body }),
      invalidatesTags: ['Case'],
    }),
    changeTestPlan: build.mutation<Answer<'changeTestPlan'>, OfPlan & Body<'changeTestPlan'>>({
      query: ({ project, planId, ...body }) => request('changeTestPlan', { params: { project, planId }, body }),
      invalidatesTags: ['Case'],
    }),
    doCase: build.mutation<Answer<'doCase'>, OfPlan & Body<'doCase'>>({
      query: ({ project, planId, ...body }) => request('doCase', { params: { project, planId }, body }),
      invalidatesTags: ['Case', 'Requirement', 'Items'],
    }),
    signTestPlan: build.mutation<Answer<'signTestPlan'>, OfPlan & Body<'signTestPlan'>>({
      query: ({ project, planId, ...body }) => request('signTestPlan', { params: { project, planId }, body }),
      invalidatesTags: ['Case'],
    }),
  }),
})

export const {
  useCasesQuery,
  useTestCaseQuery,
  useBeginCaseMutation,
  useWriteCaseMutation,
  useRetireCaseMutation,
  useImportCasesMutation,
  useTestPlansQuery,
  useTestPlanQuery,
  useMakeTestPlanMutation,
  useChangeTestPlanMutation,
  useDoCaseMutation,
  useSignTestPlanMutation,
} = casesApi
