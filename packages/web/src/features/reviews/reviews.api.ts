import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { api, request, type Answer, type Body, type Tag } from '#shared/lib/api'

/** The parameters that name a pull request, from its id `repository/58`. */
function placeOf(id: string): { repository: string; number: string } {
  const place = splitRepositoryId(id)
  return { repository: place?.repository ?? '', number: place?.rest ?? id }
}
/** What people say of a change moves its gates, the desk, and the ladders of its items. */
const STALE: Tag[] = ['Code', 'Overview', 'Item', 'Items']

export const reviewsApi = api.injectEndpoints({
  endpoints: (build) => ({
    review: build.query<Answer<'readReview'>, string>({
      query: (id) => request('readReview', { params: placeOf(id) }),
      providesTags: ['Code', 'Build'],
    }),
    changedCoverage: build.query<Answer<'readChangedCoverage'>, string>({
      query: (id) => request('readChangedCoverage', { params: placeOf(id) }),
      providesTags: ['Code', 'Build'],
    }),
    reviewerProposals: build.query<Answer<'listReviewerProposals'>, string>({
      query: (id) => request('listReviewerProposals', { params: placeOf(id) }),
      providesTags: ['Code'],
    }),
    takeProposed: build.mutation<Answer<'takeProposed'>, { id: string; remarkIds: string[] }>({
      query: ({ id, remarkIds }) => request('takeProposed', { params: placeOf(id), body: { remarkIds } }),
      invalidatesTags: STALE,
    }),
    askReview: build.mutation<Answer<'askReview'>, { id: string } & Body<'askReview'>>({
      query: ({ id, ...body }) => request('askReview', { params: placeOf(id), body }),
      invalidatesTags: STALE,
    }),
    giveReview: build.mutation<Answer<'giveReview'>, { id: string } & Body<'giveReview'>>({
      query: ({ id, ...body }) => request('giveReview', { params: placeOf(id), body }),
      invalidatesTags: STALE,
    }),
    makeRemark: build.mutation<Answer<'makeRemark'>, { id: string } & Body<'makeRemark'>>({
      query: ({ id, ...body }) => request('makeRemark', { params: placeOf(id), body }),
      invalidatesTags: STALE,
    }),
    settleRemark: build.mutation<Answer<'settleRemark'>, { id: string; remarkId: string; isSettled: boolean }>({
      query: ({ id, remarkId, isSettled }) => request('settleRemark', { params: { ...placeOf(id), remarkId }, body: { isSettled } }),
      invalidatesTags: STALE,
    }),
    reactToRemark: build.mutation<Answer<'reactToRemark'>, { id: string; remarkId: string } & Body<'reactToRemark'>>({
      query: ({ id, remarkId, ...body }) => request('reactToRemark', { params: { ...placeOf(id), remarkId }, body }),
      invalidatesTags: ['Code'],
    }),
    wantMerge: build.mutation<Answer<'wantMerge'>, { id: string } & Body<'wantMerge'>>({
      query: ({ id, ...body }) => request('wantMerge', { params: placeOf(id), body }),
      invalidatesTags: STALE,
    }),
    mergeGates: build.query<Answer<'readMergeGates'>, string>({
      query: (repository) => request('readMergeGates', { params: { repository } }),
      providesTags: ['Code'],
    }),
    gateTrial: build.query<Answer<'tryMergeGates'>, string>({
      query: (repository) => request('tryMergeGates', { params: { repository } }),
      providesTags: ['Code', 'Tie'],
    }),
    setMergeGates: build.mutation<Answer<'setMergeGates'>, { repository: string } & Body<'setMergeGates'>>({
      query: ({ repository, ...body }) => request('setMergeGates', { params: { repository }, body }),
      invalidatesTags: ['Code'],
    }),
    dropMergeGates: build.mutation<Answer<'dropMergeGates'>, { repository: string; branches: string }>({
      query: ({ repository, branches }) => request('dropMergeGates', { params: { repository }, query: { branches } }),
      invalidatesTags: ['Code'],
    }),
  }),
})

export const {
  useChangedCoverageQuery,
  useReviewQuery,
  useReviewerProposalsQuery,
  useTakeProposedMutation,
  useAskReviewMutation,
  useGiveReviewMutation,
  useMakeRemarkMutation,
  useSettleRemarkMutation,
  useReactToRemarkMutation,
  useWantMergeMutation,
  useMergeGatesQuery,
  useGateTrialQuery,
  useSetMergeGatesMutation,
  useDropMergeGatesMutation,
} = reviewsApi
