import { api, request, type Answer, type Body } from '#shared/lib/api'

/** An exploration by its project. */
interface Of {
  project: string
  explorationId: string
}

export const exploringApi = api.injectEndpoints({
  endpoints: (build) => ({
    explorations: build.query<Answer<'listExplorations'>, string>({
      query: (project) => request('listExplorations', { params: { project } }),
      providesTags: ['Case'],
    }),
    exploration: build.query<Answer<'readExploration'>, Of>({
      query: (params) => request('readExploration', { params }),
      providesTags: ['Case'],
    }),
    beginExploration: build.mutation<Answer<'beginExploration'>, { project: string } & Body<'beginExploration'>>({
      query: ({ project, ...body }) => request('beginExploration', { params: { project }, body }),
      invalidatesTags: ['Case'],
    }),
    changeExploration: build.mutation<Answer<'changeExploration'>, Of & Body<'changeExploration'>>({
      query: ({ project, explorationId, ...body }) => request('changeExploration', { params: { project, explorationId }, body }),
      invalidatesTags: ['Case'],
    }),
    setExplorationPoint: build.mutation<Answer<'setExplorationPoint'>, Of & Body<'setExplorationPoint'>>({
      query: ({ project, explorationId, ...body }) => request('setExplorationPoint', { params: { project, explorationId }, body }),
      invalidatesTags: ['Case'],
    }),
    setExplorationClock: build.mutation<Answer<'setExplorationClock'>, Of & Body<'setExplorationClock'>>({
      query: ({ project, explorationId, ...body }) => request('setExplorationClock', { params: { project, explorationId }, body }),
      invalidatesTags: ['Case'],
    }),
    noteInExploration: build.mutation<Answer<'noteInExploration'>, Of & Body<'noteInExploration'>>({
      query: ({ project, explorationId, ...body }) => request('noteInExploration', { params: { project, explorationId }, body }),
      invalidatesTags: ['Case', 'Items', 'Triage'],
    }),
    removeExplorationNote: build.mutation<Answer<'removeExplorationNote'>, Of & { noteId: string }>({
      query: (params) => request('removeExplorationNote', { params: { ...params } }),
      invalidatesTags: ['Case'],
    }),
    endExploration: build.mutation<Answer<'endExploration'>, Of & Body<'endExploration'>>({
      query: ({ project, explorationId, ...body }) => request('endExploration', { params: { project, explorationId }, body }),
      invalidatesTags: ['Case'],
    }),
  }),
})

export const {
  useExplorationsQuery,
  useExplorationQuery,
  useBeginExplorationMutation,
  useChangeExplorationMutation,
  useSetExplorationPointMutation,
  useSetExplorationClockMutation,
  useNoteInExplorationMutation,
  useRemoveExplorationNoteMutation,
  useEndExplorationMutation,
} = exploringApi
