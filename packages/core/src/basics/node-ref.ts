/**
 * A typed reference to anything that can stand in a thread: `kind:id`.
 * Ids by kind: item `EMB-142`; requirement `SAF-3`; fault `F-93`; commit and branch and pull-request and build
 * `repository/rest`; release `service@version`; environment `name`; test `repository/name`.
 */
export const NODE_KINDS = [
  'requirement',
  'item',
  'fault',
  'test',
  'branch',
  'commit',
  'pull-request',
  'build',
  'release',
  'environment',
] as const
/** One kind of thing that a thread can pass through. */
export type NodeKind = (typeof NODE_KINDS)[number]
/** A thing named by its kind and its id in that kind (`commit` with its hash, `item` with its key). */
export interface NodeRef {
  kind: NodeKind
  id: string
}

/** `kind:id`, the text form in which a reference is stored and sent; `parseNodeRef` reads it back. */
export function formatNodeRef(ref: NodeRef): string {
  return `${ref.kind}:${ref.id}`
}

/** The reference written as `kind:id`, or null when the kind is unknown or the id is empty. */
export function parseNodeRef(text: string): NodeRef | null {
  const colon = text.indexOf(':')
  if (colon < 1 || colon === text.length - 1) return null
  const kind = NODE_KINDS.find((known) => known === text.slice(0, colon))
  return kind ? { kind, id: text.slice(colon + 1) } : null
}

/** `repository/rest` split at its first slash; null when one side is missing. */
export function splitRepositoryId(id: string): { repository: string; rest: string } | null {
  const slash = id.indexOf('/')
  if (slash < 1 || slash === id.length - 1) return null
  return { repository: id.slice(0, slash), rest: id.slice(slash + 1) }
}
