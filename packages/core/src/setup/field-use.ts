export const FIELD_USES = ['shown', 'required', 'hidden'] as const
export type FieldUse = (typeof FIELD_USES)[number]

/** How a type uses a field; what it does not mention is shown. */
export function fieldUseOf(definition: { fields: Readonly<Record<string, FieldUse>> } | undefined, field: string): FieldUse {
  return definition?.fields[field] ?? 'shown'
}

export const PRIORITIES = ['urgent', 'high', 'normal', 'low'] as const
export type Priority = (typeof PRIORITIES)[number]
export const OWN_FIELD_KINDS = ['text', 'number', 'date', 'one-of', 'several-of', 'person', 'link'] as const
export const REACTIONS = ['agree', 'thanks', 'seen', 'doubt'] as const
