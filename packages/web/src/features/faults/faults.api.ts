import type { faultsOperations } from '@dystracer/core/faults/wire'
import type { QueryIn } from '@dystracer/core/people/operation'
import { BY_CURSOR, api, request, type Answer, type Body } from '#shared/lib/api'

export type ServiceChanges = Body<'changeService'>
export type FaultsArgs = Omit<QueryIn<typeof faultsOperations.listFaults>, 'limit' | 'cursor'>

export const faultsApi = api.injectEndpoints({
  endpoints: (build) => ({
    faults: build.infiniteQuery<Answer<'listFaults'>, FaultsArgs, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg, pageParam }) =>
        request('listFaults', { query: { ...queryArg, limit: 60, ...(pageParam !== null && { cursor: pageParam }) } }),
      providesTags: ['Fault'],
    }),
    alikeFaults: build.query<Answer<'listAlikeFaults'>, string>({
      query: (fault) => request('listAlikeFaults', { params: { fault } }),
      providesTags: ['Fault'],
    }),
    mergeFault: build.mutation<Answer<'mergeFault'>, { fault: string; into: string }>({
      query: ({ fault, into }) => request('mergeFault', { params: { fault }, body: { into } }),
      invalidatesTags: ['Fault', 'Items', 'Item', 'Overview', 'Triage'],
    }),
    unmergeFault: build.mutation<Answer<'unmergeFault'>, string>({
      query: (fault) => request('unmergeFault', { params: { fault } }),
      invalidatesTags: ['Fault', 'Items', 'Item', 'Overview', 'Triage'],
    }),
    occurrence: build.query<Answer<'readOccurrence'>, { fault: string; occurrenceId: string }>({
      query: ({ fault, occurrenceId }) => request('readOccurrence', { params: { fault, occurrence: occurrenceId } }),
      providesTags: ['Fault'],
    }),
    trail: build.query<Answer<'readTrail'>, { fault: string; occurrenceId: number }>({
      query: ({ fault, occurrenceId }) => request('readTrail', { params: { fault, occurrence: String(occurrenceId) } }),
      providesTags: ['Fault'],
    }),
    placeOccurrence: build.mutation<Answer<'placeOccurrence'>, { fault: string; occurrenceId: number } & Body<'placeOccurrence'>>({
      query: ({ fault, occurrenceId, ...body }) =>
        request('placeOccurrence', { params: { fault, occurrence: String(occurrenceId) }, body }),
      invalidatesTags: ['Fault'],
    }),
    changeService: build.mutation<Answer<'changeService'>, { service: string; body: ServiceChanges }>({
      query: ({ service, body }) => request('changeService', { params: { service }, body }),
      invalidatesTags: ['Fault', 'Release'],
    }),
    faultItemProposal: build.query<Answer<'proposeFaultItem'>, string>({
      query: (fault) => request('proposeFaultItem', { params: { fault } }),
      providesTags: ['Fault'],
    }),
    logFault: build.mutation<Answer<'logFault'>, { fault: string } & Body<'logFault'>>({
      query: ({ fault, ...body }) => request('logFault', { params: { fault }, body }),
      invalidatesTags: ['Fault', 'Items', 'Overview', 'Triage'],
    }),
    actOnFaults: build.mutation<Answer<'actOnFaults'>, Body<'actOnFaults'>>({
      query: (body) => request('actOnFaults', { body }),
      invalidatesTags: ['Fault', 'Items', 'Item'],
    }),
    scrubRules: build.query<Answer<'listScrubRules'>, void>({ query: () => request('listScrubRules', {}), providesTags: ['Me'] }),
    addScrubRule: build.mutation<Answer<'addScrubRule'>, Body<'addScrubRule'>>({
      query: (body) => request('addScrubRule', { body }),
      invalidatesTags: ['Me'],
    }),
    removeScrubRule: build.mutation<Answer<'removeScrubRule'>, string>({
      query: (ruleId) => request('removeScrubRule', { params: { ruleId } }),
      invalidatesTags: ['Me'],
    }),
    tryScrub: build.mutation<Answer<'tryScrub'>, string>({ query: (text) => request('tryScrub', { body: { text } }) }),
    services: build.query<Answer<'listServices'>, void>({ query: () => request('listServices', {}), providesTags: ['Fault', 'Release'] }),
    connectService: build.mutation<Answer<'connectService'>, { project: string; body: Body<'connectService'> }>({
      query: ({ project, body }) => request('connectService', { params: { project }, body }),
      invalidatesTags: ['Fault', 'Release', 'Me'],
    }),
    testEvent: build.mutation<Answer<'sendTestEvent'>, string>({
      query: (service) => request('sendTestEvent', { params: { service } }),
      invalidatesTags: ['Fault'],
    }),
    fault: build.query<Answer<'readFault'>, string>({
      query: (fault) => request('readFault', { params: { fault } }),
      providesTags: ['Fault'],
    }),
    faultFrames: build.query<Answer<'readFaultFrames'>, string>({ query: (fault) => request('readFaultFrames', { params: { fault } }) }),
    unusual: build.query<Answer<'readUnusual'>, string>({
      query: (fault) => request('readUnusual', { params: { fault } }),
      providesTags: ['Fault'],
    }),
    faultCauses: build.query<Answer<'readFaultCauses'>, string>({
      query: (fault) => request('readFaultCauses', { params: { fault } }),
      providesTags: ['Code'],
    }),
    occurrences: build.query<Answer<'listOccurrences'>, { fault: string; cursor?: string }>({
      query: ({ fault, cursor }) => request('listOccurrences', { params: { fault }, query: { limit: 20, cursor } }),
      providesTags: ['Fault'],
    }),
  }),
})

export const {
  useFaultsInfiniteQuery,
  useAlikeFaultsQuery,
  useMergeFaultMutation,
  useUnmergeFaultMutation,
  useOccurrenceQuery,
  useTrailQuery,
  usePlaceOccurrenceMutation,
  useChangeServiceMutation,
  useScrubRulesQuery,
  useAddScrubRuleMutation,
  useRemoveScrubRuleMutation,
  useTryScrubMutation,
  useServicesQuery,
  useConnectServiceMutation,
  useTestEventMutation,
  useFaultQuery,
  useFaultFramesQuery,
  useFaultCausesQuery,
  useUnusualQuery,
  useOccurrencesQuery,
  useLazyFaultItemProposalQuery,
  useLogFaultMutation,
  useActOnFaultsMutation,
} = faultsApi
