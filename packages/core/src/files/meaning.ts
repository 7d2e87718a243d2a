import { diffArrays } from 'diff'

/** A change of what a file means: where, and what stood and stands there; null where nothing did or does. */
export interface MeaningChange {
  at: string
  before: string | null
  after: string | null
}

/** A file that cannot be compared by what it means; the message says why. */
export class NoMeaning extends Error {}

/** Values nest so deep at most, and of lists that are unlike each other so many edits are looked for. */
const DEPTH_MAX = 200
const EDITS_MAX = 300
const SHOWN_MAX = 300
/** Members that name an element of a list, the first that all elements have. */
const NAMING = ['id', 'key', 'name'] as const

type Json = null | boolean | number | string | Json[] | { [member: string]: Json }

/**
 * What differs between two JSON texts, whatever their spacing and the order of members. Elements of a list are matched by the member that
 * names them (`id`, `key`, `name`) where all have one and no two the same; else by the shortest edit (Myers 1986, by the package diff), and
 * what was replaced is looked into. Nothing differs exactly where both mean the same. Cost: O(n · depth) beside the edits, which are
 * bounded. Throws NoMeaning for what is no JSON, nests too deep, or holds numbers too long to be told apart.
 */
export function changesOfJson(before: string, after: string): MeaningChange[] {
  const changes: MeaningChange[] = []
  compare(parsed(before, 'before'), parsed(after, 'after'), '', changes)
  return changes
}

function parsed(text: string, which: string): Json {
  const outside = text.replaceAll(/"(?:[^"\\]|\\.)*"/g, '""')
  if (/\d{16}/.test(outside.replaceAll('.', ''))) throw new NoMeaning('It holds numbers that are too long to be told apart')
  try {
    return JSON.parse(text) as Json
  } catch (error) {
    throw new NoMeaning(`It was no JSON ${which} the change: ${error instanceof Error ? error.message.slice(0, 120) : String(error)}`)
  }
}

function compare(before: Json | undefined, after: Json | undefined, at: string, changes: MeaningChange[]): void {
  if (before === undefined || after === undefined || canonical(before) !== canonical(after)) {
    if (Array.isArray(before) && Array.isArray(after)) compareLists(before, after, at, changes)
    else if (isObject(before) && isObject(after)) {
      for (const member of new Set([...Object.keys(after), ...Object.keys(before)]))
        compare(ownOf(before, member), ownOf(after, member), at === '' ? shownMember(member) : `${at}.${shownMember(member)}`, changes)
    } else changes.push({ at: at === '' ? 'all of it' : at, before: shown(before), after: shown(after) })
  }
}

function compareLists(before: Json[], after: Json[], at: string, changes: MeaningChange[]): void {
  const naming = NAMING.find((member) => areNamedBy(before, member) && areNamedBy(after, member))
  if (naming === undefined) {
    compareByEdits(before, after, at, changes)
    return
  }
  const nameOf = (element: Json) => String((element as Record<string, Json>)[naming])
  const [old, now] = [new Map(before.map((each) => [nameOf(each), each])), new Map(after.map((each) => [nameOf(each), each]))]
  for (const name of new Set([...now.keys(), ...old.keys()])) compare(old.get(name), now.get(name), `${at}[${naming} ${name}]`, changes)
  changes.push(...orderChange(at === '' ? 'all of it' : at, [...old.keys()], [...now.keys()]))
}

function areNamedBy(list: readonly Json[], member: string): boolean {
  const names = list.map((element) => (isObject(element) ? ownOf(element, member) : undefined))
  return names.every((name) => typeof name === 'string' || typeof name === 'number') && new Set(names.map(String)).size === names.length
}

/** That what stayed stands in another order. */
function orderChange(at: string, before: readonly string[], after: readonly string[]): MeaningChange[] {
  const [old, now] = [new Set(before), new Set(after)]
  const [was, is] = [before.filter((name) => now.has(name)), after.filter((name) => old.has(name))]
  if (was.every((name, index) => name === is[index])) return []
  return [{ at: `${at}, order`, before: cut(was.join(', ')), after: cut(is.join(', ')) }]
}

function compareByEdits(before: Json[], after: Json[], at: string, changes: MeaningChange[]): void {
  for (const { index, old, now } of pairs(texts(before), texts(after)))
    compare(old === null ? undefined : before[old], now === null ? undefined : after[now], `${at}[${index}]`, changes)
}

