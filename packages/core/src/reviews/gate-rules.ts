import { z } from 'zod'
import { parseQuality } from '#findings/quality-sentence'
import { namesBranch } from '#text/branch-name'
import { parsePlainYaml } from '#text/plain-yaml'
import type { MergeGates } from './events.js'
import { DEFAULT_GATES } from './gates.js'

/** Gates of the bases that a pattern names. */
export interface GateRule extends MergeGates {
  /** A branch, or a pattern of which `*` stands for anything. */
  branches: string
}

/** Where a repository may keep its gates; those of its main line hold (docs/rules.md#gates). */
export const GATES_PATH = '.dystracer/gates.yml'

/** The gates of a base: those of the pattern that says most of it, an exact name before all; the default ones where none names it. */
export function gatesFor(rules: readonly GateRule[], base: string): MergeGates {
  const weight = ({ branches }: GateRule) => (branches === base ? Number.POSITIVE_INFINITY : branches.replaceAll('*', '').length)
  const best = rules.filter(({ branches }) => namesBranch(branches, base)).sort((a, b) => weight(b) - weight(a))[0]
  return best ?? DEFAULT_GATES
}

const zTime = z.string().regex(/^(?:[01]\d|2[0-3]):[0-5]\d$/, 'is a time such as 08:00')
/** A zone that clocks know. */
export const zZone = z.string().max(60).refine(isZone, 'is no time zone')
/** Hours on days. */
export const zHours = z.strictObject({
  days: z.array(z.number().int().min(1).max(7)).min(1).max(7),
  from: zTime,
  until: zTime,
  zone: zZone,
})

function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en-GB', { timeZone: zone })
    return true
  } catch (error) {
    if (error instanceof RangeError || (error as Error).name === 'RangeError') return false
    throw error
  }
}

/** What a change may bring at most, as a sentence; empty where nothing is asked. */
export const zQuality = z
  .string()
  .trim()
  .max(300)
  .default('')
  .superRefine((text, ctx) => {
    const read = parseQuality(text)
    if ('why' in read) ctx.addIssue({ code: 'custom', message: read.why })
  })

const zFile = z.record(
  z.string().min(1).max(200),
  z.strictObject({
    agreements: z.number().int().min(0).max(10).default(0),
    owners: z.boolean().default(false),
    settled: z.boolean().default(false),
    item: z.boolean().default(false),
    requirement: z.boolean().default(false),
    time: z.boolean().default(false),
    'no-suspects': z.boolean().default(false),
    'not-while-broken': z.boolean().default(false),
    'no-new-findings': z.boolean().default(false),
    queue: z.boolean().default(false),
    coverage: z.number().int().min(1).max(100).nullable().default(null),
    quality: zQuality,
    hours: zHours.nullable().default(null),
  }),
)

/**
 * Reads a file of gates: names or patterns of branches, and below each what has to hold. Gives the rules,
 * or why it cannot be read, with the place. Nothing in it is carried out; references within it are not followed.
 */
export function parseGates(text: string): { rules: GateRule[] } | { why: string } {
  const read = parsePlainYaml(text)
  if ('why' in read) return { why: read.why }
  const parsed = zFile.safeParse(read.plain ?? {})
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    return { why: `${issue?.path.join(' › ') || 'the file'}: ${issue?.message ?? 'is not understood'}` }
  }
  return {
    rules: Object.entries(parsed.data).map(([branches, said]) => ({
      branches,
      agreements: said.agreements,
      needsSettled: said.settled,
      needsItem: said.item,
      needsOwners: said.owners,
      needsRequirement: said.requirement,
      needsTime: said.time,
      needsNoSuspects: said['no-suspects'],
      notWhileBroken: said['not-while-broken'],
      noNewFindings: said['no-new-findings'],
      triesOnTop: said.queue,
      coverageAtLeast: said.coverage,
      quality: said.quality,
      hours: said.hours,
    })),
  }
}
