import type { Gap, ThreadEdge, ThreadNode } from './thread.js'

/**
 * The missing links of a thread: a requirement with no item or no test, an item that is past "underway" but has no code, a fix on the
 * main line that no release holds. O(nodes + edges).
 */
export function findGaps(nodes: readonly ThreadNode[], edges: readonly ThreadEdge[], stageByItem: ReadonlyMap<string, string>): Gap[] {
  const targets = new Map<string, ThreadNode['ref'][]>()
  const byId = new Map(nodes.map((node) => [node.id, node]))
  for (const edge of edges) {
    for (const [from, to] of [
      [edge.from, edge.to],
      [edge.to, edge.from],
    ] as const) {
      const list = targets.get(from) ?? []
      list.push(byId.get(to)?.ref ?? null)
      targets.set(from, list)
    }
  }
  const leadsTo = (id: string, kinds: readonly string[]) => (targets.get(id) ?? []).some((ref) => ref !== null && kinds.includes(ref.kind))
  const gaps: Gap[] = []
  for (const node of nodes) {
    if (node.ref?.kind === 'requirement') {
      if (!leadsTo(node.id, ['item'])) gaps.push({ code: 'requirement-without-item', of: node.id })
      if (!leadsTo(node.id, ['test'])) gaps.push({ code: 'requirement-without-test', of: node.id })
    }
    if (node.ref?.kind !== 'item') continue
    const stage = stageByItem.get(node.ref.id)
    if ((stage === 'merged' || stage === 'released' || stage === 'verified') && !leadsTo(node.id, ['commit', 'pull-request'])) {
      gaps.push({ code: 'item-without-code', of: node.id })
    }
    if (stage === 'merged') gaps.push({ code: 'fix-without-release', of: node.id })
  }
  return gaps
}
