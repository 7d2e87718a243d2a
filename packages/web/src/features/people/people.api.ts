import { api, request, type Answer, type Body } from '#shared/lib/api'

/** Who is signed in decides what all of it shows. */
const ALL_OF_ME = ['Me', 'Hand', 'Views', 'Notice', 'Triage', 'Overview', 'Items', 'LongItems', 'Item'] as const

export const peopleApi = api.injectEndpoints({
  endpoints: (build) => ({
    invited: build.query<Answer<'readSignUp'>, string>({ query: (secret) => request('readSignUp', { params: { secret } }) }),
    invite: build.mutation<Answer<'invitePerson'>, { project: string; body: Body<'invitePerson'> }>({
      query: ({ project, body }) => request('invitePerson', { params: { project }, body }),
      invalidatesTags: ['Me'],
    }),
    signOut: build.mutation<Answer<'signOut'>, void>({ query: () => request('signOut', {}), invalidatesTags: ALL_OF_ME }),
    signIn: build.mutation<Answer<'signIn'>, Body<'signIn'>>({ query: (body) => request('signIn', { body }), invalidatesTags: ALL_OF_ME }),
    signUp: build.mutation<Answer<'signUp'>, Body<'signUp'>>({
      query: (body) => request('signUp', { body }),
      invalidatesTags: ['Me', 'Overview', 'Items', 'LongItems'],
    }),
    me: build.query<Answer<'readMe'>, void>({ query: () => request('readMe', {}), providesTags: ['Me'] }),
  }),
})

export const { useInvitedQuery, useInviteMutation, useSignOutMutation, useSignInMutation, useSignUpMutation, useMeQuery } = peopleApi
