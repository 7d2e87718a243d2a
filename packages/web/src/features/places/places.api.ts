import { api, request, type Answer, type Body } from '#shared/lib/api'

const placesApi = api.injectEndpoints({
  endpoints: (build) => ({
    placeGates: build.query<Answer<'listPlaceGates'>, void>({
      query: () => request('listPlaceGates', {}),
      providesTags: ['Release'],
    }),
    setPlaceGates: build.mutation<Answer<'setPlaceGates'>, { environment: string } & Body<'setPlaceGates'>>({
      query: ({ environment, ...body }) => request('setPlaceGates', { params: { environment }, body }),
      invalidatesTags: ['Release'],
    }),
    checkDeployment: build.mutation<Answer<'checkDeployment'>, { id: string } & Body<'checkDeployment'>>({
      query: ({ id, ...body }) => request('checkDeployment', { params: { id }, body }),
      invalidatesTags: ['Release', 'Overview'],
    }),
    passOverGates: build.mutation<Answer<'passOverGates'>, { id: string } & Body<'passOverGates'>>({
      query: ({ id, ...body }) => request('passOverGates', { params: { id }, body }),
      invalidatesTags: ['Release', 'Overview'],
    }),
    takeAgreementBack: build.mutation<Answer<'takeAgreementBack'>, string>({
      query: (id) => request('takeAgreementBack', { params: { id } }),
      invalidatesTags: ['Release', 'Overview'],
    }),
  }),
})

export const {
  usePlaceGatesQuery,
  useSetPlaceGatesMutation,
  useCheckDeploymentMutation,
  usePassOverGatesMutation,
  useTakeAgreementBackMutation,
} = placesApi
