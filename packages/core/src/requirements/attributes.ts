import { z } from 'zod'

/** What an attribute of a requirement holds: a line, Markdown, a number, a day or moment, yes or no, or words to choose from. */
export const ATTRIBUTE_KINDS = ['line', 'prose', 'number', 'date', 'yes-no', 'choice'] as const
/** One of those kinds. */
export type AttributeKind = (typeof ATTRIBUTE_KINDS)[number]

const zName = z.string().trim().min(1).max(100)
/** What one attribute is called and may hold. */
export const zAttributeDefinition = z.strictObject({
  name: zName,
  kind: z.enum(ATTRIBUTE_KINDS),
  /** Of a choice: the words, in their order. */
  choices: z.array(z.string().trim().min(1).max(200)).max(500).default([]),
  /** Of a choice: whether several hold at once. */
  isMany: z.boolean().default(false),
})
export type AttributeDefinition = z.output<typeof zAttributeDefinition>
/** Several words only for a choice of many. */
export const zAttributeValue = z.union([z.string().max(20_000), z.array(z.string().max(200)).max(100)])
export type AttributeValue = z.infer<typeof zAttributeValue>
/** Values by the names of their attributes. */
export const zAttributes = z.record(zName, zAttributeValue)
export type Attributes = z.infer<typeof zAttributes>

/** What every project has without asking; others are added to them, or take their place by name. */
export const COMMON_ATTRIBUTES: readonly AttributeDefinition[] = [
  { name: 'Rationale', kind: 'prose', choices: [], isMany: false },
  { name: 'Acceptance', kind: 'prose', choices: [], isMany: false },
  { name: 'Source', kind: 'line', choices: [], isMany: false },
  { name: 'Kind', kind: 'choice', choices: ['functional', 'quality', 'constraint', 'interface'], isMany: false },
  { name: 'Priority', kind: 'choice', choices: ['must', 'should', 'may'], isMany: false },
  { name: 'Risk', kind: 'choice', choices: ['high', 'middle', 'low'], isMany: false },
  { name: 'Owner', kind: 'line', choices: [], isMany: false },
]

/** The attributes of a project: the common ones, and its own, which win by name. */
export function definitionsOf(own: readonly AttributeDefinition[]): AttributeDefinition[] {
  const byName = new Map(COMMON_ATTRIBUTES.map((one) => [one.name, one]))
  for (const one of own) byName.set(one.name, one)
  return [...byName.values()]
}

const DAY = /^\d{4}-\d\d-\d\d(?:T\d\d:\d\d(?::\d\d(?:\.\d+)?)?(?:Z|[+-]\d\d:\d\d)?)?$/

/** What is wrong with a value, in words; null where it fits. An empty value fits: it takes the attribute away. */
export function misfit({ name, kind, choices, isMany }: AttributeDefinition, value: AttributeValue): string | null {
  if (Array.isArray(value)) {
    if (kind !== 'choice' || !isMany) return `${name} holds one value`
    const wrong = value.find((word) => !choices.includes(word))
    return wrong === undefined ? null : `${name} is one of ${choices.join(', ')}; “${wrong}” is none of them`
  }
  if (value === '') return null
  if (kind === 'number' && !Number.isFinite(Number(value))) return `${name} is a number; “${value}” is none`
  if (kind === 'date' && !(DAY.test(value) && Number.isFinite(Date.parse(value))))
    return `${name} is a day such as 2026-11-24; “${value}” is none`
  if (kind === 'yes-no' && value !== 'true' && value !== 'false') return `${name} is true or false; “${value}” is neither`
  if (kind === 'choice' && !choices.includes(value)) return `${name} is one of ${choices.join(', ')}; “${value}” is none of them`
  return null
}

/** Whether two values say the same. */
export function isSameValue(one: AttributeValue | undefined, other: AttributeValue | undefined): boolean {
  const plain = (value: AttributeValue | undefined) => JSON.stringify(value === undefined || value.length === 0 ? '' : value)
  return plain(one) === plain(other)
}
