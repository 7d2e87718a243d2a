import { api, request, type Answer, type Body } from '#shared/lib/api'

export const inboxApi = api.injectEndpoints({
  endpoints: (build) => ({
    inbox: build.query<Answer<'listInbox'>, { view: 'unread' | 'all' | 'later'; limit: number }>({
      query: (query) => request('listInbox', { query }),
      providesTags: ['Notice'],
    }),
    readNotices: build.mutation<Answer<'markRead'>, Body<'markRead'>>({
      query: (body) => request('markRead', { body }),
      invalidatesTags: ['Notice', 'Overview'],
    }),
    snooze: build.mutation<Answer<'snooze'>, Body<'snooze'>>({
      query: (body) => request('snooze', { body }),
      invalidatesTags: ['Notice', 'Overview'],
    }),
    noticeChoices: build.query<Answer<'readNoticeChoices'>, void>({ query: () => request('readNoticeChoices', {}), providesTags: ['Me'] }),
    chooseWay: build.mutation<Answer<'chooseNoticeWay'>, Body<'chooseNoticeWay'>>({
      query: (body) => request('chooseNoticeWay', { body }),
      invalidatesTags: ['Me'],
    }),
  }),
})

export const { useInboxQuery, useReadNoticesMutation, useSnoozeMutation, useNoticeChoicesQuery, useChooseWayMutation } = inboxApi
