import { STRANGER, type Who } from '@dystracer/core/people/who'
import { codeHostSlot } from '@dystracer/server/subjects/code/code-host.slot'
import { gitWorker } from '@dystracer/server/subjects/git/git.client'
import { intakeWorker } from '@dystracer/server/subjects/occurrences/intake.client'
import { createReadStream } from 'node:fs'
import { createInterface } from 'node:readline'
import type { Milestone } from '@dystracer/core/setup/milestone'
import type { RawCommit } from '@dystracer/server/subjects/git/mirror'
import type { CodeHost } from '@dystracer/server/subjects/code/code-host'
import { sql } from '@dystracer/server/platform/db/statements'
import type { PullRequestBody } from '@dystracer/core/code/events'
import type { JournalWriter } from '@dystracer/server/platform/journal/journal'
import { setPassword } from '@dystracer/server/subjects/people/passwords'
import { takeBuildLog } from '@dystracer/server/subjects/build-logs/build-logs.commands'
import { seeDeployment } from '@dystracer/server/subjects/releases/deployments.commands'
import { followFaults } from '@dystracer/server/subjects/faults/follow-faults'
import { addComment } from '@dystracer/server/subjects/talk/comments.commands'
import { acceptItem, rejectItem } from '@dystracer/server/subjects/triage/decisions.commands'
import { addLink, logItem, startItem, verifyItem } from '@dystracer/server/subjects/items/items.commands'
import { seePullRequest } from '@dystracer/server/subjects/reviews/pull-request-ties'
import { receiveReport } from '@dystracer/server/subjects/builds/index'
import { DEFAULT_QUALITY_RULES } from '@dystracer/core/quality/quality-rule'
import { setQualityRules } from '@dystracer/server/subjects/quality/quality.commands'
import { mondayOf } from '@dystracer/core/looking/calendar'
import { setDuty } from '@dystracer/server/subjects/routing/routing.commands'
import { applyRefMoves, indexCommits } from '@dystracer/server/subjects/sync/ref-moves'
import { DEMO_RULES } from './demo-rules.js'
import { REFINEMENTS, REQUIREMENT_FACTS } from './requirement-facts.js'
import { layDownIncident } from './seed-incident.js'
import { layDownTrains } from './seed-trains.js'
import { baselinesAsTimeGoes, layDownAgreement, layDownGlossary } from './seed-requirements.js'
import { layDownExploring } from './seed-exploring.js'
import { layDownCases } from './seed-cases.js'
import { layDownReviews } from './seed-reviews.js'
import { layDownOldWork, promiseDays, readOldNotices } from './seed-present.js'
import { mirrorDir } from '@dystracer/server/subjects/git/git.client'
import type { ServiceContext } from '@dystracer/server/platform/context'

/** The fields that a step of any kind may have; each kind reads its own. The world is made by our own seed program. */
interface Step {
  atMs: number
  do: string
  by: string
  key: string
  input: never
  text: string
  repository: string
  branch: string
  pr: PullRequestBody
  body: object
  around?: { logs: object; traces: object }
  service: string
  release: string
  environment: string
}
interface Setup {
  project: { prefix: string; name: string; silenceMs: number; requirementPrefixes: string[] }
  people: { personId: string; name: string; initials: string; email: string; role: 'member' }[]
  components: { name: string; keeperId: string; repository: string | null }[]
  repositories: string[]
  milestones: Milestone[]
  requirements: { key: string; title: string; text: string; parent: string | null; isHeading: boolean }[]
}

/**
 * Lives through the steps of world.jsonl by the ordinary commands, with the clock set to each step's time. The repositories must be fetched
 * already.
 */
