import type { NodeKind, NodeRef } from '#basics/node-ref'
import type { Provenance } from '#records/provenance'

/** The columns of the drawing, left to right, and which kinds of node stand in each. */
export const THREAD_COLUMNS = ['requirement', 'items', 'code', 'review', 'release', 'running'] as const
/** A column of the drawing, from what was asked for to what runs. */
export type ThreadColumn = (typeof THREAD_COLUMNS)[number]
/** In which column each kind of thing stands. */
export const COLUMN_BY_KIND: Record<NodeKind, ThreadColumn> = {
  requirement: 'requirement',
  item: 'items',
  fault: 'items',
  branch: 'code',
  commit: 'code',
  'pull-request': 'review',
  build: 'review',
  test: 'review',
  release: 'release',
  environment: 'running',
}
/**
 * `proof`: evidence holds; `fault`: broken or contradicted; `ochre`: look again; `plain`: neither; `missing`: a gap drawn where the link
 * should lead.
 */
export type NodeTone = 'proof' | 'fault' | 'ochre' | 'plain' | 'missing'
/** One thing on a thread. */
export interface ThreadNode {
  /** `kind:id`; gaps use `gap:code:of`. */
  id: string
  ref: NodeRef | null
  column: ThreadColumn
  title: string
  subtitle: string
  tone: NodeTone
}
/** A tie between two things on a thread, and where it comes from. */
export interface ThreadEdge {
  from: string
  to: string
  kind: string
  provenance: Provenance
  /** Who or what said so, for the tooltip. */
  statedBy: string | null
  atMs: number | null
  score01: number | null
  tone: 'proof' | 'fault' | 'missing'
}
/** A place where a thread should go on and does not. */
export interface Gap {
  code: 'requirement-without-item' | 'item-without-code' | 'fix-without-release' | 'requirement-without-test'
  of: string
}
/** Everything reached from one thing, with its gaps. */
export interface Thread {
  start: string
  nodes: ThreadNode[]
  edges: ThreadEdge[]
  gaps: Gap[]
}
