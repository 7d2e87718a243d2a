import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { BY_CURSOR, api, pageQuery, request, type Answer, type Body } from '#shared/lib/api'

/** The parameters of a path that names a thing of a repository, from its id `repository/rest`. */
function placeOf<Name extends string>(id: string, name: Name): { repository: string } & Record<Name, string> {
  const place = splitRepositoryId(id)
  return { repository: place?.repository ?? '', [name]: place?.rest ?? id } as { repository: string } & Record<Name, string>
}

export const codeApi = api.injectEndpoints({
  endpoints: (build) => ({
    commitRemarks: build.query<Answer<'listCommitRemarks'>, string>({
      query: (id) => request('listCommitRemarks', { params: placeOf(id, 'sha') }),
      providesTags: ['Remark'],
    }),
    remarkOnCommit: build.mutation<Answer<'remarkOnCommit'>, { id: string } & Body<'remarkOnCommit'>>({
      query: ({ id, ...body }) => request('remarkOnCommit', { params: placeOf(id, 'sha'), body }),
      invalidatesTags: ['Remark'],
    }),
    settleCommitRemark: build.mutation<Answer<'settleCommitRemark'>, { id: string; remarkId: string; isSettled: boolean }>({
      query: ({ id, remarkId, isSettled }) =>
        request('settleCommitRemark', { params: { ...placeOf(id, 'sha'), remarkId }, body: { isSettled } }),
      invalidatesTags: ['Remark'],
    }),
    reactToCommitRemark: build.mutation<Answer<'reactToCommitRemark'>, { id: string; remarkId: string } & Body<'reactToCommitRemark'>>({
      query: ({ id, remarkId, ...body }) => request('reactToCommitRemark', { params: { ...placeOf(id, 'sha'), remarkId }, body }),
      invalidatesTags: ['Remark'],
    }),
    repositories: build.query<Answer<'listRepositories'>, void>({ query: () => request('listRepositories', {}), providesTags: ['Code'] }),
    commits: build.infiniteQuery<Answer<'listCommits'>, { filter: string }, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg, pageParam }) => request('listCommits', { query: pageQuery(queryArg, pageParam) }),
      providesTags: ['Code'],
    }),
    branches: build.infiniteQuery<Answer<'listBranches'>, { filter: string }, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg, pageParam }) => request('listBranches', { query: pageQuery(queryArg, pageParam) }),
      providesTags: ['Code'],
    }),
    pullRequestList: build.infiniteQuery<Answer<'listPullRequests'>, { filter: string }, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg, pageParam }) => request('listPullRequests', { query: pageQuery(queryArg, pageParam) }),
      providesTags: ['Code', 'Build'],
    }),
    commit: build.query<Answer<'readCommit'>, string>({
      query: (id) => {
        const place = splitRepositoryId(id)
        return place
          ? request('readCommitOf', { params: { repository: place.repository, sha: place.rest } })
          : request('readCommit', { params: { sha: id } })
      },
      providesTags: ['Code'],
    }),
    commitDiff: build.query<Answer<'readCommitDiff'>, string>({
      query: (id) => request('readCommitDiff', { params: placeOf(id, 'sha') }),
    }),
    pullRequests: build.query<Answer<'listPullRequests'>, { repository?: string; state?: 'open' | 'merged' | 'closed' }>({
      query: (asked) => request('listPullRequests', { query: { limit: 60, ...asked } }),
      providesTags: ['Code', 'Build'],
    }),
    pullRequest: build.query<Answer<'readPullRequest'>, string>({
      query: (id) => {
        const place = splitRepositoryId(id)
        return place
          ? request('readPullRequestOf', { params: { repository: place.repository, number: place.rest } })
          : request('readPullRequest', { params: { number: id } })
      },
      providesTags: ['Code', 'Build'],
    }),
    pullRequestDiff: build.query<Answer<'readPullRequestDiff'>, { id: string; headSha: string }>({
      query: ({ id }) => request('readPullRequestDiff', { params: placeOf(id, 'number') }),
    }),
    pullRequestProposal: build.query<
      Answer<'proposePullRequest'>,
      { repository: string; source: string; target?: string; template?: string }
    >({
      query: ({ repository, ...query }) => request('proposePullRequest', { params: { repository }, query }),
      providesTags: ['Code'],
    }),
    openPullRequest: build.mutation<Answer<'openPullRequest'>, Body<'openPullRequest'>>({
      query: (body) => request('openPullRequest', { body }),
      invalidatesTags: ['Code'],
    }),
    changePullRequest: build.mutation<Answer<'changePullRequest'>, { id: string } & Body<'changePullRequest'>>({
      query: ({ id, ...body }) => request('changePullRequest', { params: placeOf(id, 'number'), body }),
      invalidatesTags: ['Code'],
    }),
    carry: build.mutation<Answer<'carryCommit'>, { repository: string; sha: string } & Body<'carryCommit'>>({
      query: ({ repository, sha, ...body }) => request('carryCommit', { params: { repository, sha }, body }),
      invalidatesTags: ['Code', 'Tie'],
    }),
    merge: build.mutation<Answer<'mergePullRequest'>, string>({
      query: (id) => request('mergePullRequest', { params: placeOf(id, 'number') }),
      invalidatesTags: ['Code'],
    }),
  }),
})

export const {
  useCommitRemarksQuery,
  useRemarkOnCommitMutation,
  useSettleCommitRemarkMutation,
  useReactToCommitRemarkMutation,
  useRepositoriesQuery,
  useCommitsInfiniteQuery,
  useBranchesInfiniteQuery,
  usePullRequestListInfiniteQuery,
  useCommitQuery,
  useCommitDiffQuery,
  usePullRequestsQuery,
  usePullRequestQuery,
  usePullRequestDiffQuery,
  useOpenPullRequestMutation,
  usePullRequestProposalQuery,
  useChangePullRequestMutation,
  useCarryMutation,
  useMergeMutation,
} = codeApi
