import type { Priority } from './field-use.js'
import type { Classification, ItemType } from './item-type.js'
import type { OwnValue } from './own-field.js'

/**
 * What a value of each kind of field is, by kind; the wire's schema of each stands in records/wire.ts, its control in the interface by the
 * same kind.
 */
export interface FieldValues {
  title: string
  prose: string
  severity: number | null
  person: string | null
  people: string[]
  component: string | null
  /** A line of text that is typed, with suggestions. */
  line: string | null
  labels: string[]
  day: string | null
  minutes: number | null
  type: ItemType
  priority: Priority | null
  points: number | null
  classification: Classification | null
  ownValues: Record<string, OwnValue>
  flag: boolean
}
/** How a field's value is entered, checked and shown. */
export type FieldKind = keyof FieldValues
/** Where the suggestions for a typed line come from. */
export type Suggestions = 'milestones' | 'sprints' | 'releases'

/** All that is said of a field of an item; forms, filters, columns, copies, exports and history are derived from it. */
export interface FieldDeclaration {
  kind: FieldKind
  /** Its column in the table of items. */
  column: string
  /** Its name in sentences, lists and the history. */
  label: string
  /**
   * Its name in the set-up of types and stage rules, and what a refusal asks for ("needs an owner"); null for a field that every type has.
   */
  use: { name: string; asks: string } | null
  /** Whether it is given when an item is logged; others are only changed. */
  isLogged: boolean
  /** Whether a copy takes it along. */
  isCopied: boolean
  /** Its name in exports; null for what is not exported. */
  exportedAs: string | null
  /** The word by which filters compare it; null for what no filter asks for. */
  filteredAs: string | null
  /** For a line: what is suggested while it is typed. */
  suggests?: Suggestions
}

/**
 * Every field of an item that people set, declared once; in the order in which types list them and exports write them. What can be derived
 * from a declaration is: the
 * shapes of logging, changing and reading, the journal's `item-changed`, the column, the forms' lines, what a copy takes, exports, refusals
 * and the history
 * (docs/guides/add-a-field.md).
 */
export const ITEM_FIELDS = {
  title: { kind: 'title', column: 'title', label: 'title', use: null, isLogged: true, isCopied: true, exportedAs: null, filteredAs: null },
  description: {
    kind: 'prose',
    column: 'description',
    label: 'text',
    use: null,
    isLogged: true,
    isCopied: true,
    exportedAs: null,
    filteredAs: null,
  },
  type: { kind: 'type', column: 'type', label: 'type', use: null, isLogged: true, isCopied: true, exportedAs: null, filteredAs: 'type' },
  severity: field('severity', 'severity', 'severity', 'severity', 'a severity', true),
  priority: field('priority', 'priority', 'priority', 'priority', 'a priority', true),
  ownerId: field('person', 'owner_id', 'owner', 'owner', 'an owner', false),
  component: field('component', 'component', 'component', 'component', 'a component', true),
  milestone: { ...field('line', 'milestone', 'milestone', 'milestone', 'a milestone', true), suggests: 'milestones' },
  sprint: { ...field('line', 'sprint', 'sprint', 'sprint', 'a sprint', true), suggests: 'sprints' },
  labels: { ...field('labels', 'labels', 'labels', 'labels', 'a label', true), filteredAs: 'label' },
  dueOn: field('day', 'due_on', 'due date', 'due', 'a due date', false),
  points: { ...field('points', 'points', 'points', 'points', 'points', true), filteredAs: null },
  estimateMinutes: {
    ...field('minutes', 'estimate_minutes', 'estimate', 'estimate', 'an estimate', false),
    exportedAs: 'estimateMinutes',
    filteredAs: null,
  },
  foundIn: {
    ...field('line', 'found_in', 'found in', 'foundIn', 'the release it was found in', true),
    filteredAs: 'release',
    suggests: 'releases',
  },
  plannedFor: {
    ...field('line', 'planned_for', 'planned for', 'plannedFor', 'the release it is planned for', true),
    filteredAs: null,
    suggests: 'releases',
  },
  classification: {
    ...field('classification', 'classification', 'classification', 'classification', 'a classification', false),
    exportedAs: null,
    filteredAs: null,
  },
  coOwnerIds: plain('people', 'co_owner_ids', 'also owned by', { isLogged: true, isCopied: false }),
  ownValues: plain('ownValues', 'own_values', 'own fields', { isLogged: true, isCopied: true }),
  isConfidential: plain('flag', 'is_confidential', 'confidential', { isLogged: true, isCopied: true }),
  namedIds: plain('people', 'named_ids', 'people who may see it', { isLogged: false, isCopied: false }),
  isArchived: plain('flag', 'is_archived', 'archived', { isLogged: false, isCopied: false }),
} as const satisfies Record<string, FieldDeclaration>

