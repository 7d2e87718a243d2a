import type { FiredRow, IntakeRuleInput, RuleTrial } from '@dystracer/core/faults/intake-wire'
import { type FaultHistory, type Firing, runRules } from '@dystracer/core/faults/run-rules'
import type { ReadRule } from '@dystracer/core/faults/intake-rule'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { type FaultRow, faultsOfProject, firedRow, hasHistory, readEnvironments, readHistory } from './histories.js'
import { itemOf, judge, keysByRules } from './judgement.js'
import { readBudgets, readRules, ruleOf } from './rules.js'

const DAY_MS = 86_400_000
/** So many of each kind are listed; the rest is counted. */
const SHOWN_MAX = 60
/** After so long a trial lets others have the thread. */
const BREATH_MS = 12

/**
 * What a rule would have done about what really came in the last days, beside the rules as they stand, by the code that applies them
 * (docs/rules.md#trial). Items that rules made are left out of what it sees, so that it decides anew; those
 * that people logged by hand stand. Reads the counters of each fault once; lets others have the thread every
 * few milliseconds, and ends early when the asker has gone (`isGone`). Writes nothing.
 */
export async function tryIntakeRule(
  ctx: ServiceContext,
  who: Who,
  project: string,
  { ruleId, days, ...input }: IntakeRuleInput & { ruleId: string | null; days: number },
  isGone: () => boolean = () => false,
): Promise<RuleTrial> {
  const startedMs = performance.now()
  const toMs = ctx.nowMs()
  const span = { fromMs: toMs - days * DAY_MS, toMs }
  const { histories, faults, occurrences } = await readPast(ctx, project, span, isGone)
  const rules = readRules(ctx, project)
  const tried: ReadRule = { ...ruleOf(ruleId ?? NEW_RULE, input), isDraft: false }
  const standing = rules.find((rule) => rule.ruleId === ruleId)
  const withTried = standing ? rules.map((rule) => (rule === standing ? tried : rule)) : [...rules, tried]
  const run = (rulesOfRun: readonly ReadRule[]) =>
    runRules(rulesOfRun, histories, {
      ...span,
      hasFired: () => false,
      budgets: { ...readBudgets(ctx, project, span.fromMs), logged: [] },
      standing: [],
    })
  const firings = run(withTried)
  const own = firings.filter((firing) => firing.ruleId === tried.ruleId)
  const before = standing && !standing.isDraft ? run(rules).filter((firing) => firing.ruleId === ruleId) : null
  const taken = new Set(own.map((firing) => firing.number))
  const handled = new Set(firings.map((firing) => firing.number))
  const noLonger = (before ?? []).filter((firing) => !taken.has(firing.number))
  const missed = missedOf(ctx, histories, handled, span.fromMs)
  const show = (rows: readonly Firing[]) => rows.slice(0, SHOWN_MAX).map((firing) => toRow(ctx, who, firing, faults))
  const hidden = [own, noLonger, missed].reduce((sum, rows) => sum + Math.max(0, rows.length - SHOWN_MAX), 0)
  return {
    days,
    looked: histories.length,
    occurrences,
    tookMs: Math.round(performance.now() - startedMs),
    outcomes: countOutcomes(own),
    standing: before && countOutcomes(before),
    rows: show(own),
    noLonger: show(noLonger),
    missed: show(missed),
    more: hidden,
  }
}

/** No rule's id: ids begin with a letter or digit. */
const NEW_RULE = '-new-'

async function readPast(
  ctx: ServiceContext,
  project: string,
  span: { fromMs: number; toMs: number },
  isGone: () => boolean,
): Promise<{ histories: FaultHistory[]; faults: ReadonlyMap<number, FaultRow>; occurrences: number }> {
  const kinds = readEnvironments(ctx)
  const rows = faultsOfProject(ctx, project)
  const histories: FaultHistory[] = []
  let occurrences = 0
  let breathMs = performance.now()
  for (const row of rows) {
    if (performance.now() - breathMs > BREATH_MS) {
      await new Promise((go) => setImmediate(go))
      breathMs = performance.now()
      if (isGone()) break
    }
    const history = readHistory(ctx, row, span, kinds)
    if (!hasHistory(history)) continue
    const byRules = keysByRules(ctx, row.number)
    histories.push({ ...history, stands: history.stands.filter(({ key }) => !byRules.has(key)) })
    for (const { minutes } of history.environments) for (const [, count] of minutes) occurrences += count
  }
  return { histories, faults: new Map(rows.map((row) => [row.number, row])), occurrences }
}

/** Faults of the span that people logged by hand, and no rule of the run did anything about. */
function missedOf(ctx: ServiceContext, histories: readonly FaultHistory[], handled: ReadonlySet<number>, fromMs: number): Firing[] {
  return histories
    .filter((history) => !handled.has(history.number))
    .flatMap((history): Firing[] => {
      const item = itemOf(ctx, history.number)
      if (item?.loggedCause !== 'person' || item.createdAtMs < fromMs) return []
      const count = history.environments.flatMap(({ minutes }) => minutes).reduce((sum, [, more]) => sum + more, 0)
      return [
        {
          ruleId: '',
          number: history.number,
          outcome: 'logged',
          key: item.key,
          atMs: item.createdAtMs,
          environment: history.environments[0]?.name ?? '',
          count,
          people: history.peopleMinutes.length,
          release: history.releases.at(-1)?.release ?? null,
        },
      ]
    })
}

function countOutcomes(firings: readonly Firing[]): RuleTrial['outcomes'] {
  const outcomes: RuleTrial['outcomes'] = {
    logged: 0,
    tied: 0,
    gathered: 0,
    reopened: 0,
    raised: 0,
    remarked: 0,
    silenced: 0,
    told: 0,
    incident: 0,
  }
  for (const { outcome } of firings) outcomes[outcome]++
  return outcomes
}

function toRow(ctx: ServiceContext, who: Who, firing: Firing, faults: ReadonlyMap<number, FaultRow>): FiredRow {
  const { environment, release } = firing
  return firedRow(firing, faults.get(firing.number), {
    environment,
    release: release || null,
    ...judge(ctx, who, itemOf(ctx, firing.number)),
  })
}