export async function seedDemo(
  ctx: ServiceContext,
  input: { worldPath: string; setNowMs: (nowMs: number) => void; onProgress: (done: number) => void },
): Promise<void> {
  const lines = createInterface({ input: createReadStream(input.worldPath), crlfDelay: Number.POSITIVE_INFINITY })
  const commits = new Map<string, RawCommit[]>()
  const keepBaselines = baselinesAsTimeGoes(ctx, memberOf)
  let done = 0
  for await (const line of lines) {
    const step = JSON.parse(line) as Step
    input.setNowMs(step.atMs)
    await applyStep(ctx, step, commits)
    keepBaselines(step.atMs)
    if (++done % 100 === 0) input.onProgress(done)
  }
  followFaults(ctx)
  readOldNotices(ctx, memberOf)
  layDownOldWork(ctx)
  promiseDays(ctx)
  await layDownReviews(ctx, memberOf)
  const todayMs = ctx.nowMs()
  const clock = {
    todayMs,
    at: (atMs: number, act: () => void) => {
      input.setNowMs(atMs)
      act()
      input.setNowMs(todayMs)
    },
  }
  layDownCases(ctx, memberOf, clock)
  layDownIncident(ctx, memberOf, clock)
  layDownTrains(ctx, memberOf, clock)
  await layDownExploring(ctx, memberOf, clock)
  layDownAgreement(ctx, memberOf, clock)
  layDownGlossary(ctx, memberOf, clock)
  setQualityRules(ctx, memberOf('ines'), 'EMB', DEFAULT_QUALITY_RULES)
  setDuty(ctx, memberOf('ines'), 'EMB', { weekOn: mondayOf(ctx.nowMs()), personId: 'rafe' })
}

function memberOf(personId: string): Who {
  return { ...STRANGER, actor: `person:${personId}`, personId, roles: {}, everywhere: 'lead', via: 'session' }
}

async function applyStep(ctx: ServiceContext, step: Step, commits: Map<string, RawCommit[]>): Promise<void> {
  const { atMs } = step
  switch (step.do) {
    case 'setup':
      return setUp(ctx, step as unknown as Setup, commits)
    case 'log': {
      const key = logItem(ctx, memberOf(step.by), step.input)
      if (key !== step.key) throw new Error(`the demo's item ${step.key} became ${key}`)
      return
    }
    case 'accept':
      return acceptItem(ctx, memberOf(step.by), step.key, step.input)
    case 'reject':
      return rejectItem(ctx, memberOf(step.by), step.key, step.input)
    case 'verify':
      return verifyItem(ctx, memberOf(step.by), step.key, '')
    case 'link':
      return addLink(ctx, memberOf(step.by), step.key, step.input)
    case 'comment':
      return void addComment(ctx, memberOf(step.by), step.key, { text: step.text })
    case 'start':
      return void (await startItem(
        { ...ctx, use: (place) => (place.name === codeHostSlot.name ? (NO_CODE_HOST as never) : ctx.use(place)) },
        memberOf(step.by),
        step.key,
        {
          repository: step.repository,
          branch: step.branch,
        },
      ))
    case 'refs':
      return moveRefs(
        ctx,
        step as unknown as { repository: string; moves: { ref: string; to: string | null }[]; cause: string; atMs: number },
        commits,
      )
    case 'pull-request':
      return seePullRequest(ctx, step.pr, 'code host')
    case 'build':
      return seeBuild(ctx, step as unknown as SeededBuild)
    case 'deployment': {
      const { service, release, environment, by } = step
      seeDeployment(ctx, {
        service,
        release,
        environment,
        by,
        atMs,
        deploymentId: `${service}-${release}-${environment}`,
        idempotencyKey: `seed/${service}/${release}/${environment}`,
      })
      return
    }
    case 'occurrences':
      for (const [signal, body] of [['logs', step.body] as const, ...Object.entries(step.around ?? {})])
        await intakeWorker(ctx).call('take', {
          signal: signal === 'traces' ? 'traces' : 'logs',
          encoding: 'json',
          body: new TextEncoder().encode(JSON.stringify(body)),
          receivedAtMs: atMs,
        })
      return
    default:
      throw new Error(`unknown step ${step.do}`)
  }
}

const NO_CODE_HOST: CodeHost = {
  serves: () => true,
  createBranch: async () => {},
  openPullRequest: async () => ({ number: 0 }),
  mergePullRequest: async () => {},
  showStatus: async () => {},
  listPullRequests: async () => [],
}

