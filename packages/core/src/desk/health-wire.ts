import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

const zHealth = z.object({
  /** When each kind of thing was last heard of; null for never. */
  last: z.object({
    push: zAtMs.nullable(),
    fetch: zAtMs.nullable(),
    build: zAtMs.nullable(),
    occurrence: zAtMs.nullable(),
    deployment: zAtMs.nullable(),
    backup: zAtMs.nullable(),
    rehearsal: zAtMs.nullable(),
  }),
  repositoriesInTrouble: z.array(z.string()),
  /** Whether mail goes out at all, and to how many people it does not get. */
  mail: z.object({ isSetUp: z.boolean(), refusals: z.number().int() }),
  threads: z.array(z.object({ name: z.string(), trouble: z.string().nullable(), restarts: z.number().int(), waiting: z.number().int() })),
  files: z.array(z.object({ name: z.string(), sizeBytes: z.number() })),
  disk: z.object({ freeBytes: z.number(), isLow: z.boolean() }),
  journal: z.object({ entries: z.number().int(), chain: z.string() }),
})
/** How the installation stands, for whoever keeps it. */
export type Health = z.infer<typeof zHealth>

/** What an administrator may ask of the installation itself. */
export const healthOperations = {
  readHealth: operation({
    method: 'get',
    path: '/health',
    summary: 'How the installation stands: what was last heard, threads, files, room, backups',
    may: 'audit.read',
    about: 'nothing',
    isOfNow: true,
    answer: zHealth,
  }),
}
