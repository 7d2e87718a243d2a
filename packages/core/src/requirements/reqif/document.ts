import { z } from 'zod'
import { zAttributeValue } from '../attributes.js'

/** What an attribute of a type of objects is for. */
export const zRole = z.enum(['title', 'chapter', 'text', 'key', 'attribute'])
export type Role = z.infer<typeof zRole>

/** One value as the file had it, and as it was read: as long as nobody changes it here, it leaves as it came. */
export const zKeptValue = z.object({ definition: z.string(), xml: z.string(), value: zAttributeValue })
export type KeptValue = z.infer<typeof zKeptValue>

/** Where a requirement came from in an exchange file, with all that has no place of its own here. */
export const zOrigin = z.object({
  document: z.string(),
  /** The identifier of the object, or of the specification. */
  object: z.string(),
  kind: z.enum(['object', 'specification']),
  type: z.string(),
  attributes: z.record(z.string(), z.string()),
  /** Elements beside its type and values, as they were. */
  extras: z.array(z.string()),
  values: z.array(zKeptValue),
  /** Of its place in the hierarchy: its attributes and further elements; null where it stood in none. */
  place: z.object({ attributes: z.record(z.string(), z.string()), extras: z.array(z.string()) }).nullable(),
})
export type Origin = z.infer<typeof zOrigin>

/** What an exchange file holds beside its objects; it leaves again as it came. */
export const zKeptDocument = z.object({
  id: z.string(),
  title: z.string(),
  root: z.object({ name: z.string(), attributes: z.record(z.string(), z.string()) }),
  header: z.string().nullable(),
  datatypes: z.array(z.string()),
  types: z.array(z.string()),
  /** By identifier, with what it joins. */
  relations: z.array(z.object({ id: z.string(), xml: z.string() })),
  groups: z.array(z.string()),
  extensions: z.string().nullable(),
  /** The specification, without what stands in it, where there is just one; of several each is a heading of its own. */
  specification: z.string().nullable(),
  /** Which attribute of a requirement each definition of the file is; one that has another name here stands under that. */
  names: z.record(z.string(), z.string()),
  /** Further places of objects that stand in the hierarchy more than once: below which and at which place there, as they were. */
  furtherPlaces: z.array(z.object({ below: z.string(), at: z.number().int(), xml: z.string() })),
})
export type KeptDocument = z.infer<typeof zKeptDocument>

/** What attributes are called by the practice of exchange between tools, and what else they are commonly called. */
const ROLES: readonly [Role, RegExp][] = [
  ['chapter', /^reqif\.chaptername$/i],
  ['title', /^(?:reqif\.name|title|name|summary|short[ _-]?(?:text|title))$/i],
  ['text', /^(?:reqif\.text|text|description|requirement(?:[ _-]?text)?|statement|content|body|object[ _-]?text)$/i],
  ['key', /^(?:reqif\.foreignid|id|identifier|key|req(?:uirement)?[ _-]?id)$/i],
]

/** What the attributes of one type are for, in their order: the first of a name takes its role, all others are attributes. */
export function rolesOf(names: readonly string[]): Role[] {
  const taken = new Set<Role>()
  // What the practice of exchange says wins over what merely sounds like it.
  const ranked = [...names.keys()].sort((a, b) => Number(/^reqif\./i.test(names[b] ?? '')) - Number(/^reqif\./i.test(names[a] ?? '')))
  const roles: Role[] = names.map(() => 'attribute')
  for (const at of ranked) {
    const role = ROLES.find(([, name]) => name.test(names[at]?.trim() ?? ''))?.[0]
    if (!role || taken.has(role)) continue
    taken.add(role)
    roles[at] = role
  }
  return roles
}