/** The name of a field of an item. */
export type ItemFieldName = keyof typeof ITEM_FIELDS
/** What each field holds. */
export type ItemFieldValues = { -readonly [Name in ItemFieldName]: FieldValues[(typeof ITEM_FIELDS)[Name]['kind']] }
type NamesWhere<Key extends 'isLogged' | 'isCopied' | 'kind', Value> = {
  [Name in ItemFieldName]: (typeof ITEM_FIELDS)[Name][Key] extends Value ? Name : never
}[ItemFieldName]
/** A field that can be given when an item is logged. */
export type LoggedField = NamesWhere<'isLogged', true>
/** A field that a copy of an item takes along. */
export type CopiedField = NamesWhere<'isCopied', true>
/** Fields that are a typed line. */
export type LineField = NamesWhere<'kind', 'line'>

const NAMES = Object.keys(ITEM_FIELDS) as ItemFieldName[]
const declared: Record<ItemFieldName, FieldDeclaration> = ITEM_FIELDS
/** The fields that can be given when an item is logged. */
export const LOGGED_FIELDS = NAMES.filter((name) => declared[name].isLogged) as LoggedField[]
/** The fields that a copy of an item takes along. */
export const COPIED_FIELDS = NAMES.filter((name) => declared[name].isCopied) as CopiedField[]
/** The fields that hold one line of text. */
export const LINE_FIELDS = NAMES.filter((name) => declared[name].kind === 'line') as LineField[]
/** Fields whose values filters compare as words. */
export type FilteredWordField = {
  [Name in ItemFieldName]: (typeof ITEM_FIELDS)[Name] extends {
    kind: 'type' | 'priority' | 'component' | 'day' | 'line'
    filteredAs: string
  }
    ? Name
    : never
}[ItemFieldName]
/** The words by which filters compare typed lines. */
export type FilteredLine = Exclude<(typeof ITEM_FIELDS)[LineField]['filteredAs'], null>
/** The names by which one-line fields are asked for in a filter. */
export const FILTERED_LINES = LINE_FIELDS.flatMap((name) => ITEM_FIELDS[name].filteredAs ?? []) as FilteredLine[]
/** The field that a filter's word compares, by word. */
export const FIELD_BY_FILTER_WORD = new Map(
  NAMES.flatMap((name) => {
    const { filteredAs } = declared[name]
    return filteredAs === null ? [] : [[filteredAs, name] as const]
  }),
)
/** What is suggested while a line is typed. */
export function suggestionsFor(name: LineField): Suggestions | undefined {
  return declared[name].suggests
}
/** Fields that exports hold beside what every item is, in their order. */
export const EXPORTED_FIELDS = NAMES.flatMap((name) => {
  const { exportedAs } = declared[name]
  return exportedAs === null ? [] : [{ name, exportedAs }]
})
/** Names that types and stage rules use, by field. */
export const USE_BY_FIELD = Object.fromEntries(
  NAMES.flatMap((name) => (declared[name].use ? [[name, declared[name].use]] : [])),
) as Partial<Record<ItemFieldName, { name: string; asks: string }>>

/**
 * Names of all that a type may show, ask for or leave out; own fields are named by `own:` and their id. A requirement is a link, not a
 * field.
 */
export const TYPE_FIELDS: readonly string[] = Object.values(USE_BY_FIELD)
  .map((use) => use.name)
  .toSpliced(6, 0, 'requirement')

/** A field that types may show, ask for or leave out; exports and filters call it by the name of its use. */
function field<const Kind extends FieldKind, const Column extends string, const Use extends string, const Copied extends boolean>(
  kind: Kind,
  column: Column,
  label: string,
  use: Use,
  asks: string,
  isCopied: Copied,
) {
  return { kind, column, label, use: { name: use, asks }, isLogged: true as const, isCopied, exportedAs: use, filteredAs: use }
}

/** A field that every type has, of which exports say nothing. */
function plain<const Kind extends FieldKind, const Column extends string, const Logged extends boolean, const Copied extends boolean>(
  kind: Kind,
  column: Column,
  label: string,
  { isLogged, isCopied }: { isLogged: Logged; isCopied: Copied },
) {
  return { kind, column, label, use: null, isLogged, isCopied, exportedAs: null, filteredAs: null }
}