async function setUp(ctx: ServiceContext, setup: Setup, commits: Map<string, RawCommit[]>): Promise<void> {
  const outsideUrl = ctx.config.outsideUrl ?? ''
  ctx.journal.write((writer) => {
    const add: JournalWriter['append'] = (draft) => writer.append(draft)
    add({ kind: 'project-created', actor: 'system', subjects: [], body: setup.project })
    for (const person of setup.people) {
      const { role, ...body } = person
      add({ kind: 'person-added', actor: 'system', subjects: [`person:${person.personId}`], body })
      add({
        kind: 'role-given',
        actor: 'system',
        subjects: [`person:${person.personId}`],
        body: { project: setup.project.prefix, personId: person.personId, role },
      })
      add({
        kind: 'role-given',
        actor: 'system',
        subjects: [`person:${person.personId}`],
        body: { project: 'STU', personId: person.personId, role },
      })
    }
    for (const component of setup.components)
      add({
        kind: 'component-added',
        actor: 'system',
        subjects: [],
        body: { project: setup.project.prefix, pathPrefix: null, ...component },
      })
    for (const name of setup.repositories) {
      add({
        kind: 'repository-added',
        actor: 'system',
        subjects: [`repository:${name}`],
        body: { name, url: `outside:/git/${name}.git`, mainBranch: 'main' },
      })
      add({
        kind: 'service-added',
        actor: 'system',
        subjects: [],
        body: { name, project: setup.project.prefix, repository: name, tagPrefix: 'v' },
      })
    }
    add({
      kind: 'environment-added',
      actor: 'system',
      subjects: [],
      body: { name: 'staging', kind: 'staging', needsApproval: false, position: 1 },
    })
    add({
      kind: 'environment-added',
      actor: 'system',
      subjects: [],
      body: { name: 'production', kind: 'production', needsApproval: true, position: 2 },
    })
    // What checks find is tried at first: the rule about it is a draft, and turned on once people knew what it would do.
    const quality = DEFAULT_QUALITY_RULES.map((rule) => ({ ...rule, isDraft: rule.about === 'finding' }))
    add({ kind: 'quality-rules-set', actor: 'person:ines', subjects: [], body: { project: setup.project.prefix, rules: quality } })
    for (const rule of DEMO_RULES)
      add({ kind: 'rule-added', actor: 'system', subjects: [], body: { project: setup.project.prefix, ...rule } })
    add({
      kind: 'project-created',
      actor: 'system',
      subjects: [],
      body: { prefix: 'STU', name: 'Studios', silenceMs: setup.project.silenceMs, requirementPrefixes: [] },
    })
    add({
      kind: 'own-field-defined',
      actor: 'system',
      subjects: [],
      body: {
        project: setup.project.prefix,
        fieldId: 'studio',
        name: 'Studio',
        kind: 'one-of',
        choices: ['Harrow Lane', 'Quayside', 'Old Mill'],
        types: ['defect'],
        colour: null,
        position: 0,
      },
    })
    for (const milestone of setup.milestones)
      add({ kind: 'milestone-set', actor: 'system', subjects: [], body: { project: setup.project.prefix, ...milestone } })
    add({
      kind: 'routing-rule-set',
      actor: 'system',
      subjects: [],
      body: {
        project: setup.project.prefix,
        position: 0,
        ruleId: 'relays-and-probes',
        name: 'Relays and probes',
        conditions: { components: ['Kiln control'], paths: [], labels: [], words: ['relay', 'thermocouple', 'probe'] },
        sets: { component: null, ownerId: null, severity: null, milestone: null, priority: null, labels: ['hardware'] },
      },
    })
    for (const [position, requirement] of setup.requirements.entries()) {
      const body = { ...requirement, revision: 1, position }
      add({ kind: 'requirement-written', actor: 'system', subjects: [`requirement:${requirement.key}`], body })
    }
    for (const [key, attributes] of Object.entries(REQUIREMENT_FACTS))
      add({ kind: 'requirement-described', actor: 'system', subjects: [`requirement:${key}`], body: { key, attributes } })
    for (const { from, to, words } of REFINEMENTS) {
      const body = { project: setup.project.prefix, relationId: `refines-${from}-${to}`, name: 'refines', from, to, words }
      add({ kind: 'requirements-related', actor: 'system', subjects: [`requirement:${from}`, `requirement:${to}`], body })
    }
  })
  for (const person of setup.people) await setPassword(ctx, person.personId, `${person.personId}-emberwick`)
  for (const repository of setup.repositories) {
    const dir = mirrorDir(ctx, repository)
    const tips = await gitWorker(ctx).call('fetch', { dir, url: `${outsideUrl}/git/${repository}.git`, access: null })
    const shas = await gitWorker(ctx).call('newCommits', { dir, tips: tips.map((tip) => tip.sha), known: [] })
    commits.set(repository, await gitWorker(ctx).call('readCommits', { dir, shas: shas.match(/.+/g) ?? [] }))
  }
}

