import type { AttributeDefinition, Attributes } from './attributes.js'
import type { RequirementDraft } from './import-plan.js'

/** One row of a file: its cells by column, and its row as a spreadsheet counts, the headings being the first. */
export interface ImportRow {
  line: number
  cells: Readonly<Record<string, string>>
}
/** Which column says what; null for none. */
export interface RequirementColumns {
  key: string | null
  title: string | null
  text: string | null
  parent: string | null
  heading: string | null
}

/** What columns are called, by what they mean; the first that fits is taken. */
const NAMES: Record<keyof RequirementColumns, RegExp> = {
  key: /^(?:key|id|identifier|number|no\.?|req(?:uirement)?[ _-]?id)$/i,
  title: /^(?:title|name|summary|heading|short[ _-]?(?:text|title))$/i,
  text: /^(?:text|description|requirement|statement|content|body)$/i,
  parent: /^(?:parent|parent[ _-]?(?:id|key)|section|below|belongs to)$/i,
  heading: /^(?:is[ _-]?heading|type)$/i,
}
const IS_HEADING = /^(?:heading|section|chapter|folder|yes|true|1|x)$/i

/**
 * The columns of a file: those that somebody named, else those whose names say it; null where none is called so. A column called kind says
 * what is a heading only if one of its cells does: else it is the kind of a requirement.
 */
export function guessColumns(
  headings: readonly string[],
  rows: readonly ImportRow[] = [],
  said: Partial<RequirementColumns> = {},
): RequirementColumns {
  const find = (name: keyof RequirementColumns) =>
    said[name] !== undefined ? said[name] : (headings.find((heading) => NAMES[name].test(heading.trim())) ?? null)
  const kind = headings.find((heading) => /^kind$/i.test(heading.trim()))
  const tellsHeadings =
    kind !== undefined && rows.some(({ cells }) => /^(?:heading|section|chapter|folder)$/i.test((cells[kind] ?? '').trim()))
  return {
    key: find('key'),
    title: find('title'),
    text: find('text'),
    parent: find('parent'),
    heading: find('heading') ?? (tellsHeadings && said.heading === undefined ? kind : null),
  }
}

/**
 * The requirements of a table. A column that means nothing else is the attribute of its name; one that the project does not have yet is
 * a line of words, and is told among `definitions`.
 */
export function readTable(input: {
  headings: readonly string[]
  rows: readonly ImportRow[]
  columns: RequirementColumns
  known: readonly AttributeDefinition[]
}): { drafts: RequirementDraft[]; definitions: AttributeDefinition[] } {
  const { columns, known } = input
  const taken = new Set(Object.values(columns))
  const further = input.headings.map((heading) => heading.trim()).filter((heading) => heading !== '' && !taken.has(heading))
  const definitionOf = (name: string) => known.find((one) => one.name.toLowerCase() === name.toLowerCase())
  const byColumn = new Map(
    further.map((name) => [name, definitionOf(name) ?? { name: name.slice(0, 100), kind: 'line' as const, choices: [], isMany: false }]),
  )
  const drafts = input.rows.map(({ line, cells }): RequirementDraft => {
    const cell = (name: keyof RequirementColumns) => (columns[name] === null ? '' : (cells[columns[name]] ?? '').trim())
    const attributes: Attributes = {}
    for (const [column, { name, isMany }] of byColumn) {
      const value = (cells[column] ?? '').trim()
      attributes[name] = isMany
        ? value
            .split(';')
            .map((word) => word.trim())
            .filter((word) => word !== '')
        : value
    }
    return {
      line,
      id: cell('key'),
      ownKey: '',
      title: cell('title'),
      text: cell('text'),
      parent: columns.parent === null ? undefined : cell('parent') || null,
      isHeading: IS_HEADING.test(cell('heading')),
      attributes,
    }
  })
  return { drafts, definitions: [...byColumn.values()].filter((one) => !definitionOf(one.name)) }
}
