import { createWriteStream } from 'node:fs'
import { mkdir, readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { importCommits, run } from './fast-import.js'
import { makeOccurrences } from './faults.js'
import { makeHistory, REPOSITORIES, type DemoHistory, type PieceHistory } from './history.js'
import { COMMITTERS, emailOf, PEOPLE } from './people.js'
import type { Piece } from './piece.js'
import { runTests } from './run-tests.js'
import type { WorldStep } from './world-steps.js'

const DAY_MS = 86_400_000
const DATA = join(import.meta.dirname, '../../src/demo/data')
interface Report {
  title: string
  description: string
  component: string
  severity: number
}
const COMPONENT_BY_REPORT: Record<string, string> = {
  'Kiln control': 'Kiln control',
  Bookings: 'Firing planner',
  Billing: 'Billing',
  Accounts: 'Billing',
  'Recipe lab': 'Glaze lab',
  'Firing archive': 'Firing archive',
  'Phone app': 'Phone app',
  'Not sure': 'Firing planner',
}
/** Epics come last, so that what they gather has its numbers before. */
const EPICS = [
  {
    title: 'Firings that stop by themselves when something fails',
    prefix: 'SAF',
    milestone: '4.2',
    component: 'Kiln control',
    ownerId: 'ines',
  },
  { title: 'Plans that members can rely on', prefix: 'PLN', milestone: '4.2', component: 'Firing planner', ownerId: 'rafe' },
] as const
const DISPOSITIONS = ['works-as-required', 'cannot-reproduce', 'will-not-fix', 'deferred'] as const

/**
 * Makes the demo's world below a folder: three bare repositories with real commits, and world.jsonl with the
 * steps of the past year. The same day gives the same commits, hash by hash. The builds' results come from
 * really running the tests of each commit.
 */
export async function buildWorld({ dataDir, todayMs }: { dataDir: string; todayMs: number }): Promise<void> {
  const reports = JSON.parse(await readFile(join(DATA, 'reports.json'), 'utf8')) as Report[]
  const requirements = JSON.parse(await readFile(join(DATA, 'requirements.json'), 'utf8')) as Extract<
    WorldStep,
    { do: 'setup' }
  >['requirements']
  const logs = orderLogs(todayMs, reports)
  const keyByPiece = new Map(logs.flatMap((log, index) => (log.piece ? [[log.piece, `EMB-${index + 1}`] as const] : [])))
  const history = makeHistory(todayMs, (piece) => keyByPiece.get(piece) ?? 'EMB-1')
  const shas = await writeRepositories(join(dataDir, 'git'), history)
  const sha = (mark: number) => shas.get(mark) ?? ''
  const steps: WorldStep[] = [
    setupStep(todayMs, requirements),
    ...logs.flatMap((log, index) => logSteps(log, `EMB-${index + 1}`, index, todayMs, history)),
    ...EPICS.flatMap((epic, index) => epicSteps(epic, `EMB-${logs.length + index + 1}`, todayMs, history)),
    ...firstRefs(history, sha),
    ...history.pieces.flatMap((piece) => pieceSteps(piece, sha)),
    ...(await buildSteps(join(dataDir, 'git'), history, sha)),
    ...history.releases.flatMap((release) => releaseSteps(history, release, sha)),
    ...makeOccurrences(history, todayMs).map((batch): WorldStep => ({ do: 'occurrences', ...batch })),
  ]
  // Occurrences come last, since the items that rules log from them take the numbers after those of people.
  steps.sort((a, b) => Number(a.do === 'occurrences') - Number(b.do === 'occurrences') || a.atMs - b.atMs)
  const out = createWriteStream(join(dataDir, 'world.jsonl'))
  for (const step of steps) out.write(`${JSON.stringify(step)}\n`)
  await new Promise<void>((resolve, reject) => out.end((error?: Error | null) => (error ? reject(error) : resolve())))
  await writeFile(
    join(dataDir, 'pull-requests.json'),
    JSON.stringify(steps.flatMap((step) => (step.do === 'pull-request' ? [step.pr] : []))),
  )
}

const dayOf = (atMs: number) => new Date(atMs).toISOString().slice(0, 10)

interface Log {
  atMs: number
  piece: Piece | null
  report: Report | null
  component: string
}

/**
 * All loggings in order of time, so that their numbers are known before the commits that name them are made.
 * Pieces come through a first run of the history.
 */
function orderLogs(todayMs: number, reports: readonly Report[]): Log[] {
  const dry = makeHistory(todayMs, () => 'EMB-1')
  const pieces = dry.pieces.map((piece): Log => ({ atMs: piece.loggedAtMs, piece: piece.piece, report: null, component: piece.component }))
  const others = reports.map(
    (report, index): Log => ({
      atMs: todayMs - Math.round((1 - index / reports.length) ** 1.4 * 340 * DAY_MS) - 3600_000 * (2 + (index % 7)),
      piece: null,
      report,
      component: COMPONENT_BY_REPORT[report.component] ?? 'Firing planner',
    }),
  )
  return [...pieces, ...others].sort((a, b) => a.atMs - b.atMs)
}

function setupStep(todayMs: number, requirements: Extract<WorldStep, { do: 'setup' }>['requirements']): WorldStep {
  const names = ['Kiln control', 'Firing planner', 'Glaze lab', 'Billing', 'Firing archive', 'Phone app']
  const repositories = ['kiln-controller', 'firing-planner', 'glaze-lab']
  return {
    atMs: todayMs - 360 * DAY_MS,
    do: 'setup',
    project: { prefix: 'EMB', name: 'Emberwick', silenceMs: 6000, requirementPrefixes: ['SAF', 'PLN', 'GLZ', 'BKG'] },
    people: PEOPLE.map((person) => ({ ...person, email: emailOf(person.personId) })),
    components: names.map((name, index) => ({
      name,
      keeperId: COMMITTERS[index]?.personId ?? 'ines',
      repository: repositories[index] ?? null,
    })),
    repositories: REPOSITORIES.map((repository) => repository.name),
    milestones: [
      { name: '4.1', startsOn: dayOf(todayMs - 330 * DAY_MS), dueOn: dayOf(todayMs - 90 * DAY_MS), isClosed: true },
      { name: '4.2', startsOn: dayOf(todayMs - 90 * DAY_MS), dueOn: dayOf(todayMs + 26 * DAY_MS), isClosed: false },
    ],
    requirements,
  }
}

function logSteps(log: Log, key: string, index: number, todayMs: number, history: DemoHistory): WorldStep[] {
  const by = COMMITTERS[index % COMMITTERS.length]?.personId ?? 'ines'
  if (log.piece) {
    const piece = history.pieces.find((entry) => entry.piece === log.piece)
    const owner = piece?.owner.personId ?? 'ines'
    const severity = log.piece.type === 'defect' ? 1 + (index % 4) : 3
    return [
      {
        atMs: log.atMs,
        do: 'log',
        by,
        key,
        input: {
          title: log.piece.title,
          type: log.piece.type,
          component: log.component,
          milestone: log.atMs > todayMs - 90 * DAY_MS ? '4.2' : '4.1',
          description: `Asked for by ${log.piece.requirement}.`,
          labels: log.piece.requirement.startsWith('SAF') ? ['safety'] : [],
        },
      },
      {
        atMs: log.atMs + 5 * 3600_000,
        do: 'accept',
        by: 'ines',
        key,
        input: { severity, ownerId: owner, component: log.component, requirement: log.piece.requirement },
      },
    ]
  }
  const report = log.report as Report
  const steps: WorldStep[] = [
    {
      atMs: log.atMs,
      do: 'log',
      by,
      key,
      input: {
        title: report.title,
        type: 'defect',
        component: log.component,
        description: report.description,
        severity: index % 3 === 0 ? report.severity : null,
        labels: index % 4 === 0 ? ['member-reported'] : [],
      },
    },
  ]
  const ageDays = (todayMs - log.atMs) / DAY_MS
  if (ageDays < 9) return steps
  const decidedAtMs = log.atMs + (4 + (index % 30)) * 3600_000
  if (index % 4 === 1)
    return [
      ...steps,
      {
        atMs: decidedAtMs,
        do: 'reject',
        by: 'ines',
        key,
        input: { disposition: DISPOSITIONS[index % DISPOSITIONS.length], words: 'Looked into with the reporter.' },
      },
    ]
  steps.push({
    atMs: decidedAtMs,
    do: 'accept',
    by: 'ines',
    key,
    input: { severity: report.severity, ownerId: index % 5 === 0 ? null : by, component: log.component, requirement: null },
  })
  if (index % 6 === 0)
    steps.push({
      atMs: decidedAtMs + 3600_000,
      do: 'comment',
      by: 'noor',
      key,
      text: 'A member told me the same at the **Harrow Lane** studio on Saturday.',
    })
  if (ageDays > 120 && index % 3 !== 0) steps.push({ atMs: decidedAtMs + 9 * DAY_MS, do: 'verify', by: 'noor', key })
  return steps
}

function epicSteps(epic: (typeof EPICS)[number], key: string, todayMs: number, history: DemoHistory): WorldStep[] {
  const atMs = todayMs - 60 * 60_000
  const { title, milestone, component, ownerId } = epic
  const parts = history.pieces.filter((piece) => piece.piece.requirement.startsWith(epic.prefix)).slice(-6)
  return [
    {
      atMs,
      do: 'log',
      by: ownerId,
      key,
      input: { title, type: 'epic', component, milestone, description: `What ${epic.prefix} still asks for.` },
    },
    { atMs: atMs + 1000, do: 'accept', by: 'ines', key, input: { severity: 3, ownerId, component, requirement: null } },
    ...parts.map(
      (piece): WorldStep => ({
        atMs: atMs + 2000,
        do: 'link',
        by: ownerId,
        key: piece.itemKey,
        input: { kind: 'parent', to: { kind: 'item', id: key } },
      }),
    ),
  ]
}

async function writeRepositories(gitDir: string, history: DemoHistory): Promise<Map<number, string>> {
  const shas = new Map<number, string>()
  for (const [name, commits] of history.commitsByRepository) {
    const dir = join(gitDir, `${name}.git`)
    await mkdir(dir, { recursive: true })
    await run('git', ['init', '--quiet', '--bare', '--initial-branch=main'], { dir })
    await run('git', ['config', 'http.receivepack', 'true'], { dir })
    for (const [mark, sha] of await importCommits(dir, commits)) shas.set(mark, sha)
    for (const release of history.releases.filter((entry) => entry.repository === name))
      await run('git', ['tag', `v${release.name}`, shas.get(release.mark) ?? ''], { dir })
    for (const piece of history.pieces.filter((entry) => entry.repository === name && entry.mergeMark !== null))
      await run('git', ['update-ref', '-d', `refs/heads/${piece.branch}`], { dir })
  }
  return shas
}

function firstRefs(history: DemoHistory, sha: (mark: number) => string): WorldStep[] {
  return [...history.commitsByRepository].map(([repository, commits]) => ({
    atMs: commits[1]?.atMs ?? 0,
    do: 'refs',
    repository,
    moves: [{ ref: 'refs/heads/main', to: sha(commits[1]?.mark ?? 0) }],
    cause: 'first push',
  }))
}

function pieceSteps(history: PieceHistory, sha: (mark: number) => string): WorldStep[] {
  const { repository, branch, itemKey, owner, reviewer } = history
  const last = history.branchCommits.at(-1) ?? { mark: 0, atMs: 0 }
  const ref = `refs/heads/${branch}`
  const pr = (version: number, atMs: number, state: 'open' | 'merged') => ({
    atMs,
    do: 'pull-request' as const,
    pr: {
      repository,
      number: history.number,
      title: history.piece.title,
      body: `${history.piece.type === 'defect' ? 'Fixes' : 'Closes'} ${itemKey}.`,
      state,
      author: owner.name,
      head: branch,
      base: 'main',
      headSha: sha(last.mark),
      mergeSha: state === 'merged' ? sha(history.mergeMark ?? 0) : null,
      createdAtMs: last.atMs + 1800_000,
      updatedAtMs: atMs,
      version,
    },
  })
  const steps: WorldStep[] = [
    { atMs: (history.branchCommits[0]?.atMs ?? 0) - 3600_000, do: 'start', by: owner.personId, key: itemKey, repository, branch },
    ...history.branchCommits.map(
      (commit): WorldStep => ({
        atMs: commit.atMs + 60_000,
        do: 'refs',
        repository,
        moves: [{ ref, to: sha(commit.mark) }],
        cause: `push to ${branch}`,
      }),
    ),
    pr(1, last.atMs + 1800_000, 'open'),
  ]
  if (history.mergedAtMs === null || history.mergeMark === null) return steps
  steps.push(
    {
      atMs: history.mergedAtMs,
      do: 'refs',
      repository,
      moves: [{ ref: 'refs/heads/main', to: sha(history.mergeMark) }],
      cause: `merge of pull request ${history.number}`,
    },
    pr(2, history.mergedAtMs + 1000, 'merged'),
  )
  if (history.mend !== null)
    steps.push({
      atMs: history.mend.atMs,
      do: 'refs',
      repository,
      moves: [{ ref: 'refs/heads/main', to: sha(history.mend.mark) }],
      cause: `push to main by ${owner.name}`,
    })
  steps.push({
    atMs: history.mergedAtMs + 60_000,
    do: 'refs',
    repository,
    moves: [{ ref, to: null }],
    cause: `${reviewer.name} removed the branch`,
  })
  return steps
}

/** Really runs the tests at each branch commit, at every other merge and at each release; two at a time. */
async function buildSteps(gitDir: string, history: DemoHistory, sha: (mark: number) => string): Promise<WorldStep[]> {
  const jobs = history.pieces.flatMap((piece, index) => {
    const commits = piece.piece.slip ? piece.branchCommits : piece.branchCommits.slice(-1)
    const branch = commits.map((commit) => ({
      repository: piece.repository,
      mark: commit.mark,
      branch: piece.branch,
      atMs: commit.atMs + 120_000,
    }))
    const { repository, mergeMark, mergedAtMs, mend } = piece
    return [
      ...branch,
      ...(mergeMark !== null && (index % 2 === 0 || mend !== null)
        ? [{ repository, mark: mergeMark, branch: 'main', atMs: (mergedAtMs ?? 0) + 120_000 }]
        : []),
      ...(mend === null ? [] : [{ repository, mark: mend.mark, branch: 'main', atMs: mend.atMs + 120_000 }]),
    ]
  })
  jobs.push(
    ...history.releases.map((release) => ({
      repository: release.repository,
      mark: release.mark,
      branch: 'main',
      atMs: release.atMs - 300_000,
    })),
  )
  jobs.sort((a, b) => a.atMs - b.atMs)
  const numbers = new Map<string, number>()
  const numbered = jobs.map((job) => {
    const number = (numbers.get(job.repository) ?? 0) + 1
    numbers.set(job.repository, number)
    return { ...job, number }
  })
  const steps: WorldStep[] = []
  const queue = [...numbered]
  const worker = async () => {
    for (let job = queue.shift(); job; job = queue.shift()) {
      const { junit, lcov, sarif, log, isGreen } = await runTests(join(gitDir, `${job.repository}.git`), sha(job.mark))
      steps.push({
        atMs: job.atMs + 45_000,
        do: 'build',
        repository: job.repository,
        number: job.number,
        sha: sha(job.mark),
        branch: job.branch,
        state: isGreen ? 'passed' : 'broke',
        startedAtMs: job.atMs,
        junit,
        lcov,
        sarif,
        log,
      })
    }
  }
  await Promise.all([worker(), worker(), worker()])
  return steps
}

function releaseSteps(
  history: DemoHistory,
  release: { repository: string; name: string; mark: number; atMs: number },
  sha: (mark: number) => string,
): WorldStep[] {
  const { repository, name, atMs } = release
  const isNewest = history.releases.filter((entry) => entry.repository === repository).at(-1) === release
  const before = Math.max(
    0,
    ...history.releases.filter((entry) => entry.repository === repository && entry.atMs < atMs).map((entry) => entry.atMs),
  )
  const pieces = history.pieces.filter(
    (piece) => piece.repository === repository && piece.mergedAtMs !== null && piece.mergedAtMs < atMs && piece.mergedAtMs > before,
  )
  return [
    { atMs: atMs - 900_000, do: 'refs', repository, moves: [{ ref: 'refs/heads/main', to: sha(release.mark) }], cause: `release ${name}` },
    { atMs, do: 'refs', repository, moves: [{ ref: `refs/tags/v${name}`, to: sha(release.mark) }], cause: `tag v${name}` },
    { atMs: atMs + 3600_000, do: 'deployment', service: repository, release: name, environment: 'staging', by: 'tam' },
    { atMs: atMs + DAY_MS, do: 'deployment', service: repository, release: name, environment: 'production', by: 'ines' },
    ...(isNewest ? [] : pieces.map((piece): WorldStep => ({ atMs: atMs + 6 * DAY_MS, do: 'verify', by: 'noor', key: piece.itemKey }))),
  ]
}
