import { type FaultFacts, type FaultFilter, type FaultFlag, type FaultTraits, isUnchanging, meetsFaultFilter } from './fault-filter.js'
import { isConcerned, type ReadRule } from './intake-rule.js'
import { isIndexed, RuleIndex } from './rule-index.js'
import { spikeAt } from './spike.js'

const MINUTE_MS = 60_000
const HOUR_MS = 60 * MINUTE_MS
const DAY_MS = 24 * HOUR_MS
/** A fault is new for so long after it was first seen. */
export const NEW_FOR_MS = DAY_MS
/** What was not seen for so long, and is seen again, has returned. */
export const RETURNS_AFTER_MS = 7 * DAY_MS

/** All that rules look at of one fault, from counters and first-seen facts. Lists are in order of time. */
export interface FaultHistory extends FaultTraits {
  number: number
  /** Where in the code it fails, the same for all that fails there; null where that is not known. */
  place: string | null
  firstAtMs: number
  /** When it was last seen before the first minute that is given; null where that is the first. */
  lastBeforeMs: number | null
  environments: readonly { name: string; kind: string; minutes: readonly (readonly [minute: number, count: number])[] }[]
  releases: readonly { release: string; environment: string; firstAtMs: number }[]
  /** The minute in which each person was first hit. */
  peopleMinutes: readonly number[]
  /** From when to when an open item stood for it; null: it still stands. */
  stands: readonly { key: string; fromMs: number; untilMs: number | null }[]
}

/** The moment at which a rule first holds. */
export interface Moment {
  atMs: number
  environment: string
  /** Occurrences within the window, and people hit by then. */
  count: number
  people: number
  /** The newest release seen by then; null where none is told. */
  release: string | null
}

/**
 * When a rule first holds for a fault within a span, or null. Occurrences are counted by whole minutes (they
 * are what is kept for long), so that a window is up to one minute longer than what the rule asks. One pass
 * over the minutes of each environment, with the window as a moving sum: O(minutes), and for
 * `spike` the look at the past at those minutes alone at which all else holds.
 */
export function firstMoment(rule: ReadRule, history: FaultHistory, span: { fromMs: number; toMs: number }): Moment | null {
  return firstMomentIn(read(rule), history, placesOf(history), span)
}

/** A rule with what of its condition never changes: that is asked once for a fault, the whole only where more is asked. */
interface SplitRule {
  rule: ReadRule
  unchanging: readonly FaultFilter[]
  isStatic: boolean
}

function read(rule: ReadRule): SplitRule {
  const parts = rule.filter.kind === 'and' ? rule.filter.parts : [rule.filter]
  return { rule, unchanging: parts.filter(isUnchanging), isStatic: isUnchanging(rule.filter) }
}

type Place = { environment: FaultHistory['environments'][number]; facts: FactsOverTime }

function placesOf(history: FaultHistory): Place[] {
  return history.environments.map((environment) => ({ environment, facts: new FactsOverTime(history, environment) }))
}

function firstMomentIn(
  { rule, unchanging, isStatic }: SplitRule,
  history: FaultHistory,
  places: readonly Place[],
  span: { fromMs: number; toMs: number },
): Moment | null {
  let first: Moment | null = null
  for (const { environment, facts } of places) {
    if (!isConcerned(rule, { environmentKind: environment.kind, severityNumber: history.severityNumber })) continue
    // Most rules end here, before any minute is looked at.
    if (!unchanging.every((part) => meetsFaultFilter(part, facts))) continue
    const found = momentIn(rule, history, { environment, facts, isStatic }, span)
    if (found && (first === null || found.atMs < first.atMs)) first = found
  }
  return first
}

