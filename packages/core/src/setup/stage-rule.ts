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

function isEmpty(value: unknown): boolean {
  return value === null || value === undefined || value === '' || (Array.isArray(value) && value.length === 0)
}
