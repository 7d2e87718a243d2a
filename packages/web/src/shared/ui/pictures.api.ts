import { api, request, type Answer } from '#shared/lib/api'

export const picturesApi = api.injectEndpoints({
  endpoints: (build) => ({
    keepPicture: build.mutation<Answer<'keepPicture'>, { project: string; file: File }>({
      query: ({ project, file }) => ({
        ...request('keepPicture', { params: { project }, query: { name: file.name || 'clipboard.png' } }),
        body: file.slice(0, file.size, 'application/octet-stream'),
      }),
    }),
  }),
})

export const { useKeepPictureMutation } = picturesApi
