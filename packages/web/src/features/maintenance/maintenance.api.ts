import { api, request, type Answer, type Body } from '#shared/lib/api'

const maintenanceApi = api.injectEndpoints({
  endpoints: (build) => ({
    maintenanceLine: build.query<Answer<'readMaintenanceLine'>, { release: string; branch?: string }>({
      query: ({ release, branch }) => request('readMaintenanceLine', { params: { release }, query: { branch } }),
      providesTags: ['Release', 'Code', 'Items'],
    }),
    pickPlan: build.query<Answer<'tryPicks'>, { release: string } & Body<'tryPicks'>>({
      query: ({ release, ...body }) => request('tryPicks', { params: { release }, body }),
      providesTags: ['Code'],
    }),
    makePicks: build.mutation<Answer<'makePicks'>, { release: string } & Body<'makePicks'>>({
      query: ({ release, ...body }) => request('makePicks', { params: { release }, body }),
      invalidatesTags: ['Release', 'Code', 'Items', 'Item', 'Overview'],
    }),
  }),
})

export const { useMaintenanceLineQuery, usePickPlanQuery, useMakePicksMutation } = maintenanceApi
