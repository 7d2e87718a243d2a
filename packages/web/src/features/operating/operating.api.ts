import type { AuditKind } from '@dystracer/core/people/audit-wire'
import { api, request, type Answer } from '#shared/lib/api'

const operatingApi = api.injectEndpoints({
  endpoints: (build) => ({
    health: build.query<Answer<'readHealth'>, void>({ query: () => request('readHealth', {}), keepUnusedDataFor: 0 }),
    audit: build.infiniteQuery<Answer<'listAudit'>, { kind: AuditKind | undefined }, string | undefined>({
      infiniteQueryOptions: { initialPageParam: undefined, getNextPageParam: (page) => page.nextCursor ?? undefined },
      query: ({ queryArg, pageParam }) => request('listAudit', { query: { limit: 50, kind: queryArg.kind, cursor: pageParam } }),
      keepUnusedDataFor: 0,
    }),
  }),
})
export const { useHealthQuery, useAuditInfiniteQuery } = operatingApi
