import { api, request, type Answer, type Body } from '#shared/lib/api'

/** A train by its project. */
export interface Of {
  project: string
  trainId: string
}

const trainsApi = api.injectEndpoints({
  endpoints: (build) => ({
    trains: build.query<Answer<'listTrains'>, string>({
      query: (project) => request('listTrains', { params: { project } }),
      providesTags: ['Release'],
    }),
    train: build.query<Answer<'readTrain'>, Of>({
      query: (params) => request('readTrain', { params: { ...params } }),
      providesTags: ['Release', 'Items'],
    }),
    planTrain: build.mutation<Answer<'planTrain'>, { project: string } & Body<'planTrain'>>({
      query: ({ project, ...body }) => request('planTrain', { params: { project }, body }),
      invalidatesTags: ['Release'],
    }),
    changeTrain: build.mutation<Answer<'changeTrain'>, Of & Body<'changeTrain'>>({
      query: ({ project, trainId, ...body }) => request('changeTrain', { params: { project, trainId }, body }),
      invalidatesTags: ['Release', 'Overview'],
    }),
    callTrainOff: build.mutation<Answer<'callTrainOff'>, Of & Body<'callTrainOff'>>({
      query: ({ project, trainId, ...body }) => request('callTrainOff', { params: { project, trainId }, body }),
      invalidatesTags: ['Release', 'Overview'],
    }),
    makeTrainReleases: build.mutation<Answer<'makeTrainReleases'>, Of>({
      query: (params) => request('makeTrainReleases', { params: { ...params } }),
      invalidatesTags: ['Release', 'Overview'],
    }),
    sendTrain: build.mutation<Answer<'sendTrain'>, Of & Body<'sendTrain'>>({
      query: ({ project, trainId, ...body }) => request('sendTrain', { params: { project, trainId }, body }),
      invalidatesTags: ['Release', 'Overview'],
    }),
  }),
})

export const {
  useTrainsQuery,
  useTrainQuery,
  usePlanTrainMutation,
  useChangeTrainMutation,
  useCallTrainOffMutation,
  useMakeTrainReleasesMutation,
  useSendTrainMutation,
} = trainsApi
