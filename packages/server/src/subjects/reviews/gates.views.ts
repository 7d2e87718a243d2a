import { groupBy } from '@dystracer/core/basics/group-by'
import type { MergeGates } from '@dystracer/core/reviews/events'
import { GATES_PATH, gatesFor, parseGates, type GateRule } from '@dystracer/core/reviews/gate-rules'
import { baseAndAhead } from '@dystracer/core/reviews/gate-words'
import { DEFAULT_GATES, mergeGates, type GateFacts, type MergeGate, type OwnedPaths } from '@dystracer/core/reviews/gates'
import { NO_LIMITS, parseQuality } from '@dystracer/core/findings/quality-sentence'
import { percentOf } from '@dystracer/core/reviews/changed-coverage'
import { Problem } from '@dystracer/core/basics/problem'
import type { RepositoryGates } from '@dystracer/core/reviews/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import {
  buildTrouble,
  commitsOfPullRequest,
  coverageOfBuild,
  measuredBuild,
  type PullRequestRow,
  toPullRequest,
} from '#subjects/code/index'
import { broughtBy } from '#subjects/findings/index'
import { readChangedCoverage } from './changed-coverage.views.js'
import { authorsOf, idOf, pathsOfPullRequest, verdictsOf } from './change-facts.js'
import { membersOf, ownersOf, readMainLineFile } from './main-line-files.js'
import {
  COUNT_OPEN_REMARKS,
  COUNT_SUSPECTS_OF_ITEMS,
  GET_BROKEN_BASE,
  GET_MEASURED_BUILD,
  GET_MERGE_TRIAL,
  LIST_MERGE_GATE_RULES,
  LIST_REQUIREMENTS_OF_ITEMS,
  SUM_TIME_OF_ITEMS,
} from './reviewing.queries.js'

/** What a repository asks for before a merge: by the file on its main line, else by what was set here. */
export async function readRepositoryGates(ctx: ServiceContext, repository: string): Promise<RepositoryGates> {
  const text = await readMainLineFile(ctx, repository, GATES_PATH)
  if (text === null) return { rules: rulesSetHere(ctx, repository), file: null }
  const parsed = parseGates(text)
  return 'why' in parsed
    ? { rules: [], file: { path: GATES_PATH, problem: parsed.why } }
    : { rules: parsed.rules, file: { path: GATES_PATH, problem: null } }
}

function rulesSetHere(ctx: Pick<ServiceContext, 'db'>, repository: string): GateRule[] {
  return sql(ctx.db, LIST_MERGE_GATE_RULES)
    .all<{ branches: string; gates: string }>({ repository })
    .map(({ branches, gates }) => ({ ...DEFAULT_GATES, ...(JSON.parse(gates) as Partial<MergeGates>), branches }))
}

/** The gates of a change as they hold now: those that its repository asks for. */
export async function gatesOf(
  ctx: ServiceContext,
  who: Who,
  row: PullRequestRow,
): Promise<{ gates: MergeGate[]; verdicts: ReturnType<typeof verdictsOf> }> {
  const { rules, file } = await readRepositoryGates(ctx, row.repository)
  const gates = gatesFor(rules, row.base)
  const facts = await factsOf(ctx, who, row, gates)
  const fileTrouble = file?.problem
    ? `${file.path} of the main line cannot be read: ${file.problem}. Mend it there; until then nothing is merged`
    : null
  return { verdicts: facts.verdicts, gates: mergeGates({ ...facts, gates, fileTrouble }) }
}

/** What is known of a change, as far as some gates ask for it: what none of them looks at is not read. */
export async function factsOf(
  ctx: ServiceContext,
  who: Who,
  row: PullRequestRow,
  gates: MergeGates,
): Promise<Omit<GateFacts, 'gates' | 'fileTrouble' | 'verdicts'> & { verdicts: ReturnType<typeof verdictsOf> }> {
  const summary = toPullRequest(ctx, who, row)
  const items = JSON.stringify(summary.items)
  const quality = parseQuality(gates.quality)
  const limits = 'limits' in quality ? quality.limits : NO_LIMITS
  // Two gates may ask about the same: it is looked up once.
  const brought = gates.noNewFindings || gates.quality !== '' ? broughtByChange(ctx, row) : null
  const covered = gates.coverageAtLeast !== null || limits.changedCoverage !== null ? await coveredPercent(ctx, who, row) : undefined
  return {
    isDraft: row.is_draft === 1,
    buildTrouble: buildTrouble(ctx, summary, row.is_ours === 1),
    verdicts: verdictsOf(ctx, row),
    owned: gates.needsOwners ? await ownedPaths(ctx, row) : [],
    openRemarks: openRemarks(ctx, row),
    itemCount: summary.items.length,
    requirementCount: gates.needsRequirement ? sql(ctx.db, LIST_REQUIREMENTS_OF_ITEMS).all({ items }).length : 0,
    suspectCount: gates.needsNoSuspects ? (sql(ctx.db, COUNT_SUSPECTS_OF_ITEMS).get<{ count: number }>({ items })?.count ?? 0) : 0,
    spentMinutes: gates.needsTime ? (sql(ctx.db, SUM_TIME_OF_ITEMS).get<{ minutes: number | null }>({ items })?.minutes ?? 0) : 0,
    newFindings: brought === null ? 0 : brought.bug + brought.weakness + brought.smell,
    measures:
      gates.quality === ''
        ? null
        : {
            brought,
            debtMinutes: brought?.debtMinutes ?? 0,
            // Of what brings no line that can be measured nothing is left out.
            changedCoverage: covered === null ? ALL_PERCENT : (covered ?? null),
            coverageFall: limits.coverageFall === null ? null : coverageFall(ctx, row),
          },
    coveredPercent: covered,
    // A code host merges in its own way, one after the other.
    trialWords: gates.triesOnTop && row.is_ours === 1 ? trialWords(ctx, row) : null,
    brokenBase: gates.notWhileBroken ? brokenBase(ctx, row) : null,
    nowMs: ctx.nowMs(),
  }
}

