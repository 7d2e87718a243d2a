import type { MergeGates } from './events.js'
import type { GivenVerdict, StandingVerdict } from './verdicts.js'

/** The gates before a merge, in the order in which they are shown. */
export const GATE_CODES = ['build', 'agreements', 'no-objection', 'settled', 'item'] as const
/** One of them. */
export type GateCode = (typeof GATE_CODES)[number]
/** A condition before a merge: whether it holds, with what its sentence needs. */
export interface MergeGate {
  code: GateCode
  isMet: boolean
  /** What is missing, where the gate itself has words for it: those of the newest build. */
  words: string | null
  /** How many there are and how many are needed; both 0 where it is not about numbers. */
  has: number
  needs: number
  /** Whom it concerns: those who agreed, or who object. */
  personIds: string[]
}

/** What is known of a change when its gates are asked. */
export interface GateFacts {
  gates: MergeGates
  /** What its builds keep it from being merged for, as what to do; null where nothing does. */
  buildTrouble: string | null
  verdicts: readonly StandingVerdict<GivenVerdict>[]
  openRemarks: number
  itemCount: number
}

/** No gates but what builds say and what people object to. */
export const DEFAULT_GATES: MergeGates = { agreements: 0, needsSettled: false, needsItem: false }

/**
 * The gates of a change as they hold now (docs/rules.md#gates): only those that the repository asks for, what builds say, and objections,
 * which always count.
 */
export function mergeGates({ gates, buildTrouble, verdicts, openRemarks, itemCount }: GateFacts): MergeGate[] {
  const agreed = verdicts.filter(({ verdict, fell }) => verdict === 'agreed' && fell === null).map(({ personId }) => personId)
  const objecting = verdicts.filter(({ verdict }) => verdict === 'changes-asked').map(({ personId }) => personId)
  const gate = (code: GateCode, isMet: boolean, more: Partial<MergeGate> = {}): MergeGate => ({
    code,
    isMet,
    words: null,
    has: 0,
    needs: 0,
    personIds: [],
    ...more,
  })
  return [
    gate('build', buildTrouble === null, { words: buildTrouble }),
    ...(gates.agreements > 0
      ? [gate('agreements', agreed.length >= gates.agreements, { has: agreed.length, needs: gates.agreements, personIds: agreed })]
      : []),
    ...(objecting.length > 0 ? [gate('no-objection', false, { personIds: objecting })] : []),
    ...(gates.needsSettled ? [gate('settled', openRemarks === 0, { has: openRemarks })] : []),
    ...(gates.needsItem ? [gate('item', itemCount > 0)] : []),
  ]
}
