import { api, request, type Answer, type Body } from '#shared/lib/api'

export const projectsApi = api.injectEndpoints({
  endpoints: (build) => ({
    connectRepository: build.mutation<Answer<'connectRepository'>, { project: string } & Body<'connectRepository'>>({
      query: ({ project, ...body }) => request('connectRepository', { params: { project }, body }),
      invalidatesTags: ['Code', 'Release', 'Overview'],
    }),
    makeRepositoryKey: build.mutation<Answer<'makeRepositoryKey'>, string>({
      query: (project) => request('makeRepositoryKey', { params: { project } }),
    }),
    changeRepository: build.mutation<Answer<'changeRepository'>, { repository: string } & Body<'changeRepository'>>({
      query: ({ repository, ...body }) => request('changeRepository', { params: { repository }, body }),
      invalidatesTags: ['Code', 'Release', 'Overview'],
    }),
    renameProject: build.mutation<Answer<'renameProject'>, { project: string; name: string }>({
      query: ({ project, name }) => request('renameProject', { params: { project }, body: { name } }),
      invalidatesTags: ['Me'],
    }),
    archiveProject: build.mutation<Answer<'archiveProject'>, { project: string } & Body<'archiveProject'>>({
      query: ({ project, ...body }) => request('archiveProject', { params: { project }, body }),
      invalidatesTags: ['Me', 'Overview', 'Items', 'LongItems', 'Triage'],
    }),
    createProject: build.mutation<Answer<'createProject'>, Body<'createProject'>>({
      query: (body) => request('createProject', { body }),
      invalidatesTags: ['Me', 'Overview', 'Items', 'LongItems', 'Code', 'Release', 'Triage'],
    }),
  }),
})

export const {
  useMakeRepositoryKeyMutation,
  useArchiveProjectMutation,
  useChangeRepositoryMutation,
  useConnectRepositoryMutation,
  useCreateProjectMutation,
  useRenameProjectMutation,
} = projectsApi
