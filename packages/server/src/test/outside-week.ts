import { cloudEvent, connectRepository, exceptionRequest, startApp, TestRepository, type App, type AppOptions } from './app-harness.js'

/** Something that an outside service tells. */
export interface Fact {
  name: string
  send(app: App): Promise<{ status: number }>
}
export const T0 = 1_790_500_000_000
const HOUR_MS = 3_600_000

/**
 * A week of outside events about one repository, as its services would tell them: pushes, pull requests with what became of them, builds
 * with reports in shards, findings, coverage, deployments with a rollback, and runtime errors. Each may come at any time, and again.
 */
export class OutsideWeek {
  readonly repo = new TestRepository()
  readonly sha: Record<'relay' | 'rounding' | 'given-up' | 'merged' | 'rounded' | 'picked' | 'reverted', string>

  constructor() {
    const { repo } = this
    repo.commit('src/probe.js', 'one\n', 'Begin')
    repo.git('tag', 'v1.0.0')
    const branch = (name: string, path: string, message: string) => {
      repo.git('checkout', '--quiet', '-b', name, 'main')
      const sha = repo.commit(path, `${message}\n`, message)
      repo.git('checkout', '--quiet', 'main')
      return sha
    }
    const merge = (name: string) => {
      repo.git('merge', '--quiet', '--no-ff', '-m', `Merge ${name}`, name)
      return repo.git('rev-parse', 'HEAD')
    }
    const relay = branch('fix/EMB-1-relay', 'src/relay.js', 'Open the relay\n\nFixes: EMB-1')
    const merged = merge('fix/EMB-1-relay')
    repo.git('tag', 'v1.0.1')
    const rounding = branch('fix/EMB-2-rounding', 'src/round.js', 'Round once\n\nFixes: EMB-2\nTime: 40m')
    const rounded = merge('fix/EMB-2-rounding')
    const givenUp = branch('try/EMB-3-cache', 'src/cache.js', 'Keep what was read\n\nRelates-to: EMB-3')
    repo.git('checkout', '--quiet', '-b', 'line/1.0', 'v1.0.1')
    repo.git('cherry-pick', rounding)
    const picked = repo.git('rev-parse', 'HEAD')
    repo.git('tag', 'v1.0.2')
    repo.git('checkout', '--quiet', 'main')
    repo.git('revert', '--no-edit', rounding)
    this.sha = { relay, rounding, 'given-up': givenUp, merged, rounded, picked, reverted: repo.git('rev-parse', 'HEAD') }
    repo.git('tag', 'v1.1.0')
  }

  /** An application that knows the repository and three items, and has heard of nothing yet. */
  async freshApp(options: AppOptions = {}): Promise<App> {
    const app = await startApp(options)
    connectRepository(app, 'kiln', this.repo.dir)
    const rafe = await app.asks('rafe')
    for (const title of ['Relay stays closed', 'Planner rounds twice', 'Probe is read too often'])
      await rafe('/items', { method: 'POST', body: { title } })
    return app
  }

  get facts(): Fact[] {
    const { sha } = this
    const pull = (number: number, version: number, more: object) =>
      event(
        `pull request ${number} v${version}`,
        'dev.cdevents.change.updated.0.3.0',
        {
          repository: 'kiln',
          number,
          title: 'Work',
          body: '',
          state: 'open',
          author: 'Ines Okafor',
          base: 'main',
          mergeSha: null,
          createdAtMs: T0,
          updatedAtMs: T0 + version * 1000,
          version,
          ...more,
        },
        T0 + version * 1000,
      )
    const relay = { head: 'fix/EMB-1-relay', headSha: sha.relay, title: 'Open the relay (EMB-1)' }
    const rounding = { head: 'fix/EMB-2-rounding', headSha: sha.rounding, title: 'Round once' }
    const givenUp = { head: 'try/EMB-3-cache', headSha: sha['given-up'], title: 'Keep what was read' }
    const build = (number: number, commit: string, branch: string, hour: number, outcome: string) => {
      const about = { repository: 'kiln', number, sha: commit, branch, startedAtMs: T0 + hour * HOUR_MS }
      return [
        event(`build ${number} started`, 'dev.cdevents.build.started.0.2.0', about, T0 + hour * HOUR_MS + 100),
        event(`build ${number} finished`, 'dev.cdevents.build.finished.0.2.0', { ...about, outcome }, T0 + hour * HOUR_MS + 300_000),
      ]
    }
    const deployment = (release: string, environment: string, hour: number) =>
      event(
        `deploy ${release} to ${environment} at ${hour}`,
        'dev.cdevents.service.deployed.0.2.0',
        { deploymentId: `d-${release}-${environment}-${hour}`, service: 'kiln', release, environment },
        T0 + hour * HOUR_MS,
      )
    return [
      push('refs'),
      push('refs again'),
      pull(7, 1, { ...relay, title: 'Open the relay' }),
      pull(7, 2, relay),
      pull(7, 3, { ...relay, state: 'merged', mergeSha: sha.merged }),
      pull(8, 1, rounding),
      pull(8, 2, { ...rounding, state: 'closed' }),
      pull(8, 3, { ...rounding, title: 'Round once (EMB-2)' }),
      pull(8, 4, { ...rounding, title: 'Round once (EMB-2)', state: 'merged', mergeSha: sha.rounded }),
      pull(9, 1, givenUp),
      pull(9, 2, { ...givenUp, state: 'closed' }),
      ...build(3, sha.relay, 'fix/EMB-1-relay', 1, 'passed'),
      ...build(4, sha.merged, 'main', 3, 'passed'),
      ...build(5, sha.rounding, 'fix/EMB-2-rounding', 20, 'failed'),
      ...build(6, sha.rounded, 'main', 24, 'passed'),
      report('shard failed', { commit: sha.relay, build: 3, suite: 'relay', outcome: '<failure message="no"/>' }),
      report('shard passed', { commit: sha.relay, build: 3, suite: 'relay', outcome: '' }),
      report('other shard', { commit: sha.relay, build: 3, suite: 'planner', outcome: '<skipped/>' }),
      report('main passed', { commit: sha.merged, build: 4, suite: 'relay', outcome: '' }),
      report('rounding failed', { commit: sha.rounding, build: 5, suite: 'rounding', outcome: '<error message="NaN"/>' }),
      findings('findings', sha.merged),
      coverage('coverage', sha.merged),
      deployment('1.0.0', 'production', 2),
      deployment('1.0.1', 'staging', 30),
      deployment('1.0.1', 'production', 50),
      deployment('1.0.2', 'production', 90),
      deployment('1.0.1', 'production', 92),
      error('an error of 1.0.0', '1.0.0', 'no reading', 4),
      error('an error of 1.0.1', '1.0.1', 'no reading', 55),
      error('another of 1.0.2', '1.0.2', 'rounded twice', 91),
    ]
  }