function momentIn(
  rule: ReadRule,
  history: FaultHistory,
  { environment, facts, isStatic }: { environment: FaultHistory['environments'][number]; facts: FactsOverTime; isStatic: boolean },
  { fromMs, toMs }: { fromMs: number; toMs: number },
): Moment | null {
  const windowMinutes = Math.ceil(rule.windowMs / MINUTE_MS)
  const { minutes } = environment
  const [fromMinute, toMinute] = [Math.floor(fromMs / MINUTE_MS), Math.floor(toMs / MINUTE_MS)]
  let count = 0
  let oldest = 0
  let people = 0
  for (const [minute, added] of minutes) {
    if (minute > toMinute) return null
    count += added
    for (let left = minutes[oldest]; left !== undefined && left[0] < minute - windowMinutes; left = minutes[++oldest]) count -= left[1]
    while ((history.peopleMinutes[people] ?? Number.POSITIVE_INFINITY) <= minute) people++
    if (minute < fromMinute || count < rule.countAtLeast || people < rule.peopleAtLeast) continue
    facts.goTo(minute, people)
    if (!isStatic && !meetsFaultFilter(rule.filter, facts)) continue
    return { atMs: minute * MINUTE_MS, environment: environment.name, count, people, release: facts.releases.at(-1) ?? null }
  }
  return null
}

/** What is known of a fault in one of its environments, at one minute after the other: one object for all of them. */
class FactsOverTime implements FaultFacts {
  readonly #history: FaultHistory
  readonly environment: string
  readonly environmentKind: string
  readonly service: string
  readonly repository: string
  readonly type: string
  readonly message: string
  readonly path: string
  readonly function: string
  readonly severityNumber: number
  #minute = 0
  people = 0

  constructor(history: FaultHistory, { name, kind }: { name: string; kind: string }) {
    this.#history = history
    this.environment = name
    this.environmentKind = kind
    this.service = history.service
    this.repository = history.repository
    this.type = history.type
    this.message = history.message
    this.path = history.path
    this.function = history.function
    this.severityNumber = history.severityNumber
  }

  goTo(minute: number, people: number): void {
    this.#minute = minute
    this.people = people
  }

  get atMs(): number {
    return this.#minute * MINUTE_MS
  }

  get releases(): string[] {
    const endMs = this.atMs + MINUTE_MS - 1
    return this.#history.releases
      .filter((seen) => seen.environment === this.environment && seen.firstAtMs <= endMs && seen.release !== '')
      .map((seen) => seen.release)
  }

