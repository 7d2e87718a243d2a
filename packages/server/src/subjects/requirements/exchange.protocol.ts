import type { AttributeDefinition } from '@dystracer/core/requirements/attributes'
import type { RequirementFormat } from '@dystracer/core/requirements/exchange-wire'
import type { ImportProblem, RequirementDraft } from '@dystracer/core/requirements/import-plan'
import type { RequirementColumns } from '@dystracer/core/requirements/read-table'
import type { KeptDocument, Origin } from '@dystracer/core/requirements/reqif/document'
import type { ReqifInput } from '@dystracer/core/requirements/reqif/write-reqif'
import type { ReqifRelation } from '@dystracer/core/requirements/reqif/read-reqif'

/** A requirement of a file, with where it came from if that is an exchange file. */
export type ReadDraft = RequirementDraft & { origin: Origin | null; relations?: { name: string; to: string }[] }
/** A picture that came along. */
export interface ReadPicture {
  path: string
  mediaType: string
  bytes: Uint8Array
}
/** What a file of requirements says. */
export interface ReadFile {
  columns: RequirementColumns | null
  headings: string[]
  drafts: ReadDraft[]
  /** Attributes that the project does not have, or that it has with fewer choices. */
  definitions: AttributeDefinition[]
  relations: ReqifRelation[]
  documents: KeptDocument[]
  pictures: ReadPicture[]
  problems: ImportProblem[]
}
/** What became of reading: its content, or why it was not taken, in words. */
export type ReadResult = { isRead: true; file: ReadFile } | { isRead: false; why: string }
export interface ReadInput {
  format: RequirementFormat
  bytes: Uint8Array
  known: readonly AttributeDefinition[]
  columns: Partial<RequirementColumns>
}
/** What the thread for files of requirements does. */
export interface ExchangeMethods {
  read: { input: ReadInput; output: ReadResult }
  write: { input: ReqifInput; output: string }
}
