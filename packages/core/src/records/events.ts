import type { ItemFieldValues } from '#setup/item-fields'
import type { NodeRef } from '#basics/node-ref'
import type { Provenance } from './provenance.js'

/** A link between two things, as a journal entry keeps it. */
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
/** The fields of an item that `item-changed` may carry: all that are declared. */
export type ItemFields = ItemFieldValues
/** For each changed field its value before and after. */
export type FieldChanges = { [Field in keyof ItemFields]?: { from: ItemFields[Field]; to: ItemFields[Field] } }

/** The journal's events of records and their bodies. */
export interface RecordsEvents {
  'link-asserted': LinkBody
  'link-retracted': { assertionId: string; linkId: string; from: NodeRef; to: NodeRef; kind: string }
  'link-vetoed': { linkId: string; source: string }
}