  remove(): void {
    this.repo.remove()
  }
}

function push(name: string): Fact {
  return {
    name,
    send: async (app) => {
      await app.server.sync.request('kiln', 'test')
      return { status: 200 }
    },
  }
}
function event(name: string, type: string, customData: object, atMs: number): Fact {
  const body = cloudEvent(type, name, customData, atMs)
  return { name, send: (app) => told(app, '/receive/cloudevents', JSON.stringify(body), 'application/cloudevents+json') }
}
function report(name: string, { commit, build, suite, outcome }: { commit: string; build: number; suite: string; outcome: string }): Fact {
  const xml =
    `<testsuites><testsuite name="${suite}"><testcase name="EMB-1: opens" ` +
    `time="0.1">${outcome}</testcase><testcase name="SAF-3 holds" time="0.1"/></testsuite></testsuites>`
  return {
    name,
    send: (app) => told(app, `/receive/reports/junit?repository=kiln&commit=${commit}&build=${build}`, xml, 'application/xml'),
  }
}
function findings(name: string, commit: string): Fact {
  const region = { startLine: 3, snippet: { text: 'if (open = true)' } }
  const results = [
    { ruleId: 'no-assign', level: 'error', message: { text: 'assigned' }, at: 'src/relay.js' },
    { ruleId: 'no-unused', level: 'note', message: { text: 'unused' }, at: 'src/probe.js' },
  ].map(({ at, ...result }) => ({ ...result, locations: [{ physicalLocation: { artifactLocation: { uri: at }, region } }] }))
  const sarif = JSON.stringify({ version: '2.1.0', runs: [{ tool: { driver: { name: 'lint' } }, results }] })
  return { name, send: (app) => told(app, `/receive/reports/sarif?repository=kiln&commit=${commit}&build=4`, sarif, 'application/json') }
}
function coverage(name: string, commit: string): Fact {
  const lcov = 'TN:\nSF:src/relay.js\nDA:1,1\nDA:2,0\nend_of_record\n'
  return { name, send: (app) => told(app, `/receive/reports/lcov?repository=kiln&commit=${commit}&build=4`, lcov, 'text/plain') }
}
/** Once each: what a rule made of many would have the number of its time. */
function error(name: string, release: string, message: string, hour: number): Fact {
  const body = exceptionRequest({ release, message, atMs: T0 + hour * HOUR_MS })
  return { name, send: (app) => told(app, '/otlp/v1/logs', JSON.stringify(body), 'application/json') }
}

function told(app: App, path: string, raw: string, type: string): Promise<{ status: number }> {
  return app.call(path, { method: 'POST', raw, headers: { authorization: `Bearer ${app.token('intake')}`, 'content-type': type } })
}

/** What only says when this server happened to learn of something, or what it made of it at that time. */
const LEARNT = new Set([
  'at_ms',
  'first_seen_at_ms',
  'moved_at_ms',
  'updated_at_ms',
  'created_at_ms',
  'revision',
  'started_at_ms',
  'ladder',
])
const TABLES = ['git_ref', 'pull_request', 'build', 'test_result', 'release', 'deployment', 'item', 'link_assertion', 'time_entry'] as const

/** What the evidence tables hold, and how often each error came. */
export function evidenceOf({ ctx }: App): string {
  const rows = TABLES.map((table) => [
    table,
    ctx.db
      .prepare<[], Record<string, unknown>>(`SELECT * FROM ${table}${table === 'link_assertion' ? ' WHERE retracted_at_ms IS NULL' : ''}`)
      .all()
      .map((row) =>
        JSON.stringify(
          Object.fromEntries(
            Object.entries(row).filter(([name]) => !LEARNT.has(name) || (table === 'pull_request' && name.endsWith('at_ms'))),
          ),
        ),
      )
      .sort(),
  ])
  const errors = ctx.volume
    .prepare('SELECT message, release, count(*) AS times FROM occurrence GROUP BY message, release ORDER BY 1, 2')
    .all()
  return JSON.stringify([...rows, ['errors', errors]], null, 1)
}

/** The facts in another order, some of them twice: the same for the same seed, so that a failing order can be had again. */
export function anotherOrder(facts: readonly Fact[], seed: number): Fact[] {
  const order = [...facts, ...facts.filter((_, index) => (index + seed) % 3 === 0)]
  let state = seed
  for (let index = order.length - 1; index > 0; index--) {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648
    const other = state % (index + 1)
    ;[order[index], order[other]] = [order[other] as Fact, order[index] as Fact]
  }
  return order
}
