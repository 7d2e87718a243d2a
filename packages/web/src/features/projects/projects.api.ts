import { api, request, type Answer, type Body } from '#shared/lib/api'

export const projectsApi = api.injectEndpoints({
  endpoints: (build) => ({
    createProject: build.mutation<Answer<'createProject'>, Body<'createProject'>>({
      query: (body) => request('createProject', { body }),
      invalidatesTags: ['Me', 'Overview', 'Items', 'LongItems', 'Code', 'Release', 'Triage'],
    }),
  }),
})

export const { useCreateProjectMutation } = projectsApi
