import { BY_CURSOR, api, itemTags, request, type Answer, type Body } from '#shared/lib/api'

/** What is done to one item by one request: each act is an operation below the item's path. */
const ACTS = {
  accept: 'acceptItem',
  reject: 'rejectItem',
  merge: 'mergeItem',
  split: 'splitItem',
  ask: 'askReporter',
  reopen: 'reopenItem',
  verify: 'verifyItem',
  claims: 'claimStage',
  acceptClaim: 'acceptClaim',
  takeBackClaim: 'takeBackClaim',
  unaffected: 'declareUnaffected',
  links: 'addLink',
  comments: 'addComment',
  time: 'bookTime',
  move: 'moveItem',
  copy: 'copyItem',
  follow: 'followItem',
  reports: 'reportAgain',
} as const
export type ActName = keyof typeof ACTS
export type ActBody<Name extends ActName> = Body<(typeof ACTS)[Name]>
export type Act = { [Name in ActName]: { key: string; act: Name; body: ActBody<Name> } }[ActName]

export const itemsApi = api.injectEndpoints({
  endpoints: (build) => ({
    setParent: build.mutation<Answer<'setParent'>, { key: string; parent: string | null }>({
      query: ({ key, parent }) => request('setParent', { params: { key }, body: { parent } }),
      invalidatesTags: (_result, _error, { key }) => itemTags(key),
    }),
    item: build.query<Answer<'readItem'>, string>({
      query: (key) => request('readItem', { params: { key } }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    history: build.infiniteQuery<Answer<'readHistory'>, string, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg: key, pageParam }) =>
        request('readHistory', { params: { key }, query: { limit: 80, ...(pageParam !== null && { cursor: pageParam }) } }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    logItem: build.mutation<Answer<'logItem'>, { input: Body<'logItem'>; idempotencyKey: string }>({
      query: ({ input, idempotencyKey }) => request('logItem', { body: input }, { 'idempotency-key': idempotencyKey }),
      invalidatesTags: ['Items', 'Triage', 'Overview'],
    }),
    changeItem: build.mutation<Answer<'changeItem'>, { key: string; change: Body<'changeItem'>; revision?: number }>({
      query: ({ key, change, revision }) =>
        request('changeItem', { params: { key }, body: change }, revision === undefined ? undefined : { 'if-match': `"${revision}"` }),
      invalidatesTags: (_result, _error, { key }) => itemTags(key),
    }),
    act: build.mutation<Answer<(typeof ACTS)[ActName]>, Act>({
      query: ({ key, act, body }) => request(ACTS[act], { params: { key }, body } as never),
      invalidatesTags: (_result, _error, { key }) => itemTags(key),
    }),
    start: build.mutation<Answer<'startItem'>, { key: string; repository: string }>({
      query: ({ key, repository }) => request('startItem', { params: { key }, body: { repository } }),
      invalidatesTags: (_result, _error, { key }) => [...itemTags(key), 'Hand'],
    }),
    untie: build.mutation<Answer<'removeLink'>, { key: string; linkId: string }>({
      query: (params) => request('removeLink', { params }),
      invalidatesTags: (_result, _error, { key }) => itemTags(key),
    }),
    affected: build.query<Answer<'readAffected'>, string>({
      query: (key) => request('readAffected', { params: { key } }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }, 'Fault', 'Release'],
    }),
    sayAffected: build.mutation<Answer<'sayAffected'>, { key: string } & Body<'sayAffected'>>({
      query: ({ key, ...body }) => request('sayAffected', { params: { key }, body }),
      invalidatesTags: (_result, _error, { key }) => itemTags(key),
    }),
    lookAlikes: build.query<Answer<'findLookAlikes'>, { title: string; text: string; project: string; component?: string }>({
      query: (query) => request('findLookAlikes', { query }),
    }),
  }),
})

export const {
  useSetParentMutation,
  useItemQuery,
  useHistoryInfiniteQuery,
  useLogItemMutation,
  useChangeItemMutation,
  useActMutation,
  useStartMutation,
  useUntieMutation,
  useAffectedQuery,
  useSayAffectedMutation,
  useLookAlikesQuery,
} = itemsApi
