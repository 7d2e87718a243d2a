import { firstLine } from '#text/first-line'
import { type Disposition, type Stage, stageRank } from '#ladder/ladder'
import { PRIORITIES } from '#setup/field-use'
import { ownFieldAt, type OwnPlace, type OwnValue } from '#setup/own-field'
import {
  ADD,
  type ImportedComment,
  type ImportField,
  type ImportMapping,
  type ImportProblem,
  type ImportValue,
  type ImportValues,
  type ImportWorld,
  INVITE,
  LEAVES_OUT,
  type PlannedItem,
  RENEWED_FIELD_NAMES,
  TIE_FIELDS,
  type ValueField,
} from './import-fields.js'
import { listIn, readMinutes, readPoints, readPriority, readSeverity, readTime, toText, typeOfWord } from './read-cells.js'
import { dayOrderOf, readDay, type DayOrder } from './read-day.js'
import { readOwnValue } from './read-own-value.js'
import { isDisposition, isStage, meaningOfStatus } from './status-words.js'

const VALUES_SEEN_MAX = 300
const VALUE_MAX = 200
const TITLE_MAX = 200
const TEXT_MAX = 100_000
const LABEL_MAX = 40
const LABELS_MAX = 20
const COMMENTS_MAX = 500
const ATTACHMENTS_MAX = 50
const COMMENT_MAX = 20_000

/**
 * Reads rows one after the other; what a row says wrongly is noted with its place, and the row imported without it wherever that makes
 * sense. Memory: the ids seen.
 */
export class ImportPlanner {
  readonly #mapping: ImportMapping
  readonly #world: ImportWorld
  readonly #dayOrder: DayOrder
  readonly #ids = new Set<string>()
  readonly #columnOf: Partial<Record<ImportField | OwnPlace, string>> = {}
  readonly #values: ImportValues
  readonly #isMarkdown: boolean
  readonly #seen = new Map<string, ImportValue>()

  /**
   * `days` are the cells of the column of due days, as far as they are known before: they say in which order day and month stand. With
   * `isMarkdown` texts are taken as they stand; else a cell that holds HTML becomes its text. */
  constructor({
    mapping,
    world,
    days = [],
    values = {},
    isMarkdown = false,
  }: { mapping: ImportMapping; world: ImportWorld; days?: readonly string[]; values?: ImportValues; isMarkdown?: boolean }) {
    this.#isMarkdown = isMarkdown
    this.#values = values
    this.#mapping = mapping
    this.#world = world
    this.#dayOrder = dayOrderOf(days)
    for (const [column, field] of Object.entries(mapping)) this.#columnOf[field] ??= column
  }

