import { api, request, type Answer, type Body } from '#shared/lib/api'

interface HookArgs {
  project: string
  hookId: string
}

export const incomingApi = api.injectEndpoints({
  endpoints: (build) => ({
    publicForm: build.query<Answer<'readPublicForm'>, string>({ query: (project) => request('readPublicForm', { params: { project } }) }),
    sendPublicReport: build.mutation<Answer<'sendPublicReport'>, { project: string } & Body<'sendPublicReport'>>({
      query: ({ project, ...body }) => request('sendPublicReport', { params: { project }, body }),
    }),
    webhook: build.query<Answer<'readWebhook'>, void>({ query: () => request('readWebhook', {}), providesTags: ['Webhook'] }),
    deliveries: build.query<Answer<'listDeliveries'>, void>({ query: () => request('listDeliveries', {}), providesTags: ['Webhook'] }),
    replayDelivery: build.mutation<Answer<'replayDelivery'>, string>({
      query: (deliveryId) => request('replayDelivery', { params: { deliveryId } }),
      invalidatesTags: ['Webhook', 'Code', 'Build'],
    }),
    renewWebhook: build.mutation<Answer<'renewWebhook'>, void>({ query: () => request('renewWebhook', {}), invalidatesTags: ['Webhook'] }),
    hooks: build.query<Answer<'listHooks'>, string>({
      query: (project) => request('listHooks', { params: { project } }),
      providesTags: ['Webhook'],
    }),
    setHook: build.mutation<Answer<'setHook'>, HookArgs & Body<'setHook'>>({
      query: ({ project, hookId, ...body }) => request('setHook', { params: { project, hookId }, body }),
      invalidatesTags: ['Webhook'],
    }),
    removeHook: build.mutation<Answer<'removeHook'>, HookArgs>({
      query: (params) => request('removeHook', { params }),
      invalidatesTags: ['Webhook'],
    }),
    hookSecret: build.query<Answer<'readHookSecret'>, HookArgs>({ query: (params) => request('readHookSecret', { params }) }),
    renewHookSecret: build.mutation<Answer<'renewHookSecret'>, HookArgs>({ query: (params) => request('renewHookSecret', { params }) }),
    hookMessages: build.query<Answer<'listHookMessages'>, HookArgs>({
      query: (params) => request('listHookMessages', { params }),
      providesTags: ['Webhook'],
    }),
    tryReadings: build.mutation<Answer<'tryReadings'>, HookArgs & Body<'tryReadings'>>({
      query: ({ project, hookId, ...body }) => request('tryReadings', { params: { project, hookId }, body }),
    }),
    reportState: build.query<Answer<'readReport'>, string>({
      query: (token) => request('readReport', { params: { token } }),
      providesTags: ['Me'],
    }),
    answerReport: build.mutation<Answer<'answerReport'>, { token: string; text: string }>({
      query: ({ token, text }) => request('answerReport', { params: { token }, body: { text } }),
      invalidatesTags: ['Me'],
    }),
  }),
})

export const {
  usePublicFormQuery,
  useSendPublicReportMutation,
  useReportStateQuery,
  useAnswerReportMutation,
  useWebhookQuery,
  useDeliveriesQuery,
  useReplayDeliveryMutation,
  useRenewWebhookMutation,
  useHooksQuery,
  useSetHookMutation,
  useRemoveHookMutation,
  useLazyHookSecretQuery,
  useRenewHookSecretMutation,
  useHookMessagesQuery,
  useTryReadingsMutation,
} = incomingApi
