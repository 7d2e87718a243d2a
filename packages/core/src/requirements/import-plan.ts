/** A requirement as it stands, as far as an import looks at it. */
export interface StandingRequirement {
  key: string
  title: string
  text: string
  parent: string | null
}
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
/** What is wrong at a place of the file; the row is left out. */
export interface ImportProblem {
  line: number
  column: string | null
  words: string
}
/** A row that makes or changes a requirement. */
export interface PlannedRequirement extends StandingRequirement {
  line: number
  isHeading: boolean
}
/** What an import would do; nothing is done by planning it. */
export interface RequirementPlan {
  columns: RequirementColumns
  /** In the order of the file, parents before what stands below them. */
  fresh: PlannedRequirement[]
  changed: (PlannedRequirement & { what: ('title' | 'text')[] })[]
  moved: { key: string; from: string | null; to: string | null }[]
  /** Of the same prefix, and not in the file; they stay. */
  gone: StandingRequirement[]
  same: number
  problems: ImportProblem[]
}

const TITLE_MAX = 200
const TEXT_MAX = 20_000
/** What columns are called, by what they mean; the first that fits is taken. */
const NAMES: Record<keyof RequirementColumns, RegExp> = {
  key: /^(?:key|id|identifier|number|no\.?|req(?:uirement)?[ _-]?id)$/i,
  title: /^(?:title|name|summary|heading|short[ _-]?(?:text|title))$/i,
  text: /^(?:text|description|requirement|statement|content|body)$/i,
  parent: /^(?:parent|parent[ _-]?(?:id|key)|section|below|belongs to)$/i,
  heading: /^(?:is[ _-]?heading|type|kind)$/i,
}
const IS_HEADING = /^(?:heading|section|chapter|folder|yes|true|1|x)$/i

/** The columns of a file by their names; null where none is called so. */
export function guessColumns(headings: readonly string[]): RequirementColumns {
  const find = (name: keyof RequirementColumns) => headings.find((heading) => NAMES[name].test(heading.trim())) ?? null
  return { key: find('key'), title: find('title'), text: find('text'), parent: find('parent'), heading: find('heading') }
}

/**
 * What a file of requirements would do to those that stand. A row whose id is a key of the prefix is that requirement; any other id is the
 * file's own, and the row gets the next number. Parents may be named by either. Rows with a problem are left out, and so is what
 * stands below them. Cost: O(rows + standing).
 */
export function planRequirements(input: {
  headings: readonly string[]
  rows: readonly ImportRow[]
  standing: readonly StandingRequirement[]
  prefix: string
  nextNumber: number
}): RequirementPlan {
  const { rows, standing, prefix } = input
  const columns = guessColumns(input.headings)
  const plan: RequirementPlan = { columns, fresh: [], changed: [], moved: [], gone: [], same: 0, problems: [] }
  if (columns.title === null && columns.text === null)
    return { ...plan, problems: [{ line: 1, column: null, words: 'No column is called title or text; name one so' }] }
  const standingByKey = new Map(standing.map((requirement) => [requirement.key, requirement]))
  const problem = (line: number, column: string | null, words: string) => void plan.problems.push({ line, column, words })
  const cell = (row: ImportRow, name: keyof RequirementColumns) => (columns[name] === null ? '' : (row.cells[columns[name]] ?? '').trim())

  const keys = giveKeys({
    rows,
    prefix,
    nextNumber: input.nextNumber,
    idOf: (row) => cell(row, 'key'),
    standingByKey,
    problem,
    column: columns.key,
  })
  const planned = new Map<string, PlannedRequirement>()
  for (const row of rows) {
    const key = keys.byLine.get(row.line)
    if (key === undefined) continue
    const text = cell(row, 'text')
    const title = cell(row, 'title') || (text.split(/(?<=[.;])\s|\n/)[0] ?? '').slice(0, TITLE_MAX)
    if (title === '') problem(row.line, columns.title ?? columns.text, 'It has neither title nor text')
    else if (title.length > TITLE_MAX)
      problem(row.line, columns.title, `A title has at most ${TITLE_MAX} characters; this one has ${title.length}`)
    else if (text.length > TEXT_MAX)
      problem(row.line, columns.text, `A text has at most ${TEXT_MAX} characters; this one has ${text.length}`)
    else {
      const named = cell(row, 'parent')
      const parent =
        named === ''
          ? columns.parent === null
            ? (standingByKey.get(key)?.parent ?? null)
            : null
          : (keys.byId.get(named) ?? named.toUpperCase())
      planned.set(key, { key, title, text, parent, line: row.line, isHeading: IS_HEADING.test(cell(row, 'heading')) })
    }
  }
  dropBroken(planned, standingByKey, (line, words) => problem(line, columns.parent, words))
  for (const one of parentsFirst(planned)) sortIn(plan, one, standingByKey.get(one.key))
  plan.gone = standing.filter(({ key }) => key.startsWith(`${prefix}-`) && !keys.taken.has(key))
  plan.problems.sort((a, b) => a.line - b.line)
  return plan
}