  isFlagged(flag: FaultFlag): boolean {
    return isFlagged(flag, this.#history, this.#minute)
  }
}

function isFlagged(flag: FaultFlag, history: FaultHistory, minute: number): boolean {
  const atMs = minute * MINUTE_MS
  const standing = () => history.stands.filter((stand) => stand.fromMs <= atMs + MINUTE_MS - 1)
  const isOpen = () => standing().some((stand) => stand.untilMs === null || stand.untilMs > atMs)
  switch (flag) {
    case 'new':
      return atMs - history.firstAtMs <= NEW_FOR_MS
    case 'returned': {
      const before = lastSeenBefore(history, minute)
      return before !== null && atMs - before >= RETURNS_AFTER_MS
    }
    case 'spike':
      return spikeOf(history, atMs) !== null
    case 'open':
      return isOpen()
    case 'settled':
      return !isOpen() && standing().length > 0
    case 'untied':
      return standing().length === 0
  }
}

function lastSeenBefore(history: FaultHistory, minute: number): number | null {
  let last = history.lastBeforeMs
  for (const { minutes } of history.environments)
    for (const [seen] of minutes) {
      if (seen >= minute) break
      if (last === null || seen * MINUTE_MS > last) last = seen * MINUTE_MS
    }
  return last
}

/** Whether the hour of a moment stands out from the past of a fault, over all its environments. */
export function spikeOf(history: Pick<FaultHistory, 'environments' | 'firstAtMs'>, atMs: number): ReturnType<typeof spikeAt> {
  const hours = new Map<number, number>()
  const upTo = Math.floor(atMs / MINUTE_MS)
  for (const { minutes } of history.environments)
    for (const [minute, count] of minutes) {
      if (minute > upTo) break
      const hour = Math.floor(minute / 60)
      hours.set(hour, (hours.get(hour) ?? 0) + count)
    }
  return spikeAt((hour) => hours.get(hour) ?? 0, Math.floor(history.firstAtMs / HOUR_MS), Math.floor(atMs / HOUR_MS))
}

/** What became of a fault that a rule took. */
export type Outcome = 'logged' | 'tied' | 'gathered' | 'reopened' | 'raised' | 'remarked' | 'silenced' | 'told' | 'incident'
/** A rule that fired for a fault. */
export interface Firing extends Moment {
  ruleId: string
  number: number
  outcome: Outcome
  /** The item that stands for it, where one did before: the one that was tied, or raised. */
  key: string | null
}

/** How much of a budget is used, and what is asked of it. */
export interface Budgets {
  /** Times of items that rules logged before the span, of any rule, in order of time. */
  logged: readonly { ruleId: string; atMs: number }[]
  perHour: number | null
  perDay: number | null
}

/** What stands where in the code: open items of faults. */
export interface Standing {
  service: string
  place: string
  number: number
  key: string | null
  fromMs: number
  untilMs: number | null
}

/**
 * Runs rules over the histories of faults, in the order of time and of the rules: the one code for what comes and for a trial on what came
 * (docs/rules.md#trial). A rule fires once for a fault. A fault that an item stands for, or stood for, is
 * logged no second time: whether a settled one came back is read from evidence (docs/rules.md#came-back).
 * Beyond a budget faults go into one item that gathers them. O(rules that may hold x minutes) to find the moments (see RuleIndex), and
 * O(f log f) for f firings.
 */
export function runRules(
  rules: readonly ReadRule[],
  histories: readonly FaultHistory[],
  world: {
    fromMs: number
    toMs: number
    hasFired: (ruleId: string, number: number) => boolean
    budgets: Budgets
    /** Open items at places of the code beside those of the histories. */
    standing: readonly Standing[]
  },
): Firing[] {
  const moments: { rule: ReadRule; position: number; history: FaultHistory; moment: Moment }[] = []
  const index = new RuleIndex(rules)
  // What the index asks is met by those that it gives.
  const split = rules.map(read).map((one) => ({ ...one, unchanging: one.unchanging.filter((part) => !isIndexed(part)) }))
  for (const history of histories) {
    const places = placesOf(history)
    for (const position of index.mayHold(history)) {
      const rule = rules[position]
      if (rule === undefined || rule.isDraft || world.hasFired(rule.ruleId, history.number)) continue
      const moment = firstMomentIn(split[position] ?? read(rule), history, places, world)
      if (moment) moments.push({ rule, position, history, moment })
    }
  }
  moments.sort((a, b) => a.moment.atMs - b.moment.atMs || a.position - b.position || a.history.number - b.history.number)
  const logged = [...world.budgets.logged]
  const taken = new Set<number>()
  const standing = new StandingItems(world.standing, histories)
  const firings: Firing[] = []
  for (const { rule, history, moment } of moments) {
    if (taken.has(history.number)) continue
    const own = standing.of(history.number, moment.atMs)
    const done = outcomeOf(rule, {
      own,
      settled: () => standing.settledOf(history.number, moment.atMs),
      hasHad: standing.hasHad(history.number, moment.atMs),
      alike: standing.at(history, moment.atMs),
      isInBudget: () => isWithin(rule, world.budgets, logged, moment.atMs),
    })
    if (done === null) continue
    firings.push({ ...moment, ruleId: rule.ruleId, number: history.number, ...done })
    if (done.outcome === 'logged') logged.push({ ruleId: rule.ruleId, atMs: moment.atMs })
    if (STANDS_AFTER.includes(done.outcome)) standing.add(history, moment.atMs, done.key)
    if (!rule.goesOn) taken.add(history.number)
  }
  return firings
}

/** After these an open item stands for the fault. */
const STANDS_AFTER: readonly Outcome[] = ['logged', 'gathered', 'tied', 'reopened']

function outcomeOf(
  { deed }: ReadRule,
  {
    own,
    settled,
    hasHad,
    alike,
    isInBudget,
  }: {
    own: Standing | undefined
    settled: () => Standing | undefined
    hasHad: boolean
    alike: Standing | undefined
    isInBudget: () => boolean
  },
): Pick<Firing, 'outcome' | 'key'> | null {
  switch (deed.act) {
    case 'log':
      if (hasHad) return null
      if (deed.tiesAlike && alike) return { outcome: 'tied', key: alike.key }
      return { outcome: isInBudget() ? 'logged' : 'gathered', key: null }
    case 'raise':
      return own ? { outcome: 'raised', key: own.key } : null
    case 'reopen':
      return own ? null : reopened(settled()?.key)
    case 'remark':
      return own ? { outcome: 'remarked', key: own.key } : null
    case 'silence':
      return { outcome: 'silenced', key: own?.key ?? null }
    case 'tell':
      return own ? { outcome: 'told', key: own.key } : null
    case 'incident':
      return { outcome: 'incident', key: own?.key ?? null }
  }
}

function reopened(key: string | null | undefined): Pick<Firing, 'outcome' | 'key'> | null {
  return key ? { outcome: 'reopened', key } : null
}

/** Whether one more item at that time is within what the rule and the project allow in an hour and a day. */
function isWithin(rule: ReadRule, project: Budgets, logged: readonly { ruleId: string; atMs: number }[], atMs: number): boolean {
  const used = { hour: 0, day: 0, ruleHour: 0, ruleDay: 0 }
  // In order of time: what is older than a day ends the look.
  for (let at = logged.length - 1; at >= 0; at--) {
    const one = logged[at]
    if (!one || one.atMs <= atMs - DAY_MS) break
    const [isHour, isOwn] = [one.atMs > atMs - HOUR_MS, one.ruleId === rule.ruleId]
    used.day++
    used.hour += Number(isHour)
    used.ruleDay += Number(isOwn)
    used.ruleHour += Number(isHour && isOwn)
  }
  return (
    (rule.perHour === null || used.ruleHour < rule.perHour) &&
    (rule.perDay === null || used.ruleDay < rule.perDay) &&
    (project.perHour === null || used.hour < project.perHour) &&
    (project.perDay === null || used.day < project.perDay)
  )
}

/** Which items stand for which fault and at which place of the code, at a time; what a run logs is added. */
class StandingItems {
  readonly #byFault = new Map<number, Standing[]>()
  readonly #byPlace = new Map<string, Standing[]>()