function moveRefs(
  ctx: ServiceContext,
  step: { repository: string; moves: { ref: string; to: string | null }[]; cause: string; atMs: number },
  commits: Map<string, RawCommit[]>,
): void {
  const moves = step.moves.map((move) => ({
    ...move,
    isForced: false,
    from:
      sql(ctx.db, 'SELECT sha FROM git_ref WHERE repository = @repository AND ref = @ref AND deleted_at_ms IS NULL').get<{ sha: string }>({
        repository: step.repository,
        ref: move.ref,
      })?.sha ?? null,
  }))
  const { taken, left } = takeReachable(
    commits.get(step.repository) ?? [],
    step.moves.flatMap((move) => move.to ?? []),
  )
  commits.set(step.repository, left)
  indexCommits(ctx, { repository: step.repository, commits: taken, atMs: step.atMs })
  applyRefMoves(ctx, {
    repository: step.repository,
    moves,
    newCommits: taken.map((commit) => commit.sha),
    cause: step.cause,
    atMs: step.atMs,
  })
}

/** The commits that these tips bring, of those that nobody has seen yet, as they would come with the push; and what is left. */
function takeReachable(commits: readonly RawCommit[], tips: readonly string[]): { taken: RawCommit[]; left: RawCommit[] } {
  const bySha = new Map(commits.map((commit) => [commit.sha, commit]))
  const reached = new Set<string>()
  const queue = [...tips]
  for (let sha = queue.pop(); sha !== undefined; sha = queue.pop()) {
    const commit = bySha.get(sha)
    if (!commit || reached.has(sha)) continue
    reached.add(sha)
    queue.push(...commit.parents)
  }
  return { taken: commits.filter((commit) => reached.has(commit.sha)), left: commits.filter((commit) => !reached.has(commit.sha)) }
}

interface SeededBuild {
  repository: string
  number: number
  sha: string
  branch: string
  state: 'passed' | 'broke'
  startedAtMs: number
  junit: string
  lcov: string
  sarif: string
  log: string
  atMs: number
}

async function seeBuild(ctx: ServiceContext, step: SeededBuild): Promise<void> {
  const { repository, number, sha, branch, state, startedAtMs, atMs } = step
  const common = { actor: 'source:build-service', subjects: [`build:${repository}/${number}`], source: `build:${repository}/${number}` }
  ctx.journal.write((writer) => {
    writer.append({ ...common, kind: 'build-started', atMs: startedAtMs, body: { repository, number, sha, branch } })
  })
  const of = { repository, commit: sha, build: String(number), branch, atMs }
  await receiveReport(ctx, 'junit', of, Buffer.from(step.junit))
  if (step.lcov !== '') await receiveReport(ctx, 'lcov', of, Buffer.from(step.lcov))
  if (step.sarif !== '') await receiveReport(ctx, 'sarif', of, Buffer.from(step.sarif))
  const { commit, build } = of
  await takeBuildLog(ctx, { repository, commit, build, branch, step: 'tests', run: '', from: 0, isLast: 'true' }, Buffer.from(step.log))
  ctx.journal.write((writer) => {
    writer.append({ ...common, kind: 'build-finished', atMs, body: { repository, number, sha, branch, state, startedAtMs } })
    const tied = sql(
      ctx.db,
      `SELECT DISTINCT from_id FROM link_assertion WHERE to_kind = 'branch' AND to_id = @id AND retracted_at_ms IS NULL`,
    ).all<{
      from_id: string
    }>({ id: `${repository}/${branch}` })
    writer.touch(tied.map((row) => row.from_id))
  })
}
