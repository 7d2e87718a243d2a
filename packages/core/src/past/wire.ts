import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** A moment as it stands in addresses: `2026-10-03T12:00:00Z`. */
export const zMoment = z.iso.datetime({ precision: 0, message: 'A moment is written 2026-10-03T12:00:00Z' })
/** A moment that can be looked back to, and how far it is made ready: it is computed from the journal, once. */
export const zPastMoment = z.object({
  at: zMoment,
  /** The last entry of the journal that was known then. */
  seq: z.number().int(),
  atMs: zAtMs,
  /** Entries that are read, and how many there are to read. */
  done: z.number().int(),
  total: z.number().int(),
  isReady: z.boolean(),
})
export type PastMoment = z.infer<typeof zPastMoment>

/** What one looks back to by name. */
export const zNamedMoment = z.object({
  kind: z.enum(['release', 'baseline', 'incident']),
  name: z.string(),
  /** When it became known here. */
  atMs: zAtMs,
})
export type NamedMoment = z.infer<typeof zNamedMoment>

/** Something that was dated before a moment and became known only afterwards. */
export const zLateFact = z.object({
  seq: z.number().int(),
  kind: z.string(),
  subjects: z.array(z.string()),
  atMs: zAtMs,
  knownAtMs: zAtMs,
})
export type LateFact = z.infer<typeof zLateFact>

/** What can be asked of the past. Everything that is read can be asked there, too: below `/api/past/MOMENT/v1` instead of `/api/v1`. */
export const pastOperations = {
  openPast: operation({
    method: 'get',
    path: '/past',
    summary: 'Make a moment ready to be looked back to, and say how far that is; asked again until it is',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    query: z.object({ at: zMoment }),
    answer: zPastMoment,
    problems: ['busy'],
  }),
  listMoments: operation({
    method: 'get',
    path: '/past/moments',
    summary: 'Releases, baselines and incidents to look back to, the newest first, and since when anything is known',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    answer: z.object({ firstAtMs: zAtMs.nullable(), rows: z.array(zNamedMoment) }),
  }),
  listLateFacts: operation({
    method: 'get',
    path: '/past/late',
    summary: 'What was dated before a moment and became known only afterwards',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    query: z.object({ at: zMoment, limit: z.coerce.number().int().min(1).max(200).default(100), cursor: z.string().max(20).optional() }),
    answer: z.object({ rows: z.array(zLateFact), nextCursor: z.string().nullable() }),
  }),
}
