import { api, request, type Answer, type Body } from '#shared/lib/api'

export const qualityApi = api.injectEndpoints({
  endpoints: (build) => ({
    qualityRules: build.query<Answer<'listQualityRules'>, string>({
      query: (project) => request('listQualityRules', { params: { project } }),
      providesTags: ['IntakeRule'],
    }),
    setQualityRules: build.mutation<Answer<'setQualityRules'>, { project: string } & Body<'setQualityRules'>>({
      query: ({ project, ...body }) => request('setQualityRules', { params: { project }, body }),
      invalidatesTags: ['IntakeRule'],
    }),
    tryQualityRule: build.mutation<Answer<'tryQualityRule'>, { project: string } & Body<'tryQualityRule'>>({
      query: ({ project, ...body }) => request('tryQualityRule', { params: { project }, body }),
    }),
  }),
})

export const { useQualityRulesQuery, useSetQualityRulesMutation, useTryQualityRuleMutation } = qualityApi
