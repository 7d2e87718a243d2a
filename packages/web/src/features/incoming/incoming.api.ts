import { api, request, type Answer, type Body } from '#shared/lib/api'

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
} = incomingApi
