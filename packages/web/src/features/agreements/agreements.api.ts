import { api, request, type Answer, type Body } from '#shared/lib/api'

/** An agreement by its project. */
export interface Of {
  project: string
  agreementId: string
}

const agreementsApi = api.injectEndpoints({
  endpoints: (build) => ({
    agreements: build.query<Answer<'listAgreements'>, string>({
      query: (project) => request('listAgreements', { params: { project } }),
      providesTags: ['Requirement'],
    }),
    agreement: build.query<Answer<'readAgreement'>, Of>({
      query: (params) => request('readAgreement', { params: { ...params } }),
      providesTags: ['Requirement'],
    }),
    askAgreement: build.mutation<Answer<'askAgreement'>, { project: string } & Body<'askAgreement'>>({
      query: ({ project, ...body }) => request('askAgreement', { params: { project }, body }),
      invalidatesTags: ['Requirement', 'Overview'],
    }),
    changeAgreement: build.mutation<Answer<'changeAgreement'>, Of & Body<'changeAgreement'>>({
      query: ({ project, agreementId, ...body }) => request('changeAgreement', { params: { project, agreementId }, body }),
      invalidatesTags: ['Requirement', 'Overview'],
    }),
    agreeTo: build.mutation<Answer<'agreeToRequirements'>, Of & Body<'agreeToRequirements'>>({
      query: ({ project, agreementId, ...body }) => request('agreeToRequirements', { params: { project, agreementId }, body }),
      invalidatesTags: ['Requirement', 'Overview'],
    }),
    remarkOn: build.mutation<Answer<'remarkOnAgreement'>, Of & Body<'remarkOnAgreement'>>({
      query: ({ project, agreementId, ...body }) => request('remarkOnAgreement', { params: { project, agreementId }, body }),
      invalidatesTags: ['Requirement'],
    }),
    settleAgreementRemark: build.mutation<Answer<'settleAgreementRemark'>, Of & { remarkId: string; isSettled: boolean }>({
      query: ({ isSettled, ...params }) => request('settleAgreementRemark', { params, body: { isSettled } }),
      invalidatesTags: ['Requirement'],
    }),
    endAgreement: build.mutation<Answer<'endAgreement'>, Of & Body<'endAgreement'>>({
      query: ({ project, agreementId, ...body }) => request('endAgreement', { params: { project, agreementId }, body }),
      invalidatesTags: ['Requirement', 'Overview'],
    }),
  }),
})

export const {
  useAgreementsQuery,
  useAgreementQuery,
  useAskAgreementMutation,
  useChangeAgreementMutation,
  useAgreeToMutation,
  useRemarkOnMutation,
  useSettleAgreementRemarkMutation,
  useEndAgreementMutation,
} = agreementsApi
