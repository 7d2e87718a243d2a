import { groupBy } from '#basics/group-by'
import { isSameValue, misfit, type AttributeDefinition, type Attributes, type AttributeValue } from './attributes.js'
import { longestRising } from './longest-rising.js'
import { plainText } from './plain-text.js'

/** A requirement as it stands, as far as an import looks at it. */
export interface StandingRequirement {
  key: string
  title: string
  text: string
  parent: string | null
  isHeading: boolean
  attributes: Attributes
  /** The identifier of the object of an exchange file that it came from; null for one that was begun here. */
  object: string | null
}
/** What is wrong at a place of the file; the row is left out. */
export interface ImportProblem {
  line: number
  column: string | null
  words: string
}
/** A requirement as a file has it. */
export interface RequirementDraft {
  /** Where it stands, counted from 1. */
  line: number
  /** How the file names it; empty where it does not. */
  id: string
  /** A key that the file gives beside its own name; empty for none. */
  ownKey: string
  title: string
  text: string
  /** The id or key that it stands below; null for the first level, undefined where the file does not say. */
  parent: string | null | undefined
  isHeading: boolean
  /** Those that the file names. */
  attributes: Attributes
}
/** A row that makes or changes a requirement. */
export interface PlannedRequirement {
  key: string
  title: string
  text: string
  parent: string | null
  line: number
  isHeading: boolean
  attributes: Attributes
}
/** What an import would do; nothing is done by planning it. */
export interface RequirementPlan {
  /** In the order of the file, parents before what stands below them. */
  new: PlannedRequirement[]
  /** With what differs: title, text, or names of attributes. */
  changed: (PlannedRequirement & { what: string[] })[]
  moved: { key: string; from: string | null; to: string | null }[]
  /** Of those that the file could name, and does not; they stay. */
  gone: { key: string; title: string; text: string; parent: string | null }[]
  same: number
  problems: ImportProblem[]
}
/** A plan with what carrying it out needs beside it. */
export interface CarriedPlan {
  plan: RequirementPlan
  /** The key of each draft that is taken, by its id. */
  keyById: Map<string, string>
  /** Prefixes that nobody has yet, and that keys of the file bring along. */
  prefixes: string[]
  /** For each parent whose children stand otherwise than they would by themselves: all of them in their order. */
  orders: { parent: string | null; order: string[] }[]
}
/** What a plan is made of. */
export interface PlanInput {
  drafts: readonly RequirementDraft[]
  standing: readonly StandingRequirement[]
  definitions: readonly AttributeDefinition[]
  /** Of the keys that new requirements get. */
  prefix: string
  /** The next free number of a prefix. */
  nextNumberOf: (prefix: string) => number
  /** Whether keys of a prefix may be taken over from the file: `own`, `free`, or another's. */
  ownerOf: (prefix: string) => 'own' | 'free' | 'other'
  /** Whether only the chosen prefix is taken over; else every own or free one. */
  isPrefixChosen: boolean
  /** Whether the order of the file is the order of the document; a table may be sorted otherwise. */
  hasOrder: boolean
  /** Whether two texts say the same, written otherwise; left out, only the very same does. */
  isSameText?: (one: string, other: string) => boolean
  /** Which of the standing ones the file could name. */
  couldName: (standing: StandingRequirement, prefixesOfFile: ReadonlySet<string>) => boolean
  /** Which column says what, for the words of a problem. */
  columnOf?: ((field: 'key' | 'title' | 'text' | 'parent') => string | null) | undefined
}

const TITLE_MAX = 200
const TEXT_MAX = 20_000
const KEY = /^([A-Z][A-Z0-9]{0,9})-[1-9]\d{0,8}$/i

/**
 * What a file of requirements would do to those that stand. A row is a requirement that stands if it came
 * from the same object, or its id is that one's key; a key of a prefix that may be taken over stays; any
 * other row gets the next number. Parents may be named by id or key. Rows with a problem are left out, and
 * so is what stands below them; attributes that do not fit are told and left as they are. Order among
 * siblings moves as few as possible (longest rising sequence). Cost: O(n log n) of rows and standing.
 */
