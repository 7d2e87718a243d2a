import type { NodeRef } from '#basics/node-ref'

/** What is said once of a kind of link: its words both ways and between what it may stand. */
export interface LinkKindDeclaration {
  /** What stands before the other end, seen from the item and from the other end. */
  out: string
  in: string
  /** How the history tells that it was tied: "tied as its fix EMB-9". */
  told: string
  /** How people tie it by hand: what it is called there, and what it may go to; `inverse` calls the same link from the other item. */
  byHand: { label: string; to: readonly NodeRef['kind'][]; inverse?: string }
}

/**
 * Kinds of links from an item, declared once: what the interface calls them, how people tie them, how the history tells them
 * (docs/guides/add-a-link-kind.md).
 */
export const LINK_KINDS = {
  'see-also': { out: 'See also', in: 'See also', told: 'see also', byHand: { label: 'see also', to: ['item'] } },
  parent: { out: 'Part of', in: 'Has the part', told: 'part of', byHand: { label: 'is part of', to: ['item'], inverse: 'has the part' } },
  blocks: { out: 'Blocks', in: 'Blocked by', told: 'blocks', byHand: { label: 'blocks', to: ['item'], inverse: 'is blocked by' } },
  'same-as': { out: 'Same as', in: 'Same as', told: 'the same as', byHand: { label: 'is the same as', to: ['item'] } },
  'brought-in-by': {
    out: 'Brought in by',
    in: 'Brought in',
    told: 'brought in by',
    byHand: { label: 'was brought in by (an item or a commit)', to: ['item', 'commit'] },
  },
  fixes: {
    out: 'Fixed by',
    in: 'Fixes',
    told: 'tied as its fix',
    byHand: { label: 'is fixed by (a commit or a pull request)', to: ['commit', 'pull-request'] },
  },
  tied: {
    out: 'Named by',
    in: 'Names',
    told: 'tied',
    byHand: { label: 'has to do with (a commit, branch or pull request)', to: ['commit', 'branch', 'pull-request'] },
  },
  breaks: { out: 'Breaks', in: 'Broken by', told: 'tied as breaking', byHand: { label: 'breaks (a requirement)', to: ['requirement'] } },
  implements: {
    out: 'Implements',
    in: 'Implemented by',
    told: 'tied as implementing',
    byHand: { label: 'implements (a requirement)', to: ['requirement'] },
  },
} as const satisfies Record<string, LinkKindDeclaration>

/** A kind of link. */
export type LinkKind = keyof typeof LINK_KINDS
/** All kinds of links, in the order in which they are offered. */
export const LINK_KIND_NAMES = Object.keys(LINK_KINDS) as [LinkKind, ...LinkKind[]]
/** What is declared of a kind; null for links between other things, which nobody ties by hand. */
export function linkKindOf(kind: string): LinkKindDeclaration | null {
  return kind in LINK_KINDS ? LINK_KINDS[kind as LinkKind] : null
}
