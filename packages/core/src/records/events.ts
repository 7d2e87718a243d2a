import type { NodeRef } from '#basics/node-ref'
import type { Priority } from '#setup/field-use'
import type { ItemType, Classification } from '#setup/item-type'
import type { OwnValue } from '#setup/own-field'
import type { Provenance } from './provenance.js'

export interface LinkBody {
  assertionId: string
  linkId: string
  kind: string
  from: NodeRef
  to: NodeRef
  provenance: Provenance
  source: string | null
  statedBy: string | null
  targetRevision: number | null
}
/** The fields of an item that `item-changed` may carry. */
export interface ItemFields {
  title: string
  description: string
  severity: number | null
  ownerId: string | null
  component: string | null
  milestone: string | null
  labels: string[]
  dueOn: string | null
  estimateMinutes: number | null
  type: ItemType
  priority: Priority | null
  coOwnerIds: string[]
  sprint: string | null
  points: number | null
  foundIn: string | null
  plannedFor: string | null
  classification: Classification | null
  ownValues: Record<string, OwnValue>
  isConfidential: boolean
  namedIds: string[]
  isArchived: boolean
}
export type FieldChanges = { [Field in keyof ItemFields]?: { from: ItemFields[Field]; to: ItemFields[Field] } }

/** The journal's events of records and their bodies. */
export interface RecordsEvents {
  'link-asserted': LinkBody
  'link-retracted': { assertionId: string; linkId: string; from: NodeRef; to: NodeRef; kind: string }
  'link-vetoed': { linkId: string; source: string }
}
