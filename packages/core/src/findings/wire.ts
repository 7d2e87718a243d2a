import { zAtMs, zDay, zEmpty } from '#basics/wire'
import { operation } from '#people/operation'
import { zRealDay } from '#setup/own-field'
import { z } from 'zod'
import { FINDING_KINDS, FINDING_LEVELS } from './finding.js'

const zFindingStep = z.object({ file: z.string().nullable(), line: z.number().int().nullable(), message: z.string() })
/** That a finding is set aside: until when, why and by whom. */
export const zFindingAside = z.object({ until: zDay, why: z.string(), by: z.string(), atMs: zAtMs })
/** Something that an analyser found, as it stands at a commit. */
export const zFoundHere = z.object({
  tool: z.string(),
  /** By which reports know it again, whatever line it has moved to. */
  identity: z.string(),
  ruleId: z.string(),
  level: z.enum(FINDING_LEVELS),
  kind: z.enum(FINDING_KINDS),
  /** What it takes to mend it. */
  minutes: z.number().int(),
  message: z.string(),
  file: z.string().nullable(),
  line: z.number().int().nullable(),
  /** How it comes about: where a value comes from, and through what it goes. */
  steps: z.array(zFindingStep),
  /** How it could be mended, as its analyser says. */
  fixes: z.array(z.string()),
  helpUrl: z.string().nullable(),
  aside: zFindingAside.nullable(),
})
export type FoundHere = z.infer<typeof zFoundHere>
/** What a commit brings against another, in numbers. */
export const zBrought = z.object({
  bug: z.number().int(),
  weakness: z.number().int(),
  smell: z.number().int(),
  /** Minutes to mend what is new, less those of what is gone. */
  debtMinutes: z.number().int(),
})
export type Brought = z.infer<typeof zBrought>
/** A finding as reports know it. */
export const zFindingRef = z.strictObject({ tool: z.string().max(200), identity: z.string().max(400) })
/** A finding that is set aside, wherever it stands. */
export const zAsideFinding = zFindingAside.extend({
  repository: z.string(),
  tool: z.string(),
  identity: z.string(),
  what: z.string(),
  file: z.string().nullable(),
})
export type AsideFinding = z.infer<typeof zAsideFinding>

/** What can be asked of findings. */
export const findingsOperations = {
  setFindingAside: operation({
    method: 'put',
    path: '/findings/:repository/aside',
    summary: 'Set a finding aside until a day, with the reason: no gate counts it meanwhile; or (until null) count it again',
    may: 'code.contribute',
    about: 'repository',
    body: zFindingRef
      .extend({ until: zRealDay.nullable(), why: z.string().trim().max(500).default('') })
      .refine(({ until, why }) => until === null || why !== '', { path: ['why'], message: 'Say why it does not count' }),
    answer: zEmpty,
  }),
  listAsideFindings: operation({
    method: 'get',
    path: '/set-aside-findings',
    summary: 'Findings that are set aside, those first whose day is nearest; at most 500',
    may: 'member-of-any',
    about: 'nothing',
    answer: z.object({ rows: z.array(zAsideFinding) }),
  }),
}
