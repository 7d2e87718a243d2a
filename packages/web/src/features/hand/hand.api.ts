import { api, request, type Answer } from '#shared/lib/api'

export const handApi = api.injectEndpoints({
  endpoints: (build) => ({
    hand: build.query<Answer<'readHand'>, void>({ query: () => request('readHand', {}), providesTags: ['Hand'] }),
    takeInHand: build.mutation<Answer<'takeInHand'>, { key: string }>({
      query: (body) => request('takeInHand', { body }),
      invalidatesTags: ['Hand'],
    }),
    park: build.mutation<Answer<'parkItem'>, string>({
      query: (key) => request('parkItem', { params: { key } }),
      invalidatesTags: (_result, _error, key) => ['Hand', 'Time', { type: 'Item', id: key }],
    }),
    bookHand: build.mutation<Answer<'bookHand'>, { key: string; minutes: number }>({
      query: ({ key, minutes }) => request('bookHand', { params: { key }, body: { minutes } }),
      invalidatesTags: (_result, _error, { key }) => ['Hand', 'Time', { type: 'Item', id: key }],
    }),
    putDown: build.mutation<Answer<'putDown'>, string>({
      query: (key) => request('putDown', { params: { key } }),
      invalidatesTags: ['Hand'],
    }),
    note: build.query<Answer<'readNote'>, string>({
      query: (key) => request('readNote', { params: { key } }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: `note of ${key}` }],
    }),
    writeNote: build.mutation<Answer<'writeNote'>, { key: string; text: string }>({
      query: ({ key, text }) => request('writeNote', { params: { key }, body: { text } }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: `note of ${key}` }],
    }),
  }),
})

export const {
  useHandQuery,
  useTakeInHandMutation,
  useParkMutation,
  useBookHandMutation,
  usePutDownMutation,
  useNoteQuery,
  useWriteNoteMutation,
} = handApi
