import { affectedState } from '@dystracer/core/items/affected'
import type { Affected } from '@dystracer/core/items/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { readLadderInput } from '#subjects/ladder/index'
import { listAssertions, mayReadThing, requireItem } from '#subjects/records/index'
import {
  GET_FAULT_OF_ITEM,
  LIST_ENVIRONMENTS_TO_TRY,
  LIST_RELEASES_OF_SERVICE,
  LIST_SAID_OF_ITEM,
  LIST_SEEN_IN,
  LIST_SERVICES_OF_COMPONENT,
  LIST_TRIED_BY_HAND,
} from './affected.queries.js'

/** So many releases of a service are looked at, the newest; older ones only where something is known of them. */
const RELEASES_SHOWN = 6

interface Fault {
  fingerprint: string
  service: string
}
interface Known {
  release: string
  environment: string
}

/**
 * Which releases a defect is in, by environment: from the occurrences of its faults, tests by hand, what people said, the fix and where it
 * was found. Services are those of its faults, of its fix, of where it was found and of its component. O(releases x environments).
 */
export function readAffected(ctx: ServiceContext, who: Who, key: string): Affected {
  const item = requireItem(ctx, key)
  const faults = faultsOf(ctx, item)
  const containing = readLadderInput(ctx, item.key)?.containingReleases ?? []
  const [foundService = null, foundRelease = item.found_in] = item.found_in?.includes('@') ? item.found_in.split('@', 2) : []
  const ofComponent = sql(ctx.db, LIST_SERVICES_OF_COMPONENT)
    .all<{ name: string }>({ project: item.project, component: item.component ?? '' })
    .map(({ name }) => name)
  const services = [
    ...new Set(
      [...faults.map(({ service }) => service), ...containing.map(({ service }) => service), foundService ?? [], ofComponent].flat(),
    ),
  ]
    .filter((service) => mayReadThing(ctx.db, who, { kind: 'service', id: service }))
    .sort()
  const environments = sql(ctx.db, LIST_ENVIRONMENTS_TO_TRY)
    .all<{ name: string }>({})
    .map(({ name }) => name)
  const said = sql(ctx.db, LIST_SAID_OF_ITEM).all<Known & { service: string; verdict: 'affected' | 'not'; by: string; atMs: number }>({
    key: item.key,
  })
  const tried = sql(ctx.db, LIST_TRIED_BY_HAND).all<Known & { outcome: 'passed' | 'failed'; by: string; atMs: number }>({
    project: item.project,
    key: item.key,
  })
  return {
    environments,
    services: services.map((service) => {
      const seen = faults
        .filter((fault) => fault.service === service)
        .flatMap(({ fingerprint }) => sql(ctx.volume, LIST_SEEN_IN).all<Known & { count: number; lastAtMs: number }>({ fingerprint }))
      const saidHere = said.filter((row) => row.service === service)
      const releases = sql(ctx.db, LIST_RELEASES_OF_SERVICE).all<{ name: string; atMs: number }>({ service })
      const isKnown = (release: string) =>
        [...seen, ...saidHere, ...tried].some((row) => row.release === release) || release === foundRelease
      return {
        service,
        releases: releases
          .filter(({ name }, at) => at < RELEASES_SHOWN || isKnown(name))
          .map(({ name: release, atMs }) => ({
            release,
            atMs,
            cells: environments.map((environment) => {
              const at = <Row extends Known>(rows: readonly Row[]) =>
                rows.filter((row) => row.release === release && row.environment === environment)
              const [seenHere, saidOfIt, triedHere] = [at(seen), at(saidHere).at(-1), at(tried).at(-1)]
              const count = seenHere.reduce((sum, row) => sum + row.count, 0)
              const { state, ground } = affectedState({
                seen: count,
                tested: triedHere?.outcome ?? null,
                said: saidOfIt?.verdict ?? null,
                hasFix: containing.some((row) => row.service === service && row.release === release),
                isFoundIn: release === foundRelease && (foundService === null || foundService === service),
              })
              const person = ground === 'said' ? saidOfIt : ground === 'tested' ? triedHere : undefined
              const lastSeenMs = seenHere.reduce((last, row) => Math.max(last, row.lastAtMs), 0)
              return {
                environment,
                state,
                ground,
                count,
                by: person?.by ?? null,
                atMs: person?.atMs ?? (ground === 'seen' ? lastSeenMs : null),
                said: saidOfIt?.verdict ?? null,
              }
            }),
          })),
      }
    }),
  }
}

/** The faults that an item is tied to, each once. */
function faultsOf(ctx: ServiceContext, { key, fault }: { key: string; fault: string | null }): Fault[] {
  const tied = listAssertions(ctx.db, { kind: 'item', id: key })
    .filter((row) => row.to_kind === 'fault')
    .map((row) => row.to_id)
  const found = [...new Set([...(fault === null ? [] : [fault]), ...tied])].flatMap(
    (id) => sql(ctx.db, GET_FAULT_OF_ITEM).get<Fault>({ number: Number(id.replace(/^F-/, '')) }) ?? [],
  )
  return found.filter(({ fingerprint }, at) => found.findIndex((other) => other.fingerprint === fingerprint) === at)
}