  constructor(others: readonly Standing[], histories: readonly FaultHistory[]) {
    for (const standing of others) this.#put(standing)
    for (const history of histories)
      for (const { key, fromMs, untilMs } of history.stands)
        this.#put({ service: history.service, place: history.place ?? '', number: history.number, key, fromMs, untilMs })
  }

  of(number: number, atMs: number): Standing | undefined {
    return this.#byFault.get(number)?.find((one) => isStanding(one, atMs))
  }

  /** The item that stood for a fault last, and does no more. */
  settledOf(number: number, atMs: number): Standing | undefined {
    return this.#byFault
      .get(number)
      ?.filter((one) => one.key !== null && one.untilMs !== null && one.untilMs <= atMs)
      .reduce<Standing | undefined>((last, one) => (last && (last.untilMs ?? 0) >= (one.untilMs ?? 0) ? last : one), undefined)
  }

  hasHad(number: number, atMs: number): boolean {
    return this.#byFault.get(number)?.some((one) => one.fromMs <= atMs + MINUTE_MS - 1) ?? false
  }

  at({ service, place, number }: FaultHistory, atMs: number): Standing | undefined {
    if (!place) return undefined
    return this.#byPlace.get(`${service}\n${place}`)?.find((one) => one.number !== number && isStanding(one, atMs))
  }

  add({ service, place, number }: FaultHistory, atMs: number, key: string | null): void {
    this.#put({ service, place: place ?? '', number, key, fromMs: atMs, untilMs: null })
  }

  #put(standing: Standing): void {
    addTo(this.#byFault, standing.number, standing)
    if (standing.place) addTo(this.#byPlace, `${standing.service}\n${standing.place}`, standing)
  }
}

function isStanding({ fromMs, untilMs }: Standing, atMs: number): boolean {
  return fromMs <= atMs + MINUTE_MS - 1 && (untilMs === null || untilMs > atMs)
}

function addTo<Key>(map: Map<Key, Standing[]>, key: Key, standing: Standing): void {
  const known = map.get(key)
  if (known) known.push(standing)
  else map.set(key, [standing])
}
