import { zAtMs } from '#basics/wire'
import type { FilterVocabulary } from '#filter/filter'
import { parseFilterBy } from '#filter/parse-filter'
import { operation } from '#people/operation'
import { z } from 'zod'
import { QUALITY_ACTS, QUALITY_SUBJECTS, QUALITY_VOCABULARIES, type QualityFlag } from './quality-rule.js'

const SHAPE = {
  ruleId: z.string().regex(/^[a-z0-9][a-z0-9-]{0,39}$/, 'Small letters, digits and hyphens'),
  name: z.string().trim().min(1, 'A name is needed').max(60),
  about: z.enum(QUALITY_SUBJECTS),
  where: z.string().trim().max(1000).default(''),
  act: z.enum(QUALITY_ACTS).default('log'),
  type: z.string().trim().min(1).max(30).default('defect'),
  severity: z
    .union([z.literal(1), z.literal(2), z.literal(3), z.literal(4), z.literal(5)])
    .nullable()
    .default(null),
  ownerId: z.string().max(100).nullable().default(null),
  labels: z.array(z.string().trim().min(1).max(40)).max(20).default([]),
  milestone: z.string().max(100).nullable().default(null),
  component: z.string().max(100).nullable().default(null),
  isAccepted: z.boolean().default(false),
  tellIds: z.array(z.string().max(100)).max(50).default([]),
  perDay: z.number().int().min(1, 'At least one').max(10_000).nullable().default(null),
  isDraft: z.boolean().default(false),
}
/** A rule as it is set up. */
export const zQualityRule = z.strictObject(SHAPE).superRefine(({ about, where }, ctx) => {
  const parsed = parseFilterBy(QUALITY_VOCABULARIES[about] as FilterVocabulary<string, QualityFlag>, where)
  if ('error' in parsed)
    ctx.addIssue({
      code: 'custom',
      path: ['where'],
      message: `“${parsed.error.word}” is not understood here (character ${parsed.error.from + 1})`,
    })
})
/** A rule with what it did, and what people did with that. */
export const zQualityRuleRow = z.object({
  ...SHAPE,
  fired: z.number().int(),
  week: z.number().int(),
  lastFiredAtMs: zAtMs.nullable(),
  taken: z.number().int(),
  rejected: z.number().int(),
  waiting: z.number().int(),
})
export type QualityRuleRow = z.infer<typeof zQualityRuleRow>
/** The rules of a project in their order. */
export const zQualityRules = z.object({
  rows: z.array(zQualityRuleRow),
  /** Whether they are those that hold until a project says otherwise. */
  isDefault: z.boolean(),
})
export type QualityRules = z.infer<typeof zQualityRules>
/** Something that a rule would have done. */
export const zQualityFiring = z.object({
  what: z.string(),
  /** A build, or a commit, as a thing: `build:kiln/58`. */
  place: z.string(),
  atMs: zAtMs,
  /** The item that stands for it by now, and what people did with it; null where there is none that the asker sees. */
  key: z.string().nullable(),
  judgement: z.enum(['taken', 'rejected', 'waiting']).nullable(),
})
export type QualityFiring = z.infer<typeof zQualityFiring>
/** A rule run over what really came. */
export const zQualityTrial = z.object({
  days: z.number().int(),
  /** How many failures, findings or builds were looked at. */
  looked: z.number().int(),
  fired: z.number().int(),
  /** How many of them the rules as they stand took. */
  standing: z.number().int(),
  rows: z.array(zQualityFiring),
  /** Whether there was more than is looked at. */
  isCut: z.boolean(),
})
export type QualityTrial = z.infer<typeof zQualityTrial>

/** What can be asked of the rules about what builds bring. */
export const qualityOperations = {
  listQualityRules: operation({
    method: 'get',
    path: '/projects/:project/quality-rules',
    summary: 'What is done about failing tests, new findings and coverage that fell: the rules in the order in which they are asked',
    may: 'project.read',
    about: 'project',
    answer: zQualityRules,
  }),
  setQualityRules: operation({
    method: 'put',
    path: '/projects/:project/quality-rules',
    summary: 'Set these rules anew, all of them in their order; they hold for what comes',
    may: 'intake-rules.change',
    about: 'project',
    body: z.strictObject({ rules: z.array(zQualityRule).max(200) }),
    answer: zQualityRules,
  }),
  tryQualityRule: operation({
    method: 'post',
    path: '/projects/:project/quality-rules/trial',
    summary: 'What a rule would have done about what builds brought in the last days; nothing is written',
    may: 'intake-rules.change',
    about: 'project',
    body: z.strictObject({ rule: zQualityRule, days: z.number().int().min(1).max(90).default(30) }),
    answer: zQualityTrial,
  }),
}