export function planRequirements(input: PlanInput): CarriedPlan {
  const { drafts, standing, definitions } = input
  const plan: RequirementPlan = { new: [], changed: [], moved: [], gone: [], same: 0, problems: [] }
  const columnOf = input.columnOf ?? (() => null)
  const standingByKey = new Map(standing.map((requirement) => [requirement.key, requirement]))
  const problem = (line: number, column: string | null, words: string) => void plan.problems.push({ line, column, words })
  const keys = giveKeys(input, standingByKey, (line, words) => problem(line, columnOf('key'), words))
  const planned = new Map<string, PlannedRequirement>()
  for (const draft of drafts) {
    const key = keys.byLine.get(draft)
    if (key === undefined) continue
    const text = draft.text
    const title = draft.title || titleFrom(text)
    if (title === '') problem(draft.line, columnOf('title') ?? columnOf('text'), 'It has neither title nor text')
    else if (title.length > TITLE_MAX)
      problem(draft.line, columnOf('title'), `A title has at most ${TITLE_MAX} characters; this one has ${title.length}`)
    else if (text.length > TEXT_MAX)
      problem(draft.line, columnOf('text'), `A text has at most ${TEXT_MAX} characters; this one has ${text.length}`)
    else {
      const parent =
        draft.parent === undefined
          ? (standingByKey.get(key)?.parent ?? null)
          : draft.parent === null
            ? null
            : (keys.byId.get(draft.parent) ?? draft.parent.toUpperCase())
      const attributes = fitting(draft, definitions, (column, words) => problem(draft.line, column, words))
      planned.set(key, { key, title, text, parent, line: draft.line, isHeading: draft.isHeading, attributes })
    }
  }
  dropBroken(planned, standingByKey, (line, words) => problem(line, columnOf('parent'), words))
  const inOrder = parentsFirst(planned)
  for (const one of inOrder) sortIn(plan, one, standingByKey.get(one.key), input.isSameText ?? Object.is)
  plan.gone = standing
    .filter((one) => !keys.taken.has(one.key) && input.couldName(one, keys.prefixes))
    .map(({ key, title, text, parent }) => ({ key, title, text, parent }))
  const orders = input.hasOrder ? reorder(plan, inOrder, standing) : []
  plan.problems.sort((a, b) => a.line - b.line)
  const keyById = new Map([...keys.byId].filter(([, key]) => planned.has(key)))
  const taken = [...keys.prefixes].filter(
    (prefix) => input.ownerOf(prefix) === 'free' && inOrder.some(({ key }) => prefixOf(key) === prefix),
  )
  return { plan, keyById, prefixes: taken, orders }
}

/** The first sentence of a text, without its markup: what a requirement without a title is called. */
export function titleFrom(text: string): string {
  const [sentence = ''] = plainText(text)
    .replace(/^[>\s-]+/, '')
    .split(/(?<=[.;])\s|\n/)
  // A text of marks alone, such as a dash, is its own title.
  return (sentence.trim() || text.trim()).slice(0, TITLE_MAX)
}

function prefixOf(key: string): string {
  return key.slice(0, key.lastIndexOf('-'))
}

function fitting(
  draft: RequirementDraft,
  definitions: readonly AttributeDefinition[],
  problem: (column: string, words: string) => void,
): Attributes {
  const byName = new Map(definitions.map((one) => [one.name, one]))
  return Object.fromEntries(
    Object.entries(draft.attributes).filter(([name, value]) => {
      const definition = byName.get(name)
      const wrong = definition ? misfit(definition, value) : `${name} is no attribute of this project`
      if (wrong !== null) problem(name, wrong)
      return wrong === null
    }),
  )
}