/** What the shortest edit takes out and puts in, a replaced run one by one: by place before and after, and the place to name. */
function pairs(before: readonly string[], after: readonly string[]): { index: number; old: number | null; now: number | null }[] {
  const parts = diffArrays([...before], [...after], { maxEditLength: EDITS_MAX }) ?? [
    { removed: true, added: false, count: before.length },
    { removed: false, added: true, count: after.length },
  ]
  const found: { index: number; old: number | null; now: number | null }[] = []
  let [old, now, gone] = [0, 0, 0]
  const settle = () => {
    for (; gone > 0; gone--) found.push({ index: old - gone, old: old - gone, now: null })
  }
  for (const { removed, added, count } of parts) {
    if (removed) {
      settle()
      old += count
      gone = count
    } else if (added)
      for (let put = 0; put < count; put++, now++) {
        found.push({ index: now, old: gone > 0 ? old - gone : null, now })
        if (gone > 0) gone--
      }
    else {
      settle()
      old += count
      now += count
    }
  }
  settle()
  return found
}

function texts(values: readonly Json[]): string[] {
  return values.map((value) => canonical(value))
}

function isObject(value: Json | undefined): value is { [member: string]: Json } {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

function ownOf(value: { [member: string]: Json }, member: string): Json | undefined {
  return Object.hasOwn(value, member) ? value[member] : undefined
}

/** The same text for the same meaning: members in a fixed order, no spacing. */
function canonical(value: Json, depth = 0): string {
  if (depth > DEPTH_MAX) throw new NoMeaning(`It nests deeper than ${DEPTH_MAX} levels`)
  if (Array.isArray(value)) return `[${value.map((each) => canonical(each, depth + 1)).join(',')}]`
  if (!isObject(value)) return JSON.stringify(value)
  const members = Object.keys(value).sort()
  return `{${members.map((member) => `${JSON.stringify(member)}:${canonical(value[member] as Json, depth + 1)}`).join(',')}}`
}

function shownMember(member: string): string {
  return /^[\w$-]+$/.test(member) ? member : JSON.stringify(member)
}

function shown(value: Json | undefined): string | null {
  return value === undefined ? null : cut(canonical(value))
}

function cut(text: string): string {
  return text.length <= SHOWN_MAX ? text : `${text.slice(0, SHOWN_MAX - 1)}…`
}

/**
 * What differs between two tables whose first rows name their columns: columns that came and went, rows that did, and cells. Columns are
 * matched by name. Rows are matched by the first column whose cells tell all rows of both apart, else by the shortest edit, as in
 * `changesOfJson`. Throws NoMeaning where a name stands over two columns.
 */
export function changesOfTable(before: readonly string[][], after: readonly string[][]): MeaningChange[] {
  const [old, now] = [tableOf(before), tableOf(after)]
  const changes: MeaningChange[] = [
    ...now.columns.filter((name) => !old.columns.includes(name)).map((name) => ({ at: 'columns', before: null, after: name })),
    ...old.columns.filter((name) => !now.columns.includes(name)).map((name) => ({ at: 'columns', before: name, after: null })),
    ...orderChange('columns', old.columns, now.columns),
  ]
  const common = now.columns.filter((name) => old.columns.includes(name))
  const cells = ({ columns }: Table, row: readonly string[]) => common.map((name) => row[columns.indexOf(name)] ?? '')
  const [oldRows, nowRows] = [old.rows.map((row) => cells(old, row)), now.rows.map((row) => cells(now, row))]
  const key = common.findIndex((_, at) => tellsApart(oldRows, at) && tellsApart(nowRows, at))
  const change = (name: string, was: readonly string[] | undefined, is: readonly string[] | undefined) => {
    if (was === undefined || is === undefined)
      changes.push({ at: `row ${name}`, before: was ? cut(was.join(' | ')) : null, after: is ? cut(is.join(' | ')) : null })
    else
      for (const [at, column] of common.entries())
        if (was[at] !== is[at]) changes.push({ at: `row ${name}, ${column}`, before: cut(was[at] ?? ''), after: cut(is[at] ?? '') })
  }
  if (key < 0) {
    for (const { index, old: was, now: is } of pairs(oldRows.map(textOfRow), nowRows.map(textOfRow)))
      change(String(index + 1), was === null ? undefined : oldRows[was], is === null ? undefined : nowRows[is])
    return changes
  }
  const [oldBy, nowBy] = [new Map(oldRows.map((row) => [row[key] ?? '', row])), new Map(nowRows.map((row) => [row[key] ?? '', row]))]
  for (const name of new Set([...nowBy.keys(), ...oldBy.keys()])) change(name, oldBy.get(name), nowBy.get(name))
  changes.push(...orderChange('rows', [...oldBy.keys()], [...nowBy.keys()]))
  return changes
}

interface Table {
  columns: string[]
  rows: readonly string[][]
}

function tableOf([head = [], ...rows]: readonly string[][]): Table {
  if (new Set(head).size !== head.length) throw new NoMeaning('Two of its columns have the same name')
  return { columns: [...head], rows }
}

function tellsApart(rows: readonly string[][], at: number): boolean {
  return rows.every((row) => row[at] !== '') && new Set(rows.map((row) => row[at])).size === rows.length
}

const textOfRow = (row: readonly string[]) => JSON.stringify(row)
