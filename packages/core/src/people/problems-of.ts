import type { ProblemCode } from '../basics/problem-catalogue.js'
import { z } from 'zod'
import type { About, Operation, OutsidePath } from './operation.js'

/** What everything that is asked over HTTP may be answered with. */
const OF_ALL = ['too-many-requests', 'busy', 'internal'] as const satisfies ProblemCode[]
const OF_BODIES = ['malformed-body', 'invalid-input', 'too-large', 'unsupported-content'] as const satisfies ProblemCode[]

const NONE = { asked: [], changed: [] }
/** What asking about a thing, and changing it, may run into by what kind of thing it is. */
const OF_ABOUT: Record<About, { asked: readonly ProblemCode[]; changed: readonly ProblemCode[] }> = {
  nothing: NONE,
  project: NONE,
  fault: NONE,
  requirement: NONE,
  // A rule of its stage, somebody else's decision, an older revision.
  item: { asked: [], changed: ['gate-closed', 'decided-already', 'changed-meanwhile'] },
  // Git and the code host are asked; a hash or a number may fit several.
  repository: { asked: ['outside-unreachable', 'ambiguous-reference'], changed: ['gate-closed', 'changed-meanwhile'] },
  release: { asked: ['outside-unreachable', 'ambiguous-reference'], changed: ['gate-closed'] },
  service: { asked: [], changed: ['outside-unreachable', 'gate-closed'] },
  deployment: { asked: [], changed: ['outside-unreachable', 'gate-closed'] },
  import: { asked: [], changed: ['malformed-body'] },
}

/**
 * The codes of the problems that an operation may be refused with: those that follow from its declaration (a body can be malformed, a right
 * can be missing, what a path names can be unknown), and those that it names besides. Each once, in no order.
 */
export function problemsOf(declared: Operation): ProblemCode[] {
  const isChange = declared.method !== 'get'
  const codes: (ProblemCode | false)[] = [
    ...OF_ALL,
    // Whoever sends a token is told that it is wrong, even where none is needed; what one may not see is not there.
    'wrong-token',
    'not-found',
    ...(declared.may === 'anyone' && !declared.isPersonal ? [] : (['sign-in-required', 'not-allowed'] as const)),
    ...(isChange ? (['csrf-failed', 'conflict', 'disk-full', 'invalid-input'] as const) : []),
    ...(declared.body || declared.bodyMedia ? OF_BODIES : []),
    declared.query !== undefined && 'invalid-input',
    takesFilter(declared) && 'filter-not-understood',
    declared.asksAgain === true && 'proof-needed',
    declared.mayTakeLong === true && 'took-too-long',
    ...OF_ABOUT[declared.about].asked,
    ...(isChange ? OF_ABOUT[declared.about].changed : []),
    ...(declared.problems ?? []),
  ]
  return [...new Set(codes)].filter((code) => code !== false)
}

/** The same for a path outside the API's root. */
export function problemsOfOutside(declared: OutsidePath): ProblemCode[] {
  const codes: (ProblemCode | false)[] = [
    ...OF_ALL,
    'not-found',
    ...(declared.proof === 'nobody' || declared.proof === 'private-link' ? [] : (['wrong-token', 'not-allowed'] as const)),
    declared.maySign === true && 'wrong-signature',
    ...(declared.takes ? (['disk-full', 'conflict', ...OF_BODIES] as const) : []),
    declared.query !== undefined && 'invalid-input',
    ...(declared.problems ?? []),
  ]
  return [...new Set(codes)].filter((code) => code !== false)
}

function takesFilter({ query, body }: Operation): boolean {
  return [query, body].some((schema) => schema instanceof z.ZodObject && 'filter' in schema.shape)
}
