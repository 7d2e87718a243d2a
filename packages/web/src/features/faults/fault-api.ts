import type { z } from 'zod'
import type {
  ConnectedService,
  Fault,
  FaultDetail,
  FaultFrames,
  LikeFault,
  Occurrence,
  OccurrenceDetail,
  ScrubRule,
  zChangeService,
} from '@dystracer/core/faults/wire'
import { api, path, type Page } from '#shared/lib/api'

export type ServiceChanges = z.input<typeof zChangeService>
export interface FaultsArgs {
  q: string
  sort: string
  service?: string
  release?: string
  environment?: string
  item?: string
}

/** What the server says and takes of faults, and of the programs that send them. */
const faultApi = api.injectEndpoints({
  endpoints: (build) => ({
    faults: build.infiniteQuery<Page<Fault>, FaultsArgs, string | null>({
      infiniteQueryOptions: { initialPageParam: null, getNextPageParam: (last) => last.nextCursor ?? undefined },
      query: ({ queryArg, pageParam }) => ({
        url: `/faults?${new URLSearchParams({ ...queryArg, limit: '60', ...(pageParam !== null && { cursor: pageParam }) } as Record<string, string>)}`,
      }),
      providesTags: ['Fault'],
    }),
    alikeFaults: build.query<{ rows: LikeFault[] }, string>({ query: (fault) => ({ url: path('faults', fault, 'alike') }), providesTags: ['Fault'] }),
    mergeFault: build.mutation<FaultDetail, { fault: string; into: string }>({
      query: ({ fault, into }) => ({ url: path('faults', fault, 'merge'), method: 'POST', body: { into } }),
      invalidatesTags: ['Fault', 'Items', 'Item', 'Overview', 'Triage'],
    }),
    unmergeFault: build.mutation<FaultDetail, string>({
      query: (fault) => ({ url: path('faults', fault, 'merge'), method: 'DELETE' }),
      invalidatesTags: ['Fault', 'Items', 'Item', 'Overview', 'Triage'],
    }),
    occurrence: build.query<OccurrenceDetail, { fault: string; occurrenceId: string }>({
      query: ({ fault, occurrenceId }) => ({ url: path('faults', fault, 'occurrences', occurrenceId) }),
      providesTags: ['Fault'],
    }),
    placeOccurrence: build.mutation<FaultDetail, { fault: string; occurrenceId: number; to: string | null; past: boolean }>({
      query: ({ fault, occurrenceId, ...body }) => ({
        url: path('faults', fault, 'occurrences', String(occurrenceId), 'belongs'),
        method: 'POST',
        body,
      }),
      invalidatesTags: ['Fault'],
    }),
    changeService: build.mutation<{ merged: number; made: number }, { service: string; body: ServiceChanges }>({
      query: ({ service, body }) => ({ url: path('services', service), method: 'PATCH', body }),
      invalidatesTags: ['Fault', 'Release'],
    }),
    scrubRules: build.query<{ rows: ScrubRule[] }, void>({ query: () => ({ url: '/scrub-rules' }), providesTags: ['Me'] }),
    addScrubRule: build.mutation<{ rows: ScrubRule[] }, Omit<ScrubRule, 'ruleId'>>({
      query: (body) => ({ url: '/scrub-rules', method: 'POST', body }),
      invalidatesTags: ['Me'],
    }),
    removeScrubRule: build.mutation<{ rows: ScrubRule[] }, string>({
      query: (ruleId) => ({ url: path('scrub-rules', ruleId), method: 'DELETE' }),
      invalidatesTags: ['Me'],
    }),
    tryScrub: build.mutation<{ text: string }, string>({ query: (text) => ({ url: '/scrub-rules/try', method: 'POST', body: { text } }) }),
    services: build.query<{ rows: ConnectedService[] }, void>({ query: () => ({ url: '/services' }), providesTags: ['Fault', 'Release'] }),
    connectService: build.mutation<{ rows: ConnectedService[] }, { project: string; body: object }>({
      query: ({ project, body }) => ({ url: path('projects', project, 'services'), method: 'POST', body }),
      invalidatesTags: ['Fault', 'Release', 'Me'],
    }),
    testEvent: build.mutation<object, string>({
      query: (service) => ({ url: path('services', service, 'test-event'), method: 'POST', body: {} }),
      invalidatesTags: ['Fault'],
    }),
    fault: build.query<FaultDetail, string>({ query: (fault) => ({ url: path('faults', fault) }), providesTags: ['Fault'] }),
    faultFrames: build.query<FaultFrames, string>({ query: (fault) => ({ url: path('faults', fault, 'frames') }) }),
    occurrences: build.query<Page<Occurrence>, { fault: string; cursor?: string }>({
      query: ({ fault, cursor }) => ({ url: `${path('faults', fault, 'occurrences')}?limit=20${cursor ? `&cursor=${cursor}` : ''}` }),
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
  useOccurrencesQuery,
} = faultApi
