import type { TimeGroup } from '@dystracer/core/talk/time-sums'
import { api, request, type Answer, type Body } from '#shared/lib/api'

export const talkApi = api.injectEndpoints({
  endpoints: (build) => ({
    comments: build.query<Answer<'listComments'>, { key: string; cursor?: string }>({
      query: ({ key, cursor }) => request('listComments', { params: { key }, query: { limit: 100, cursor } }),
      providesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    time: build.query<Answer<'listTime'>, string>({
      query: (key) => request('listTime', { params: { key } }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    previewComment: build.mutation<Answer<'previewComment'>, { key: string; text: string }>({
      query: ({ key, text }) => request('previewComment', { params: { key }, body: { text } }),
    }),
    editComment: build.mutation<Answer<'editComment'>, { key: string; commentId: string; text: string; before: string }>({
      query: ({ key, commentId, text, before }) => request('editComment', { params: { key, commentId }, body: { text, before } }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    commentRevisions: build.query<Answer<'listCommentRevisions'>, { key: string; commentId: string }>({
      query: (params) => request('listCommentRevisions', { params }),
      providesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    react: build.mutation<Answer<'reactToComment'>, { key: string; commentId: string } & Body<'reactToComment'>>({
      query: ({ key, commentId, reaction, isOn }) => request('reactToComment', { params: { key, commentId }, body: { reaction, isOn } }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    attachments: build.query<Answer<'listAttachments'>, string>({
      query: (key) => request('listAttachments', { params: { key } }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    removeAttachment: build.mutation<Answer<'removeAttachment'>, { key: string; attachmentId: string }>({
      query: (params) => request('removeAttachment', { params }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    takeTimeBack: build.mutation<Answer<'takeTimeBack'>, { key: string; entryId: string }>({
      query: (params) => request('takeTimeBack', { params }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }, 'Time'],
    }),
    timeSums: build.query<Answer<'readTimeSums'>, { by: TimeGroup; from?: string; to?: string }>({
      query: (query) => request('readTimeSums', { query }),
      providesTags: ['Time', 'Items'],
    }),
  }),
})

export const {
  useCommentsQuery,
  useTimeQuery,
  usePreviewCommentMutation,
  useEditCommentMutation,
  useCommentRevisionsQuery,
  useReactMutation,
  useAttachmentsQuery,
  useRemoveAttachmentMutation,
  useTakeTimeBackMutation,
  useTimeSumsQuery,
} = talkApi
