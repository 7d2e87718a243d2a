/** A requirement as a baseline holds it. */
export interface HeldRequirement {
  key: string
  revision: number
  parent: string | null
  isRetired: boolean
}
/** A tie of an item to a requirement. */
export interface HeldLink {
  kind: string
  item: string
  requirement: string
}
/** What stood at a moment: requirements with their revisions, and what was tied to them. */
export interface Snapshot {
  requirements: readonly HeldRequirement[]
  links: readonly HeldLink[]
}
/** What differs between two moments, by key. */
export interface SnapshotChanges {
  added: string[]
  removed: string[]
  changed: { key: string; from: number; to: number }[]
  moved: { key: string; from: string | null; to: string | null }[]
  retired: string[]
  restored: string[]
  linksAdded: HeldLink[]
  linksRemoved: HeldLink[]
}

/**
 * A snapshot as text that is the same for the same content, whatever the order in which it was gathered: what
 * its hash is made of. Lines of JSON, sorted by code units. O(n log n).
 */
export function canonicalText({ requirements, links }: Snapshot): string {
  const lines = [
    ...requirements.map(({ key, revision, parent, isRetired }) => JSON.stringify(['requirement', key, revision, parent, isRetired])),
    ...links.map(({ kind, item, requirement }) => JSON.stringify(['link', kind, item, requirement])),
  ]
  return `${lines.sort().join('\n')}\n`
}

const nameOf = ({ kind, item, requirement }: HeldLink): string => JSON.stringify([kind, item, requirement])
const byText = (a: string, b: string): number => (a < b ? -1 : Number(a > b))

/** What differs between two snapshots; each list is sorted by key. O(n log n). */
export function compareSnapshots(before: Snapshot, after: Snapshot): SnapshotChanges {
  const [old, fresh] = [before, after].map(({ requirements }) => new Map(requirements.map((held) => [held.key, held]))) as [
    Map<string, HeldRequirement>,
    Map<string, HeldRequirement>,
  ]
  const [oldLinks, freshLinks] = [before, after].map(({ links }) => new Map(links.map((link) => [nameOf(link), link]))) as [
    Map<string, HeldLink>,
    Map<string, HeldLink>,
  ]
  const both = [...old.values()]
    .flatMap((was) => {
      const is = fresh.get(was.key)
      return is ? [{ was, is }] : []
    })
    .sort((a, b) => byText(a.was.key, b.was.key))
  const without = <Value>(these: Map<string, Value>, those: ReadonlyMap<string, Value>) =>
    [...these.keys()].filter((name) => !those.has(name)).sort(byText)
  return {
    added: without(fresh, old),
    removed: without(old, fresh),
    changed: both
      .filter(({ was, is }) => was.revision !== is.revision)
      .map(({ was, is }) => ({ key: was.key, from: was.revision, to: is.revision })),
    moved: both.filter(({ was, is }) => was.parent !== is.parent).map(({ was, is }) => ({ key: was.key, from: was.parent, to: is.parent })),
    retired: both.filter(({ was, is }) => !was.isRetired && is.isRetired).map(({ was }) => was.key),
    restored: both.filter(({ was, is }) => was.isRetired && !is.isRetired).map(({ was }) => was.key),
    linksAdded: without(freshLinks, oldLinks).flatMap((name) => freshLinks.get(name) ?? []),
    linksRemoved: without(oldLinks, freshLinks).flatMap((name) => oldLinks.get(name) ?? []),
  }
}
