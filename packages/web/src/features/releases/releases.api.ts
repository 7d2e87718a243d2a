import type { NoteReader } from '@dystracer/core/releases/write-notes'
import { api, request, type Answer, type Body } from '#shared/lib/api'

export const releasesApi = api.injectEndpoints({
  endpoints: (build) => ({
    delivery: build.query<Answer<'readDelivery'>, number>({
      query: (days) => request('readDelivery', { query: { days } }),
      providesTags: ['Release'],
    }),
    releases: build.query<Answer<'readReleaseBoard'>, void>({ query: () => request('readReleaseBoard', {}), providesTags: ['Release'] }),
    release: build.query<Answer<'readRelease'>, string>({
      query: (release) => request('readRelease', { params: { release } }),
      providesTags: ['Release'],
    }),
    withdrawRelease: build.mutation<Answer<'withdrawRelease'>, { release: string } & Body<'withdrawRelease'>>({
      query: ({ release, ...body }) => request('withdrawRelease', { params: { release }, body }),
      invalidatesTags: ['Release'],
    }),
    releaseContents: build.query<Answer<'readReleaseContents'>, { release: string; against?: string }>({
      query: ({ release, against }) => request('readReleaseContents', { params: { release }, query: { against } }),
      providesTags: ['Release', 'Items'],
    }),
    releaseHealth: build.query<Answer<'readReleaseHealth'>, string>({
      query: (release) => request('readReleaseHealth', { params: { release } }),
      providesTags: ['Release', 'Fault'],
    }),
    releaseNotes: build.query<Answer<'readReleaseNotes'>, { release: string; reader: NoteReader }>({
      query: ({ release, reader }) => request('readReleaseNotes', { params: { release }, query: { reader } }),
      providesTags: ['Release', 'Items'],
    }),
    notesPublication: build.query<Answer<'readNotesPublication'>, { release: string; reader: NoteReader }>({
      query: ({ release, reader }) => request('readNotesPublication', { params: { release }, query: { reader } }),
      providesTags: ['Release', 'Items'],
    }),
    publishNotes: build.mutation<Answer<'publishNotes'>, { release: string } & Body<'publishNotes'>>({
      query: ({ release, ...body }) => request('publishNotes', { params: { release }, body }),
      invalidatesTags: ['Release'],
    }),
    withdrawNotes: build.mutation<Answer<'withdrawNotes'>, { release: string; reader: NoteReader }>({
      query: ({ release, reader }) => request('withdrawNotes', { params: { release }, query: { reader } }),
      invalidatesTags: ['Release'],
    }),
    publishedNotes: build.query<Answer<'listPublishedNotes'>, { service: string; reader: NoteReader }>({
      query: ({ service, reader }) => request('listPublishedNotes', { params: { service }, query: { reader } }),
      providesTags: ['Release'],
    }),
    writeReleaseNote: build.mutation<Answer<'writeReleaseNote'>, { release: string } & Body<'writeReleaseNote'>>({
      query: ({ release, ...body }) => request('writeReleaseNote', { params: { release }, body }),
      invalidatesTags: ['Release'],
    }),
    nextRelease: build.query<Answer<'readNextRelease'>, { service: string; of?: string }>({
      query: ({ service, of }) => request('readNextRelease', { params: { service }, query: { of } }),
      providesTags: ['Release', 'Items', 'Code', 'Build'],
    }),
    makeRelease: build.mutation<Answer<'makeRelease'>, { service: string } & Body<'makeRelease'>>({
      query: ({ service, ...body }) => request('makeRelease', { params: { service }, body }),
      invalidatesTags: ['Release', 'Items', 'Item', 'Overview'],
    }),
    deploy: build.mutation<Answer<'askDeployment'>, Body<'askDeployment'>>({
      query: (body) => request('askDeployment', { body }),
      invalidatesTags: ['Release', 'Overview'],
    }),
    tellDeployment: build.mutation<Answer<'tellDeployment'>, Body<'tellDeployment'>>({
      query: (body) => request('tellDeployment', { body }),
      invalidatesTags: ['Release', 'Items', 'Item', 'Overview', 'Incident'],
    }),
    takeDeploymentBack: build.mutation<Answer<'takeDeploymentBack'>, string>({
      query: (id) => request('takeDeploymentBack', { params: { id } }),
      invalidatesTags: ['Release', 'Items', 'Item', 'Overview', 'Incident'],
    }),
    setEnvironment: build.mutation<Answer<'setEnvironment'>, { environment: string } & Body<'setEnvironment'>>({
      query: ({ environment, ...body }) => request('setEnvironment', { params: { environment }, body }),
      invalidatesTags: ['Release', 'Items', 'Item', 'Overview'],
    }),
    removeEnvironment: build.mutation<Answer<'removeEnvironment'>, string>({
      query: (environment) => request('removeEnvironment', { params: { environment } }),
      invalidatesTags: ['Release', 'Items', 'Item', 'Overview'],
    }),
    approve: build.mutation<Answer<'approveDeployment'>, string>({
      query: (id) => request('approveDeployment', { params: { id } }),
      invalidatesTags: ['Release', 'Overview'],
    }),
  }),
})

export const {
  useDeliveryQuery,
  useReleasesQuery,
  useReleaseQuery,
  useReleaseContentsQuery,
  useWithdrawReleaseMutation,
  useReleaseHealthQuery,
  useNotesPublicationQuery,
  usePublishNotesMutation,
  useWithdrawNotesMutation,
  usePublishedNotesQuery,
  useReleaseNotesQuery,
  useWriteReleaseNoteMutation,
  useNextReleaseQuery,
  useMakeReleaseMutation,
  useDeployMutation,
  useApproveMutation,
  useTellDeploymentMutation,
  useTakeDeploymentBackMutation,
  useSetEnvironmentMutation,
  useRemoveEnvironmentMutation,
} = releasesApi
