import { STAGES, type Stage } from '#ladder/ladder'
import { fieldUseOf, type FieldUse } from './field-use.js'

/** What must be filled before an item may reach a stage, by a project's rule. */
export interface StageRule {
  stage: string
  needs: readonly string[]
}

/**
 * The fields of a rule that are still empty, in the rule's order. `values` holds what is filled, by field name; empty lists and texts count
 * as empty.
 */
export function missingFor(rule: StageRule, values: Readonly<Record<string, unknown>>): string[] {
  return rule.needs.filter((field) => isEmpty(values[field]))
}

/** What of an item its project's rules ask about; `values` by the names that types and stage rules use. */
export interface RuledItem {
  type: string
  stage: Stage
  /** A rejected item is asked for nothing. */
  isRejected: boolean
  /** A field that is not named here is not known, and never said to be missing. */
  values: Readonly<Record<string, unknown>>
}

/**
 * The fields that an item lacks by the rules of its project, though it stands where they are needed: evidence moves an item past a rule
 * that stops people (docs/rules.md#gates), and a rule may be newer than the item. In the order of the rules, each once. O(rules · fields).
 */
export function lackingOf(
  { type, stage, isRejected, values }: RuledItem,
  setup: {
    types: readonly { type: string; fields: Readonly<Record<string, FieldUse>> }[]
    stageRules: readonly { stage: Stage; needs: readonly string[] }[]
  },
): string[] {
  if (isRejected) return []
  const definition = setup.types.find((entry) => entry.type === type)
  const ofType = Object.keys(definition?.fields ?? {}).filter((field) => fieldUseOf(definition, field) === 'required')
  const reached = STAGES.slice(0, STAGES.indexOf(stage) + 1)
  const ofStages = reached.flatMap((each) => setup.stageRules.find((rule) => rule.stage === each)?.needs ?? [])
  const needs = [...new Set([...ofType, ...ofStages])].filter((field) => field in values)
  return missingFor({ stage, needs }, values)
}

function isEmpty(value: unknown): boolean {
  return value === null || value === undefined || value === '' || (Array.isArray(value) && value.length === 0)
}