  plan(cells: Readonly<Record<string, unknown>>, row: number): { planned: PlannedItem | null; problems: ImportProblem[] } {
    const problems: ImportProblem[] = []
    const note = (code: ImportProblem['code'], field: ImportField | OwnPlace, value: string) =>
      problems.push({ row, column: this.#columnOf[field] ?? null, code, value: value.slice(0, 100) })
    const read = (field: ImportField) => this.#read(cells, field)
    const id = read('id') || null
    if (id !== null && this.#ids.has(id)) note('doubled-id', 'id', id)
    const title = this.#title(read('title'), read('description'), note)
    if (problems.some((problem) => LEAVES_OUT.has(problem.code))) return { planned: null, problems }
    if (id !== null) this.#ids.add(id)
    const named = (values: readonly string[]) => (text: string) =>
      values.find((candidate) => candidate.toLowerCase() === text.toLowerCase()) ?? null
    const { types, components } = this.#world
    const word = (field: ValueField, code: ImportProblem['code'], guess: (text: string) => string | null) =>
      this.#word(field, read(field), guess, (text) => note(code, field, text))
    const type = word('type', 'unknown-type', (text) => typeOfWord(text, types) ?? named(types)(text)) ?? undefined
    const ownerId = word('owner', 'unknown-person', this.#world.personOf)
    const component = word('component', 'unknown-component', named(components))
    const severity = word('severity', 'wrong-severity', (text) => readSeverity(text)?.toString() ?? null)
    const priorityWord = word('priority', 'unknown-priority', readPriority)
    const priority = PRIORITIES.find((known) => known === priorityWord) ?? null
    const dueOn = this.#value(
      read('due'),
      (text) => readDay(text, this.#dayOrder),
      () => note('wrong-day', 'due', read('due')),
    )
    const points = this.#value(read('points'), readPoints, () => note('wrong-number', 'points', read('points')))
    const reporterId = word('reporter', 'unknown-reporter', this.#world.personOf)
    const minutes = (field: 'estimate' | 'spent') =>
      this.#value(
        read(field),
        (text) => readMinutes(text, this.#columnOf[field] ?? ''),
        () => note('wrong-duration', field, read(field)),
      )
    const standing = this.#standing(read, word)
    const time = (field: 'created' | 'updated') =>
      this.#value(
        read(field),
        (text) => readTime(text, this.#dayOrder, this.#world.nowMs),
        () => note('wrong-time', field, read(field)),
      )
    const ownValues = this.#ownValues(cells, (place, text) => note('wrong-own-value', place, text))
    return {
      planned: {
        row,
        id,
        parentId: read('parent') || null,
        said: [...RENEWED_FIELD_NAMES, ...(Object.keys(ownValues).map((fieldId) => `own.${fieldId}`) as OwnPlace[])].filter(
          (field) => this.#columnOf[field] !== undefined && !problems.some(({ column }) => column === this.#columnOf[field]),
        ),
        item: {
          title,
          // A status that became nothing is kept in words.
          description: this.#description(read, standing.baseline || standing.rejected ? '' : read('status'), note),
          ...(type !== undefined && { type }),
          severity: severity === null ? null : Number(severity),
          ownerId,
          component,
          milestone: read('milestone').slice(0, 50) || null,
          sprint: read('sprint').slice(0, 50) || null,
          labels: this.#labels(read('labels'), (text) => note('labels-cut', 'labels', text)),
          priority,
          dueOn,
          points,
          estimateMinutes: minutes('estimate'),
          foundIn: read('found in').slice(0, 50) || null,
          plannedFor: read('planned for').slice(0, 50) || null,
          ownValues,
        },
        reporterId,
        reporterName: reporterId === null ? read('reporter').slice(0, 200) || null : null,
        createdAtMs: time('created'),
        updatedAtMs: time('updated'),
        spentMinutes: minutes('spent'),
        ...standing,
        comments: this.#comments(cells, (text) => note('comments-cut', 'comments', text)),
        attachments: this.#addresses(cells, (text) => note('no-address', 'attachments', text)),
        ties: TIE_FIELDS.flatMap((kind) =>
          read(kind)
            .split(/[\s,;|]+/)
            .filter(Boolean)
            .slice(0, 100)
            .map((to) => ({ kind, to: to.slice(0, 100) })),
        ),
      },
      problems,
    }
  }

  /**
   * Where the item stood, by its status, and how it ended, by its resolution: a status that says how it ended says so, too. What neither
   * says stands in the text.
   */
  #standing(
    read: (field: ImportField) => string,
    word: (field: ValueField, code: ImportProblem['code'], guess: (text: string) => string | null) => string | null,
  ): Pick<PlannedItem, 'baseline' | 'rejected'> {
    const status = word('status', 'unknown-status', meaningOfStatus)
    const resolution = word('resolution', 'unknown-resolution', meaningOfStatus)
    const words = [read('status'), read('resolution')].filter(Boolean).join(', ').slice(0, 200)
    const ended = [resolution, status].find((meaning) => meaning !== null && isDisposition(meaning))
    const stages = [status, resolution].filter((meaning): meaning is Stage => meaning !== null && isStage(meaning))
    const [stage] = stages.sort((a, b) => stageRank(b) - stageRank(a))
    return {
      baseline: stage === undefined ? null : { stage, words },
      rejected: ended === undefined ? null : { disposition: ended as Disposition, words },
    }
  }

  /** Labels as they are, each once; what is too long or too many is cut, and said. */
  #labels(text: string, onCut: (text: string) => void): string[] {
    const labels = [
      ...new Set(
        text
          .split(/[,;|]/)
          .map((label) => label.trim())
          .filter(Boolean),
      ),
    ]
    for (const label of labels) if (label.length > LABEL_MAX) onCut(label)
    if (labels.length > LABELS_MAX) onCut(labels.slice(LABELS_MAX).join(', '))
    return [...new Set(labels.map((label) => label.slice(0, LABEL_MAX).trim()))].slice(0, LABELS_MAX)
  }

  /** What the columns of the project's own fields say; a column of a field that is gone says nothing. */
  #ownValues(cells: Readonly<Record<string, unknown>>, onWrong: (place: OwnPlace, text: string) => void): Record<string, OwnValue> {
    const values: Record<string, OwnValue> = {}
    for (const [column, place] of Object.entries(this.#mapping)) {
      const fieldId = ownFieldAt(place)
      const field = this.#world.ownFields.find((known) => known.fieldId === fieldId)
      if (!field) continue
      const value = readOwnValue(field, cells[column], {
        dayOf: (text) => readDay(text, this.#dayOrder),
        personOf: this.#world.personOf,
      })
      if (value === undefined) onWrong(`own.${field.fieldId}`, toText(cells[column]))
      else if (value !== null) values[field.fieldId] = value
    }
    return values
  }

  /** The addresses of a row's files, each once; what is none is said, and the first fifty are taken. */
  #addresses(cells: Readonly<Record<string, unknown>>, onWrong: (text: string) => void): string[] {
    const given = Object.entries(this.#mapping)
      .flatMap(([column, field]) => (field === 'attachments' ? listIn(cells[column]) : []))
      .flatMap((one) => toText(one).split(/[\s,;|]+/))
      .filter(Boolean)
    const isAddress = (text: string) => /^https?:\/\/[^\s/]+/i.test(text) && text.length <= 2000
    for (const text of given) if (!isAddress(text)) onWrong(text)
    const addresses = [...new Set(given.filter(isAddress))]
    if (addresses.length > ATTACHMENTS_MAX) onWrong(`${addresses.length - ATTACHMENTS_MAX} more`)
    return addresses.slice(0, ATTACHMENTS_MAX)
  }

  /** The comments of a row: each cell one, or a list of texts or of objects with `text`, `by` and `at`. */
  #comments(cells: Readonly<Record<string, unknown>>, onCut: (text: string) => void): ImportedComment[] {
    const given = Object.entries(this.#mapping)
      .flatMap(([column, field]) => (field === 'comments' ? [listIn(cells[column])] : []))
      .flat()
    const comments = given.flatMap((one): ImportedComment[] => {
      const { text, by, at } =
        typeof one === 'object' && one !== null ? (one as Record<string, unknown>) : { text: one, by: null, at: null }
      const plain = this.#plain(toText(text))
      if (plain.length > COMMENT_MAX) onCut(plain)
      if (plain === '') return []
      return [
        {
          text: plain.slice(0, COMMENT_MAX),
          by: toText(by).slice(0, 200) || null,
          atMs: readTime(toText(at), this.#dayOrder, this.#world.nowMs),
        },
      ]
    })
    if (comments.length > COMMENTS_MAX) onCut(`${comments.length} comments`)
    return comments.slice(0, COMMENTS_MAX)
  }

  /** The words of the file that stand for something here, the most frequent first, at most 300. */
  valuesSeen(): ImportValue[] {
    return [...this.#seen.values()].sort((a, b) => a.field.localeCompare(b.field) || b.count - a.count || a.text.localeCompare(b.text))
  }

  /**
   * What a word becomes: what was said for it, else what is guessed. Who is to be invited or what is to be added is nothing yet, but no
   * problem.
   */
  #word(field: ValueField, text: string, guess: (text: string) => string | null, onUnknown: (text: string) => void): string | null {
    if (text === '') return null
    const cut = text.slice(0, VALUE_MAX)
    const said = this.#values[field]?.[cut]
    const becomes = said === undefined ? guess(text) : said || null
    const id = `${field}\n${cut}`
    const seen = this.#seen.get(id)
    if (seen) seen.count++
    else if (this.#seen.size < VALUES_SEEN_MAX)
      this.#seen.set(id, { field, text: cut, count: 1, becomes, isUnknown: becomes === null && said === undefined })
    if (becomes === null && said === undefined) onUnknown(text)
    return becomes === INVITE || becomes === ADD ? null : becomes
  }

  #read(cells: Readonly<Record<string, unknown>>, field: ImportField): string {
    const texts = Object.entries(this.#mapping)
      .filter(([, known]) => known === field)
      .map(([column]) => toText(cells[column]))
      .filter((text) => text !== '')
    return texts.join(field === 'description' ? '\n\n' : ', ')
  }

  #title(title: string, description: string, note: (code: ImportProblem['code'], field: ImportField, value: string) => void): string {
    const line = (this.#plain(title) || firstLine(this.#plain(description))).replace(/[\r\n\t]+/g, ' ').trim()
    if (line === '') note('no-title', 'title', '')
    if (line.length > TITLE_MAX) note('title-cut', 'title', line)
    return line.slice(0, TITLE_MAX)
  }

  /** The text, and below it what has no field of its own: the status that it had, and links to its files. */
  #description(
    read: (field: ImportField) => string,
    status: string,
    note: (code: ImportProblem['code'], field: ImportField, value: string) => void,
  ): string {
    const links = read('links')
      .split(/[\s,;|]+/)
      .filter((link) => /^https?:\/\//i.test(link))
    const text = [
      this.#plain(read('description')),
      status && `Imported with the status “${status.slice(0, 100)}”.`,
      links.length > 0 && links.map((link) => `- <${link}>`).join('\n'),
    ]
      .filter(Boolean)
      .join('\n\n')
    if (text.length > TEXT_MAX) note('text-cut', 'description', `${text.length} characters`)
    return text.slice(0, TEXT_MAX)
  }

  /** A cell that holds HTML as its text; one that only bears a tag here and there is left as it is. */
  #plain(text: string): string {
    if (this.#isMarkdown) return text
    return /<\/?(?:p|div|br|span|b|i|em|strong|a|ul|ol|li|table|pre|h\d)\b[^>]*>/i.test(text) ? this.#world.toText(text) : text
  }

  #value<Value>(text: string, readIt: (text: string) => Value | null, onWrong: () => void): Value | null {
    if (text === '') return null
    const value = readIt(text)
    if (value === null) onWrong()
    return value
  }
}