function giveKeys(
  input: PlanInput,
  standingByKey: ReadonlyMap<string, StandingRequirement>,
  problem: (line: number, words: string) => void,
): { byLine: Map<RequirementDraft, string>; byId: Map<string, string>; taken: Set<string>; prefixes: Set<string> } {
  const { drafts } = input
  const byLine = new Map<RequirementDraft, string>()
  const byId = new Map<string, string>()
  const taken = new Set<string>()
  const prefixes = new Set<string>(input.isPrefixChosen ? [input.prefix] : [])
  const keyOfObject = new Map(input.standing.flatMap(({ key, object }) => (object === null ? [] : [[object, key] as const])))
  const give = (draft: RequirementDraft, key: string) => {
    byLine.set(draft, key)
    if (draft.id !== '') byId.set(draft.id, key)
    taken.add(key)
    prefixes.add(prefixOf(key))
  }
  const mayTake = (prefix: string) =>
    prefix === input.prefix || input.ownerOf(prefix) === 'own' || (!input.isPrefixChosen && input.ownerOf(prefix) === 'free')
  const left: RequirementDraft[] = []
  const seen = new Set<string>()
  for (const draft of drafts) {
    if (draft.id !== '' && seen.has(draft.id)) {
      problem(draft.line, `The id ${draft.id} stands in the file twice`)
      continue
    }
    seen.add(draft.id)
    const known = keyOfObject.get(draft.id)
    const named = [draft.ownKey, draft.id].find((id) => KEY.test(id) && mayTake(prefixOf(id.toUpperCase())))?.toUpperCase()
    const key = known ?? named
    if (key === undefined) left.push(draft)
    else if (taken.has(key)) problem(draft.line, `The id ${key} stands in the file twice`)
    else give(draft, key)
  }
  let number = input.nextNumberOf(input.prefix)
  for (const draft of left) {
    while (taken.has(`${input.prefix}-${number}`) || standingByKey.has(`${input.prefix}-${number}`)) number++
    give(draft, `${input.prefix}-${number}`)
  }
  return { byLine, byId, taken, prefixes }
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

function sortIn(
  plan: RequirementPlan,
  one: PlannedRequirement,
  now: StandingRequirement | undefined,
  isSameText: (one: string, other: string) => boolean,
): void {
  if (!now) {
    plan.new.push(one)
    return
  }
  const isSame = (value: AttributeValue, before: AttributeValue | undefined) =>
    isSameValue(value, before) || (typeof value === 'string' && typeof before === 'string' && isSameText(value, before))
  const what = [
    ...(one.title === now.title ? [] : ['title']),
    ...(isSame(one.text, now.text) ? [] : ['text']),
    ...(one.isHeading === now.isHeading ? [] : ['heading']),
    ...Object.entries(one.attributes).flatMap(([name, value]) => (isSame(value, now.attributes[name]) ? [] : [name])),
  ]
  const isMoved = one.parent !== now.parent
  if (what.length > 0) plan.changed.push({ ...one, what })
  if (isMoved) plan.moved.push({ key: one.key, from: now.parent, to: one.parent })
  if (what.length === 0 && !isMoved) plan.same++
}

/**
 * The order of the file among siblings. Those that are not in the file keep to the sibling before them. What has to move within its
 * parent is told as moved; whoever is new or comes from elsewhere is told already.
 */
function reorder(
  plan: RequirementPlan,
  inFile: readonly PlannedRequirement[],
  standing: readonly StandingRequirement[],
): CarriedPlan['orders'] {
  const planned = new Map(inFile.map((one) => [one.key, one]))
  const now = groupBy(standing, ({ parent }) => parent)
  const orders: CarriedPlan['orders'] = []
  for (const [parent, wanted] of groupBy(inFile, (one) => one.parent)) {
    const before = (now.get(parent) ?? []).map(({ key }) => key)
    const stay = before.filter((key) => planned.get(key)?.parent === parent || !planned.has(key))
    const order = wanted.map(({ key }) => key)
    for (const [at, key] of stay.entries())
      if (!planned.has(key)) order.splice(at === 0 ? 0 : order.indexOf(stay[at - 1] as string) + 1, 0, key)
    const staying = new Set(stay)
    const come = order.filter((key) => !staying.has(key))
    if (order.join() !== [...stay, ...come].join()) orders.push({ parent, order })
    const placeOf = new Map(stay.map((key, at) => [key, at]))
    const held = wanted.filter(({ key }) => placeOf.has(key))
    const rising = new Set(longestRising(held.map(({ key }) => placeOf.get(key) as number)).map((at) => held[at]?.key))
    const moved = held.filter(({ key }) => !rising.has(key))
    for (const { key } of moved) plan.moved.push({ key, from: parent, to: parent })
    const changed = new Set(plan.changed.map(({ key }) => key))
    plan.same -= moved.filter(({ key }) => !changed.has(key)).length
  }
  return orders
}
