import { z } from 'zod'
import type { LogItem } from '#items/wire'
import type { Disposition, Stage } from '#ladder/ladder'
import { type OwnField, type OwnPlace, zOwnPlace } from '#setup/own-field'

/** What a column of an imported file can become. */
export const IMPORT_FIELDS = [
  'id',
  'title',
  'description',
  'type',
  'severity',
  'priority',
  'owner',
  'component',
  'milestone',
  'sprint',
  'labels',
  'due',
  'points',
  'parent',
  'status',
  'resolution',
  'links',
  'reporter',
  'created',
  'updated',
  'estimate',
  'spent',
  'comments',
  'blocks',
  'blocked by',
  'same as',
  'see also',
  'requirements',
  'found in',
  'planned for',
  'attachments',
] as const
/** What a column of an imported table can become. */
export type ImportField = (typeof IMPORT_FIELDS)[number]
/** Fields whose values a row that was imported before can bring anew, with what each is of an item. */
export const RENEWED_FIELDS = {
  title: 'title',
  description: 'description',
  type: 'type',
  severity: 'severity',
  priority: 'priority',
  owner: 'ownerId',
  component: 'component',
  milestone: 'milestone',
  sprint: 'sprint',
  labels: 'labels',
  due: 'dueOn',
  points: 'points',
  estimate: 'estimateMinutes',
  'found in': 'foundIn',
  'planned for': 'plannedFor',
} as const satisfies Partial<Record<ImportField, string>>
type RenewedName = keyof typeof RENEWED_FIELDS
/** A field in which an imported row can differ from its item: one that every item has, or one of the project's own. */
export type RenewedField = RenewedName | OwnPlace
/** The names of those that every item has, in order. */
export const RENEWED_FIELD_NAMES = Object.keys(RENEWED_FIELDS) as [RenewedName, ...RenewedName[]]
/** A field in which an imported row can differ from its item, as it is asked for. */
export const zRenewedField = z.union([z.enum(RENEWED_FIELD_NAMES), zOwnPlace])

/** Field by column; columns that are left out are not imported. */
export const zImportMapping = z.record(z.string().max(200), z.union([z.enum(IMPORT_FIELDS), zOwnPlace]))
/** For each column's heading, the field that it fills. */
export type ImportMapping = Record<string, ImportField | OwnPlace>

/** Fields whose values are words of the file that stand for something of the project's. */
export const VALUE_FIELDS = ['type', 'severity', 'priority', 'owner', 'component', 'reporter', 'status', 'resolution'] as const
/** A field whose values need translating into ours (types, people, priorities). */
export type ValueField = (typeof VALUE_FIELDS)[number]
/** What words of the file become, by field: what it is called here, '' for nothing, or one of the two below. */
export const zImportValues = z.partialRecord(z.enum(VALUE_FIELDS), z.record(z.string().max(200), z.string().max(200)))
export type ImportValues = z.infer<typeof zImportValues>
/** A person who is not here yet is invited by the address that the file gives. */
export const INVITE = '+invite'
/** A component that is not here yet is added. */
export const ADD = '+add'
/** One word of the file: in how many rows it stands, and what it becomes; null for nothing. */
export interface ImportValue {
  field: ValueField
  text: string
  count: number
  becomes: string | null
  /** Nobody said what it becomes, and nothing here is called so. */
  isUnknown: boolean
}

/** What is wrong with one cell, by row and column. */
export interface ImportProblem {
  row: number
  column: string | null
  code:
    | 'no-title'
    | 'title-cut'
    | 'text-cut'
    | 'doubled-id'
    | 'unknown-person'
    | 'unknown-component'
    | 'unknown-type'
    | 'unknown-priority'
    | 'wrong-day'
    | 'wrong-severity'
    | 'wrong-number'
    | 'unknown-parent'
    | 'parent-loop'
    | 'refused'
    | 'unknown-status'
    | 'unknown-resolution'
    | 'unknown-reporter'
    | 'wrong-time'
    | 'wrong-duration'
    | 'unknown-link'
    | 'unknown-requirement'
    | 'labels-cut'
    | 'comments-cut'
    | 'wrong-own-value'
    | 'no-address'
    | 'not-fetched'
    | 'too-many-cells'
    | 'too-few-cells'
    | 'not-json'
    | 'not-renewed'
  value: string
}
/** Problems for which a row is left out; with all others it is imported without the value. */
export const LEAVES_OUT: ReadonlySet<ImportProblem['code']> = new Set(['no-title', 'doubled-id', 'refused', 'too-many-cells', 'not-json'])

/** One item as the import would make it. */
export interface PlannedItem {
  row: number
  /** The file's own id, else null. */
  id: string | null
  parentId: string | null
  item: Omit<LogItem, 'project'>
  /** The fields that its cells say, and say rightly: what else stands in `item` is nothing that the file says. */
  said: RenewedField[]
  /** Who reported it: somebody here, or a name alone. */
  reporterId: string | null
  reporterName: string | null
  createdAtMs: number | null
  /** When it was changed last where it comes from. */
  updatedAtMs: number | null
  spentMinutes: number | null
  /** Where it stood, in the words of the file. */
  baseline: { stage: Stage; words: string } | null
  /** How it ended without a fix, in the words of the file. */
  rejected: { disposition: Disposition; words: string } | null
  comments: ImportedComment[]
  /** Addresses of files that belong to it; they are fetched once all rows are in. */
  attachments: string[]
  /** Ties to other rows or items by their ids, and to requirements by their keys; they are made once all rows are in. */
  ties: { kind: ImportedTie; to: string }[]
}
/** A comment of the file, with whom and when as far as it says so. */
export interface ImportedComment {
  text: string
  by: string | null
  atMs: number | null
}
/** What a tie of the file becomes. */
export type ImportedTie = (typeof TIE_FIELDS)[number]
/** The columns that tie a row to others, in the words of the mapping. */
export const TIE_FIELDS = ['blocks', 'blocked by', 'same as', 'see also', 'requirements'] as const

/** What the project has that values can be matched with. */
export interface ImportWorld {
  types: readonly string[]
  components: readonly string[]
  ownFields: readonly OwnField[]
  /** A person by address, id or name; null when nobody is meant. */
  personOf: (text: string) => string | null
  /** Plain text of a cell that holds HTML. */
  toText: (html: string) => string
  /** Nothing that is imported was made later than this. */
  nowMs: number
}
