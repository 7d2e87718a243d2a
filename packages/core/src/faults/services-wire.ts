import { zAtMs, zEmpty } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** A service that sends errors, or is to: what it is mapped to, and when it was last heard. */
export const zConnectedService = z.object({
  service: z.string(),
  project: z.string().nullable(),
  repository: z.string().nullable(),
  tagPrefix: z.string().nullable(),
  /** The folder of the repository that it is built from; empty for all of it. */
  pathPrefix: z.string(),
  /** Paths and packages that are the program's own code, or another's, whatever else says otherwise. */
  ownCode: z.array(z.string()),
  foreignCode: z.array(z.string()),
  lastHeardAtMs: zAtMs.nullable(),
  lastFaultAtMs: zAtMs.nullable(),
  releases: z.array(z.string()),
  maps: z.number().int(),
})
export type ConnectedService = z.infer<typeof zConnectedService>
const zFolder = z
  .string()
  .trim()
  .max(200)
  .regex(/^(?!\/)[^\\\0*]*$/, 'A folder of the repository, such as services/web')
  .transform((folder) => folder.replace(/\/+$/, ''))
const zCodePatterns = z
  .array(
    z
      .string()
      .trim()
      .min(1)
      .max(200)
      .regex(/[\w]/, 'A path or package, such as src/vendor or org.clay')
      .regex(/^[^*]*(?:\*[^*]*){0,2}$/, 'At most two stars'),
  )
  .max(50, 'At most fifty')
/** A program that will send telemetry: its name and the repository of its source. */
export const zConnectService = z.strictObject({
  service: z.string().trim().min(1, 'A name is needed').max(200),
  repository: z.string().max(100),
  tagPrefix: z.string().max(50).default('v'),
  pathPrefix: zFolder.default(''),
})
/** Changes of a mapped service; `includesEarlier` has what it sent before found anew. */
export const zChangeService = z.strictObject({
  repository: z.string().max(100).optional(),
  tagPrefix: z.string().max(50).optional(),
  pathPrefix: zFolder.optional(),
  ownCode: zCodePatterns.optional(),
  foreignCode: zCodePatterns.optional(),
  includesEarlier: z.boolean().default(false),
})
/**
 * What is taken out before anything is stored, beyond the rules that are always there: texts that a pattern (RE2 syntax) finds, or
 * attributes by their name.
 */
export const zScrubRule = z.object({ ruleId: z.string(), kind: z.enum(['text', 'attribute']), pattern: z.string(), name: z.string() })
export type ScrubRule = z.infer<typeof zScrubRule>
/** A pattern whose matches are blotted out of everything that is received. */
export const zAddScrubRule = z.strictObject({
  kind: z.enum(['text', 'attribute']),
  pattern: z.string().trim().min(2, 'At least two characters').max(200),
  name: z.string().trim().min(1, 'A word for what it is').max(40),
})
/** A text to try the scrubbing rules on; it is kept nowhere. */
export const zTryScrub = z.strictObject({ text: z.string().max(10_000) })

const zRules = z.object({ rows: z.array(zScrubRule) })
/** What can be asked of the services that send errors, and of what is taken out of what they send. */
export const servicesOperations = {
  changeService: operation({
    method: 'patch',
    path: '/services/:service',
    summary: 'Change what a service is built from and whose code is whose; on request what it sent before is found anew',
    may: 'services.set-up',
    about: 'service',
    body: zChangeService,
    answer: z.object({ merged: z.number().int(), made: z.number().int() }),
  }),
  listScrubRules: operation({
    method: 'get',
    path: '/scrub-rules',
    summary: 'What is taken out before anything is stored, beside what always is',
    may: 'member-of-any',
    about: 'nothing',
    answer: zRules,
  }),
  addScrubRule: operation({
    method: 'post',
    path: '/scrub-rules',
    summary: 'Take more out of all that comes from now on',
    may: 'scrub.change',
    about: 'nothing',
    body: zAddScrubRule,
    answer: zRules,
  }),
  removeScrubRule: operation({
    method: 'delete',
    path: '/scrub-rules/:ruleId',
    summary: 'Remove such a rule',
    may: 'scrub.change',
    about: 'nothing',
    answer: zRules,
  }),
  tryScrub: operation({
    method: 'post',
    path: '/scrub-rules/try',
    summary: 'A text as it would be stored',
    may: 'member-of-any',
    about: 'nothing',
    body: zTryScrub,
    answer: zTryScrub,
  }),
  listServices: operation({
    method: 'get',
    path: '/services',
    summary: 'Services that send errors, what they are mapped to, and when they were last heard',
    may: 'member-of-any',
    about: 'nothing',
    answer: z.object({ rows: z.array(zConnectedService) }),
  }),
  connectService: operation({
    method: 'post',
    path: '/projects/:project/services',
    summary: 'Map a service to a repository',
    may: 'services.set-up',
    about: 'project',
    body: zConnectService,
    answer: z.object({ rows: z.array(zConnectedService) }),
  }),
  sendTestEvent: operation({
    method: 'post',
    path: '/services/:service/test-event',
    summary: 'Send a harmless error through the intake, as a program would',
    may: 'faults.sort',
    about: 'service',
    answer: zEmpty,
  }),
}