/**
 * Of a hundred lines that it brings so many are run by tests; undefined where nothing measured
 * them, also where its commits are not here.
 */
async function coveredPercent(ctx: ServiceContext, who: Who, row: PullRequestRow): Promise<number | null | undefined> {
  try {
    const measured = await readChangedCoverage(ctx, who, `${row.repository}/${row.number}`)
    return measured.build === null ? undefined : percentOf(measured)
  } catch (error) {
    if (error instanceof Problem && error.code === 'outside-unreachable') return undefined
    throw error
  }
}

function openRemarks(ctx: ServiceContext, row: PullRequestRow): number {
  return sql(ctx.db, COUNT_OPEN_REMARKS).get<{ count: number }>(idOf(row))?.count ?? 0
}

/** Paths of a change by those who look after them. Whoever wrote it cannot agree to it: a path that is theirs alone asks for nobody. */
async function ownedPaths(ctx: ServiceContext, row: PullRequestRow): Promise<OwnedPaths[]> {
  const owners = await ownersOf(ctx, row.repository, membersOf(ctx, row.repository))
  const authors = authorsOf(ctx, row)
  const owned = pathsOfPullRequest(ctx, row)
    .map((path) => ({ path, personIds: owners(path).filter((personId) => !authors.has(personId)) }))
    .filter(({ personIds }) => personIds.length > 0)
  return [...groupBy(owned, ({ personIds }) => personIds.join('\0')).values()].map((those) => ({
    paths: those.map(({ path }) => path),
    personIds: those[0]?.personIds ?? [],
  }))
}

const ALL_PERCENT = 100

/** Findings at its newest commit that were first seen in one of its own, and what it takes away. */
function broughtByChange(ctx: ServiceContext, row: PullRequestRow) {
  return broughtBy(ctx, row.repository, { headSha: row.head_sha, shas: commitsOfPullRequest(ctx, row) })
}

/** How far its trial on top of those before it is. */
function trialWords(ctx: ServiceContext, row: PullRequestRow): string {
  const trial = sql(ctx.db, GET_MERGE_TRIAL).get<{ ahead: string; build: string | null; state: string | null }>(idOf(row))
  if (!trial) return 'It is built on top of those before it once somebody wants it merged and all else holds'
  const ahead = JSON.parse(trial.ahead) as number[]
  const on = baseAndAhead(row.base, ahead)
  if (trial.build === null) return `It is merged with ${on} to see, and waits to be built`
  return `Merged with ${on} to see: build ${trial.build} ${trial.state === 'running' ? 'runs' : trial.state}`
}

/** How many fewer of a hundred lines tests run at its newest commit than on its base, below 0 for more; null where either is unknown. */
function coverageFall(ctx: ServiceContext, { repository, base, head_sha: sha }: PullRequestRow): number | null {
  const here = sql(ctx.db, GET_MEASURED_BUILD).get<{ number: number }>({ repository, sha })
  const there = measuredBuild(ctx.db, { repository, branch: base })
  const share = (build: number): number | null => {
    const { covered, missed } = coverageOfBuild(ctx.db, repository, build)
    return covered + missed === 0 ? null : (100 * covered) / (covered + missed)
  }
  const [is, was] = [here && share(here.number), there && share(there.number)]
  return is == null || was == null ? null : Math.round((was - is) * 10) / 10
}

function brokenBase(ctx: ServiceContext, { repository, base }: PullRequestRow): string | null {
  const build = sql(ctx.db, GET_BROKEN_BASE).get<{ number: number; state: string; failed: number }>({ repository, branch: base })
  return build && (build.state === 'broke' || build.failed > 0) ? `Build ${build.number} of ${base} broke` : null
}
