import { api, request, type Answer, type Body } from '#shared/lib/api'

export const intakeApi = api.injectEndpoints({
  endpoints: (build) => ({
    intakeRules: build.query<Answer<'listIntakeRules'>, string>({
      query: (project) => request('listIntakeRules', { params: { project } }),
      providesTags: ['IntakeRule'],
    }),
    intakeRule: build.query<Answer<'readIntakeRule'>, { project: string; ruleId: string }>({
      query: (params) => request('readIntakeRule', { params }),
      providesTags: ['IntakeRule', 'Fault'],
    }),
    orderIntakeRules: build.mutation<Answer<'orderIntakeRules'>, { project: string; ruleIds: string[] }>({
      query: ({ project, ruleIds }) => request('orderIntakeRules', { params: { project }, body: { ruleIds } }),
      invalidatesTags: ['IntakeRule'],
    }),
    setIntakeBudget: build.mutation<Answer<'setIntakeBudget'>, { project: string } & Body<'setIntakeBudget'>>({
      query: ({ project, ...body }) => request('setIntakeBudget', { params: { project }, body }),
      invalidatesTags: ['IntakeRule'],
    }),
    tryIntakeRule: build.mutation<Answer<'tryIntakeRule'>, { project: string; body: Body<'tryIntakeRule'> }>({
      query: ({ project, body }) => request('tryIntakeRule', { params: { project }, body }),
    }),
    setIntakeRule: build.mutation<Answer<'setIntakeRule'>, { project: string; ruleId: string; body: Body<'setIntakeRule'> }>({
      query: ({ body, ...params }) => request('setIntakeRule', { params, body }),
      invalidatesTags: ['IntakeRule'],
    }),
    removeIntakeRule: build.mutation<Answer<'removeIntakeRule'>, { project: string; ruleId: string }>({
      query: (params) => request('removeIntakeRule', { params }),
      invalidatesTags: ['IntakeRule'],
    }),
  }),
})

export const {
  useIntakeRulesQuery,
  useIntakeRuleQuery,
  useOrderIntakeRulesMutation,
  useSetIntakeBudgetMutation,
  useTryIntakeRuleMutation,
  useSetIntakeRuleMutation,
  useRemoveIntakeRuleMutation,
} = intakeApi