function giveKeys(input: {
  rows: readonly ImportRow[]
  prefix: string
  nextNumber: number
  idOf: (row: ImportRow) => string
  standingByKey: ReadonlyMap<string, StandingRequirement>
  problem: (line: number, column: string | null, words: string) => void
  column: string | null
}): { byLine: Map<number, string>; byId: Map<string, string>; taken: Set<string> } {
  const byLine = new Map<number, string>()
  const byId = new Map<string, string>()
  const own = new RegExp(`^${input.prefix}-[1-9]\\d{0,8}$`, 'i')
  const taken = new Set<string>()
  for (const row of input.rows) {
    const id = input.idOf(row)
    if (id !== '' && byId.has(id)) input.problem(row.line, input.column, `The id ${id} stands in the file twice`)
    else if (own.test(id)) {
      byId.set(id, id.toUpperCase())
      byLine.set(row.line, id.toUpperCase())
      taken.add(id.toUpperCase())
    } else if (id !== '') byId.set(id, '')
  }
  let number = input.nextNumber
  const next = () => {
    while (taken.has(`${input.prefix}-${number}`) || input.standingByKey.has(`${input.prefix}-${number}`)) number++
    const key = `${input.prefix}-${number}`
    taken.add(key)
    return key
  }
  for (const row of input.rows) {
    const id = input.idOf(row)
    if (byLine.has(row.line) || (id !== '' && byId.get(id) !== '')) continue
    const key = next()
    byLine.set(row.line, key)
    if (id !== '') byId.set(id, key)
  }
  return { byLine, byId, taken }
}

/**
 * Leaves out what stands below nothing that is there, or below itself, and what stands below those. A row that is left out leaves what
 * stands now as it is, so it is looked once more until nothing changes; parents come first, so that one look takes all below along.
 * Cost of a look: O(rows), since a walk upwards ends where it was found sound.
 */
function dropBroken(
  planned: Map<string, PlannedRequirement>,
  standingByKey: ReadonlyMap<string, StandingRequirement>,
  problem: (line: number, words: string) => void,
): void {
  const parentOf = (key: string) => planned.get(key)?.parent ?? standingByKey.get(key)?.parent ?? null
  for (let isChanging = true; isChanging; ) {
    isChanging = false
    const sound = new Set<string>()
    for (const { key, parent, line } of parentsFirst(planned)) {
      const isThere = parent === null || planned.has(parent) || standingByKey.has(parent)
      const above = new Set<string>()
      let up = isThere ? parent : null
      while (up !== null && up !== key && !above.has(up) && !sound.has(up)) {
        above.add(up)
        up = parentOf(up)
      }
      if (isThere && up !== key) {
        sound.add(key)
        continue
      }
      problem(line, isThere ? `It stands below itself, by ${[...above, key].join(', ')}` : `It stands below ${parent}, which is not there`)
      planned.delete(key)
      isChanging = true
    }
  }
}

function parentsFirst(planned: ReadonlyMap<string, PlannedRequirement>): PlannedRequirement[] {
  const order: PlannedRequirement[] = []
  const seen = new Set<string>()
  const visit = (one: PlannedRequirement) => {
    if (seen.has(one.key)) return
    seen.add(one.key)
    const parent = one.parent === null ? undefined : planned.get(one.parent)
    if (parent) visit(parent)
    order.push(one)
  }
  for (const one of planned.values()) visit(one)
  return order
}

function sortIn(plan: RequirementPlan, one: PlannedRequirement, now: StandingRequirement | undefined): void {
  if (!now) {
    plan.fresh.push(one)
    return
  }
  const what = (['title', 'text'] as const).filter((field) => one[field] !== now[field])
  const isMoved = one.parent !== now.parent
  if (what.length > 0) plan.changed.push({ ...one, what })
  if (isMoved) plan.moved.push({ key: one.key, from: now.parent, to: one.parent })
  if (what.length === 0 && !isMoved) plan.same++
}
