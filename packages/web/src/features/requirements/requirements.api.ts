import { api, request, type Answer, type Body } from '#shared/lib/api'

export const requirementsApi = api.injectEndpoints({
  endpoints: (build) => ({
    requirements: build.query<Answer<'listRequirements'>, void>({
      query: () => request('listRequirements', {}),
      providesTags: ['Requirement'],
    }),
    requirement: build.query<Answer<'readRequirement'>, string>({
      query: (key) => request('readRequirement', { params: { key } }),
      providesTags: ['Requirement'],
    }),
    beginRequirement: build.mutation<Answer<'beginRequirement'>, { project: string } & Body<'beginRequirement'>>({
      query: ({ project, ...body }) => request('beginRequirement', { params: { project }, body }),
      invalidatesTags: ['Requirement', 'Overview'],
    }),
    writeRequirement: build.mutation<Answer<'writeRequirement'>, { key: string } & Body<'writeRequirement'>>({
      query: ({ key, ...body }) => request('writeRequirement', { params: { key }, body }),
      invalidatesTags: ['Requirement', 'Item', 'Thread'],
    }),
  }),
})

export const { useRequirementsQuery, useRequirementQuery, useWriteRequirementMutation, useBeginRequirementMutation } = requirementsApi
