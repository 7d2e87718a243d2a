import { api, request, type Answer, type Body } from '#shared/lib/api'

export const importsApi = api.injectEndpoints({
  endpoints: (build) => ({
    import: build.query<Answer<'readImport'>, string>({
      query: (importId) => request('readImport', { params: { importId } }),
      providesTags: ['Import'],
    }),
    runImport: build.mutation<Answer<'runImport'>, { importId: string } & Body<'runImport'>>({
      query: ({ importId, ...body }) => request('runImport', { params: { importId }, body }),
      invalidatesTags: ['Import'],
    }),
    cancelImport: build.mutation<Answer<'cancelImport'>, string>({
      query: (importId) => request('cancelImport', { params: { importId } }),
      invalidatesTags: ['Import'],
    }),
  }),
})

export const { useImportQuery, useRunImportMutation, useCancelImportMutation } = importsApi
