import { z } from 'zod'
import type { Priority } from '#setup/field-use'
import { zPriority } from '#setup/item-type'

const words = z.array(z.string().trim().min(1).max(60)).max(20)

/**
 * What new items get when they match: every condition that is given must hold; within one, any of its words does. Only what nobody filled
 * is set.
 */
export const zRoutingRule = z.strictObject({
  ruleId: z.string().regex(/^[a-z0-9-]{1,40}$/, 'Small letters, digits and hyphens'),
  name: z.string().trim().min(1, 'A name is needed').max(60),
  conditions: z
    .strictObject({
      components: words.default([]),
      /** Beginnings of the paths of the failing code. */
      paths: words.default([]),
      labels: words.default([]),
      /** Words or phrases of the title or text, whole words, in any case. */
      words: words.default([]),
    })
    .refine((conditions) => Object.values(conditions).some((list) => list.length > 0), 'Give at least one condition'),
  sets: z
    .strictObject({
      component: z.string().max(100).nullable().default(null),
      ownerId: z.string().max(100).nullable().default(null),
      severity: z.number().int().min(1).max(5).nullable().default(null),
      milestone: z.string().max(50).nullable().default(null),
      priority: zPriority.nullable().default(null),
      labels: z.array(z.string().trim().min(1).max(40)).max(10).default([]),
    })
    .refine((sets) => Object.values(sets).some((value) => (Array.isArray(value) ? value.length > 0 : value !== null)), 'Say what it sets'),
})
export type RoutingRule = z.infer<typeof zRoutingRule>

/** What routing rules can ask of a new item. */
export interface RoutedFacts {
  title: string
  text: string
  component: string | null
  labels: readonly string[]
  /** Files of the failing frames. */
  paths: readonly string[]
  ownerId: string | null
  severity: number | null
  milestone: string | null
  priority: Priority | null
}
/** Whom the rules chose and by which rule. */
export interface Routed {
  ruleId: string
  changes: Partial<Pick<RoutedFacts, 'component' | 'ownerId' | 'severity' | 'milestone' | 'priority'>> & { labels?: string[] }
}

/** What each matching rule sets, in the rules' order; what an earlier one set, a later one leaves. Cost: O(rules × text). */
export function routeItem(rules: readonly RoutingRule[], facts: RoutedFacts): Routed[] {
  const now = { ...facts, labels: [...facts.labels] }
  const routed: Routed[] = []
  for (const rule of rules) {
    if (!matches(rule, now)) continue
    const changes: Routed['changes'] = {}
    for (const field of ['component', 'ownerId', 'severity', 'milestone', 'priority'] as const) {
      const value = rule.sets[field]
      if (value === null || now[field] !== null) continue
      Object.assign(changes, { [field]: value })
      Object.assign(now, { [field]: value })
    }
    const fresh = rule.sets.labels.filter((label) => !now.labels.includes(label))
    if (fresh.length > 0) {
      now.labels.push(...fresh)
      changes.labels = [...now.labels]
    }
    if (Object.keys(changes).length > 0) routed.push({ ruleId: rule.ruleId, changes })
  }
  return routed
}

function matches({ conditions }: RoutingRule, facts: RoutedFacts): boolean {
  const { components, paths, labels, words: phrases } = conditions
  if (components.length > 0 && !(facts.component !== null && components.includes(facts.component))) return false
  if (labels.length > 0 && !labels.some((label) => facts.labels.includes(label))) return false
  if (paths.length > 0 && !paths.some((prefix) => facts.paths.some((path) => path.startsWith(prefix)))) return false
  const text = ` ${`${facts.title} ${facts.text}`.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, ' ')} `
  return (
    phrases.length === 0 ||
    phrases.some((phrase) =>
      text.includes(
        ` ${phrase
          .toLowerCase()
          .replace(/[^\p{L}\p{N}]+/gu, ' ')
          .trim()} `,
      ),
    )
  )
}
