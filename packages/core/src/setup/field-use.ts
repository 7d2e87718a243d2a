/** Whether a type of item shows a field, needs it, or leaves it out. */
export const FIELD_USES = ['shown', 'required', 'hidden'] as const
/** How a type of item uses a field. */
export type FieldUse = (typeof FIELD_USES)[number]

/** How a type uses a field; what it does not mention is shown. */
export function fieldUseOf(definition: { fields: Readonly<Record<string, FieldUse>> } | undefined, field: string): FieldUse {
  return definition?.fields[field] ?? 'shown'
}

/** Priorities, the most pressing first. */
export const PRIORITIES = ['urgent', 'high', 'normal', 'low'] as const
/** How soon something should be done. */
export type Priority = (typeof PRIORITIES)[number]
/** What a project's own field can hold. */
export const OWN_FIELD_KINDS = ['text', 'number', 'date', 'one-of', 'several-of', 'person', 'link'] as const
/** What can be answered to a comment without writing. */
export const REACTIONS = ['agree', 'thanks', 'seen', 'doubt'] as const

/** The severity of what nobody has judged and nothing speaks for: the middle, so that a worse or a milder one is one key away. */
export const SEVERITY_UNJUDGED = 3
