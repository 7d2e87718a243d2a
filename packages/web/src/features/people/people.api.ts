import { api, request, type Answer, type Body } from '#shared/lib/api'

/** Who is signed in decides what all of it shows. */
const ALL_OF_ME = [
  'Me',
  'Session',
  'Token',
  'Webhook',
  'Hand',
  'Views',
  'Notice',
  'Triage',
  'Overview',
  'Items',
  'LongItems',
  'Item',
] as const

export const peopleApi = api.injectEndpoints({
  endpoints: (build) => ({
    invited: build.query<Answer<'readSignUp'>, string>({ query: (secret) => request('readSignUp', { params: { secret } }) }),
    invite: build.mutation<Answer<'invitePerson'>, { project: string; body: Body<'invitePerson'> }>({
      query: ({ project, body }) => request('invitePerson', { params: { project }, body }),
      invalidatesTags: ['Me'],
    }),
    giveRole: build.mutation<Answer<'giveRole'>, { project: string; personId: string } & Body<'giveRole'>>({
      query: ({ role, ...params }) => request('giveRole', { params, body: { role } }),
      invalidatesTags: ['Me'],
    }),
    leaveProject: build.mutation<Answer<'leaveProject'>, { project: string; personId: string } & Body<'leaveProject'>>({
      query: ({ project, personId, ...body }) => request('leaveProject', { params: { project, personId }, body }),
      invalidatesTags: ['Me', 'Items', 'LongItems', 'Overview'],
    }),
    makeResetLink: build.mutation<Answer<'makeResetLink'>, { project: string; personId: string }>({
      query: (params) => request('makeResetLink', { params }),
    }),
    mailRefusals: build.query<Answer<'listMailRefusals'>, string>({
      query: (project) => request('listMailRefusals', { params: { project } }),
      providesTags: ['Me'],
    }),
    profile: build.query<Answer<'readProfile'>, void>({ query: () => request('readProfile', {}), providesTags: ['Me'] }),
    changeMe: build.mutation<Answer<'changeMe'>, Body<'changeMe'>>({
      query: (body) => request('changeMe', { body }),
      invalidatesTags: ['Me'],
    }),
    claimAddress: build.mutation<Answer<'claimAddress'>, Body<'claimAddress'>>({
      query: (body) => request('claimAddress', { body }),
      invalidatesTags: ['Me'],
    }),
    confirmAddress: build.mutation<Answer<'confirmAddress'>, Body<'confirmAddress'>>({
      query: (body) => request('confirmAddress', { body }),
      invalidatesTags: ['Me', 'Code'],
    }),
    giveUpAddress: build.mutation<Answer<'giveUpAddress'>, string>({
      query: (email) => request('giveUpAddress', { params: { email } }),
      invalidatesTags: ['Me', 'Code'],
    }),
    addressesOfMember: build.query<Answer<'listAddresses'>, { project: string; personId: string }>({
      query: (params) => request('listAddresses', { params }),
      providesTags: ['Me'],
    }),
    writeAddressDown: build.mutation<Answer<'writeAddressDown'>, { project: string; personId: string } & Body<'writeAddressDown'>>({
      query: ({ email, ...params }) => request('writeAddressDown', { params, body: { email } }),
      invalidatesTags: ['Me', 'Code'],
    }),
    changePassword: build.mutation<Answer<'changePassword'>, Body<'changePassword'>>({
      query: (body) => request('changePassword', { body }),
      invalidatesTags: ['Session'],
    }),
    secondFactor: build.query<Answer<'readSecondFactor'>, void>({
      query: () => request('readSecondFactor', {}),
      providesTags: ['Session'],
    }),
    beginSecondFactor: build.mutation<Answer<'beginSecondFactor'>, Body<'beginSecondFactor'>>({
      query: (body) => request('beginSecondFactor', { body }),
    }),
    confirmSecondFactor: build.mutation<Answer<'confirmSecondFactor'>, Body<'confirmSecondFactor'>>({
      query: (body) => request('confirmSecondFactor', { body }),
      invalidatesTags: ['Session'],
    }),
    endSecondFactor: build.mutation<Answer<'endSecondFactor'>, Body<'endSecondFactor'>>({
      query: (body) => request('endSecondFactor', { body }),
      invalidatesTags: ['Session'],
    }),
    sessions: build.query<Answer<'listSessions'>, void>({ query: () => request('listSessions', {}), providesTags: ['Session'] }),
    endSession: build.mutation<Answer<'endSession'>, string>({
      query: (sessionId) => request('endSession', { params: { sessionId } }),
      invalidatesTags: ['Session'],
    }),
    askReset: build.mutation<Answer<'askReset'>, Body<'askReset'>>({ query: (body) => request('askReset', { body }) }),
    resetPassword: build.mutation<Answer<'resetPassword'>, Body<'resetPassword'>>({ query: (body) => request('resetPassword', { body }) }),
    /** The tokens of a project, or with null one's own. */
    tokens: build.query<Answer<'listTokens'>, string | null>({
      query: (project) => (project === null ? request('listOwnTokens', {}) : request('listTokens', { params: { project } })),
      providesTags: ['Token'],
    }),
    makeToken: build.mutation<Answer<'makeToken'>, { project: string | null; body: Body<'makeToken'> }>({
      query: ({ project, body }) => {
        if (project !== null) return request('makeToken', { params: { project }, body })
        const { name, scope, days } = body
        return request('makeOwnToken', { body: { name, scope: scope === 'read' ? 'read' : 'write', days } })
      },
      invalidatesTags: ['Token'],
    }),
    rotateToken: build.mutation<Answer<'rotateToken'>, { project: string; tokenId: string } & Body<'rotateToken'>>({
      query: ({ overlapHours, ...params }) => request('rotateToken', { params, body: { overlapHours } }),
      invalidatesTags: ['Token'],
    }),
    revokeToken: build.mutation<Answer<'revokeToken'>, { project: string | null; tokenId: string }>({
      query: ({ project, tokenId }) =>
        project === null ? request('revokeOwnToken', { params: { tokenId } }) : request('revokeToken', { params: { project, tokenId } }),
      invalidatesTags: ['Token'],
    }),
    signOut: build.mutation<Answer<'signOut'>, void>({ query: () => request('signOut', {}), invalidatesTags: ALL_OF_ME }),
    proveAgain: build.mutation<Answer<'proveAgain'>, Body<'proveAgain'>>({ query: (body) => request('proveAgain', { body }) }),
    signIn: build.mutation<Answer<'signIn'>, Body<'signIn'>>({ query: (body) => request('signIn', { body }), invalidatesTags: ALL_OF_ME }),
    signUp: build.mutation<Answer<'signUp'>, Body<'signUp'>>({
      query: (body) => request('signUp', { body }),
      invalidatesTags: ['Me', 'Overview', 'Items', 'LongItems'],
    }),
    me: build.query<Answer<'readMe'>, void>({ query: () => request('readMe', {}), providesTags: ['Me'] }),
  }),
})

export const {
  useInvitedQuery,
  useInviteMutation,
  useProveAgainMutation,
  useSignOutMutation,
  useSignInMutation,
  useSignUpMutation,
  useMeQuery,
  useGiveRoleMutation,
  useLeaveProjectMutation,
  useMakeResetLinkMutation,
  useMailRefusalsQuery,
  useProfileQuery,
  useChangeMeMutation,
  useClaimAddressMutation,
  useConfirmAddressMutation,
  useGiveUpAddressMutation,
  useAddressesOfMemberQuery,
  useWriteAddressDownMutation,
  useChangePasswordMutation,
  useSessionsQuery,
  useBeginSecondFactorMutation,
  useConfirmSecondFactorMutation,
  useEndSecondFactorMutation,
  useSecondFactorQuery,
  useEndSessionMutation,
  useAskResetMutation,
  useResetPasswordMutation,
  useTokensQuery,
  useMakeTokenMutation,
  useRotateTokenMutation,
  useRevokeTokenMutation,
} = peopleApi
