import type { AttributeDefinition, Attributes } from '../attributes.js'
import type { ReqifContent } from './read-reqif.js'

/**
 * Brings the attributes of a file together with those of the project: one of the same name and kind is the same, with the choices of both;
 * one of the same name and another kind gets a name of its own, so that no value is lost. Gives the content under those names, and the
 * definitions that are new or wider.
 */
export function reconcile(
  content: ReqifContent,
  known: readonly AttributeDefinition[],
): { content: ReqifContent; definitions: AttributeDefinition[] } {
  const byName = new Map(known.map((one) => [one.name, one]))
  const nameOf = new Map<string, string>()
  const changed = new Map<string, AttributeDefinition>()
  for (const one of content.definitions) {
    const name = freeName(one, byName)
    const before = byName.get(name)
    const merged: AttributeDefinition = {
      ...one,
      name,
      choices: [...new Set([...(before?.choices ?? []), ...one.choices])],
      isMany: one.isMany || (before?.isMany ?? false),
    }
    nameOf.set(one.name, name)
    byName.set(name, merged)
    if (JSON.stringify(before) !== JSON.stringify(merged)) changed.set(name, merged)
  }
  const renamed = (attributes: Attributes): Attributes =>
    Object.fromEntries(Object.entries(attributes).map(([name, value]) => [nameOf.get(name) ?? name, value]))
  const names = Object.fromEntries(Object.entries(content.document.names).map(([id, name]) => [id, nameOf.get(name) ?? name]))
  return {
    content: {
      ...content,
      document: { ...content.document, names },
      drafts: content.drafts.map((draft) => ({ ...draft, attributes: renamed(draft.attributes) })),
    },
    definitions: [...changed.values()],
  }
}

function freeName({ name, kind }: AttributeDefinition, byName: ReadonlyMap<string, AttributeDefinition>): string {
  const isFree = (candidate: string) => (byName.get(candidate)?.kind ?? kind) === kind
  if (isFree(name)) return name
  let number = 0
  for (;;) {
    const candidate = `${name.slice(0, 80)} (${kind}${number++ === 0 ? '' : ` ${number}`})`
    if (isFree(candidate)) return candidate
  }
}
