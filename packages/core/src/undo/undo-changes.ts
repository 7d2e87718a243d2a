/** A field's value before and after one change. */
export type FieldChange = { from: unknown; to: unknown }

/**
 * The change that takes a change back. Refuses, naming the field, where the value is no longer what the change had made it: someone changed
 * it since. `undoChanges` of an undo gives the
 * first change again.
 */
export function undoChanges(
  changes: Readonly<Record<string, FieldChange>>,
  now: Readonly<Record<string, unknown>>,
): { inverse: Record<string, FieldChange> } | { changedSince: string } {
  const inverse: Record<string, FieldChange> = {}
  for (const [field, { from, to }] of Object.entries(changes)) {
    if (JSON.stringify(now[field] ?? null) !== JSON.stringify(to ?? null)) return { changedSince: field }
    inverse[field] = { from: to, to: from }
  }
  return { inverse }
}
