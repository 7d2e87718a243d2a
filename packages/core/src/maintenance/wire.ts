import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { zReleaseName } from '#releases/contents-wire'
import { z } from 'zod'
import { PICKS_MAX } from './line-name.js'

const zSha = z.string().regex(/^[0-9a-f]{40,64}$/, 'The whole hash of a commit')
const zLine = z
  .string()
  .trim()
  .min(1)
  .max(200)
  .regex(
    /^(?!-)(?!.*(?:\.\.|\/\/|@\{|\.lock$|[./]$))[\w./@+-]+$/,
    'A branch: letters, digits, dots, slashes and hyphens, as git takes them',
  )
const zChange = z.object({ sha: z.string(), subject: z.string(), author: z.string(), atMs: zAtMs })
/** The maintenance line of a release, and what of the main line could be made anew on it. */
export const zMaintenanceLine = z.object({
  service: z.string(),
  release: z.string(),
  repository: z.string(),
  branch: z.string(),
  mainBranch: z.string(),
  /** Where the line stands: the release where there is no branch yet. */
  tip: z.string(),
  isThere: z.boolean(),
  /** What the line has beyond the release, the newest first. */
  ahead: z.array(zChange),
  /** A name for the release that is made of it; null where the release's own is no version. */
  nextName: z.string().nullable(),
  tagPrefix: z.string(),
  /** What only the main line has, the newest first, with the items that each is for. */
  changes: z.array(zChange.extend({ items: z.array(z.string()) })),
  /** Changes beyond those that are listed. */
  more: z.number().int(),
  items: z.array(zItemSummary),
})
export type MaintenanceLine = z.infer<typeof zMaintenanceLine>

/** What would become of chosen changes on the line. */
export const zPickPlan = z.object({
  /** In the order in which they are made. */
  steps: z.array(
    z.object({
      sha: z.string(),
      /** `nothing`: the line has all of it already. */
      state: z.enum(['fits', 'nothing', 'conflict']),
      files: z.array(z.string()),
      /** What it needs before it: changes of the same lines of a file, or the one that brought a name which it uses. */
      needs: z.array(z.object({ sha: z.string(), subject: z.string(), why: z.enum(['lines', 'name']), what: z.string() })),
    }),
  ),
  /** What else to choose so that all fit, the oldest first; empty where nothing is needed, or nothing helps. */
  further: z.array(zChange),
})
export type PickPlan = z.infer<typeof zPickPlan>

const zPicks = z.object({ branch: zLine.optional(), shas: z.array(zSha).min(1, 'Choose a change').max(PICKS_MAX) })

/** What can be asked of maintenance lines. */
export const maintenanceOperations = {
  readMaintenanceLine: operation({
    method: 'get',
    path: '/releases/:release/maintenance',
    summary: 'The maintenance line of a release, and the changes of the main line that it lacks',
    may: 'project.read',
    about: 'release',
    isOfNow: true,
    query: z.object({
      /** Another branch than the one that the release is called after. */
      branch: zLine.optional(),
    }),
    problems: ['conflict'],
    answer: zMaintenanceLine,
  }),
  tryPicks: operation({
    method: 'post',
    path: '/releases/:release/maintenance/trial',
    summary: 'Try to make changes anew on the line: in which order, where they conflict, and what each needs before it',
    may: 'releases.make',
    about: 'release',
    body: zPicks,
    answer: zPickPlan,
  }),
  makePicks: operation({
    method: 'post',
    path: '/releases/:release/maintenance',
    summary: 'Make changes anew on the line and push it; with a name, the release of it is tagged, too',
    may: 'releases.make',
    about: 'release',
    body: zPicks.extend({ name: zReleaseName.nullable() }),
    answer: z.object({ branch: z.string(), sha: z.string(), release: z.string().nullable() }),
    status: 201,
  }),
}
