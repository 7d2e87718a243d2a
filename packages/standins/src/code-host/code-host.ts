import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { mkdtemp, rm, writeFile, mkdir } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { run } from '#demo/fast-import'
import { emailOf, PEOPLE } from '#demo/people'
import { RequestError } from '#wire/json-server'
import type { EventSender } from '#wire/events'

export interface PullRequest {
  repository: string
  number: number
  title: string
  body: string
  state: 'open' | 'merged' | 'closed'
  author: string
  head: string
  base: string
  headSha: string
  mergeSha: string | null
  createdAtMs: number
  updatedAtMs: number
  version: number
}
/** What an outside program shows of a pull request; the next replaces it. */
export interface Status {
  repository: string
  number: number
  sha: string
  state: string
  summary: string
  url: string
  items: { key: string; url: string }[]
}

/**
 * Repositories on disk, branches and pull requests; everything that moves is told to Dystracer.
 */
export class CodeHost {
  readonly gitDir: string
  readonly #statePath: string
  readonly #events: EventSender
  readonly #tips = new Map<string, Map<string, string>>()
  #pullRequests: PullRequest[]
  readonly #statusesPath: string
  readonly #statuses: Map<string, Status>

  constructor({ dataDir, events }: { dataDir: string; events: EventSender }) {
    this.gitDir = join(dataDir, 'git')
    this.#statePath = join(dataDir, 'pull-requests.json')
    this.#statusesPath = join(dataDir, 'statuses.json')
    this.#statuses = new Map(existsSync(this.#statusesPath) ? JSON.parse(readFileSync(this.#statusesPath, 'utf8')) : [])
    this.#events = events
    // The seeded file holds every version; the newest of each counts.
    const all = existsSync(this.#statePath) ? (JSON.parse(readFileSync(this.#statePath, 'utf8')) as PullRequest[]) : []
    this.#pullRequests = [...new Map(all.map((pr) => [`${pr.repository}/${pr.number}`, pr])).values()]
  }

  get repositories(): string[] {
    return ['kiln-controller', 'firing-planner', 'glaze-lab']
  }

  async start(): Promise<void> {
    for (const repository of this.repositories) this.#tips.set(repository, await this.readTips(repository))
  }

  async readTips(repository: string): Promise<Map<string, string>> {
    const out = await run('git', ['for-each-ref', '--format=%(refname) %(objectname)'], { dir: this.#dirOf(repository) })
    return new Map(
      out
        .toString('utf8')
        .trim()
        .split('\n')
        .filter(Boolean)
        .map((line) => line.split(' ') as [string, string]),
    )
  }

  #dirOf(repository: string): string {
    if (!this.repositories.includes(repository)) throw new RequestError(404, `no repository ${repository}`)
    return join(this.gitDir, `${repository}.git`)
  }

  /** Finds out what a push moved; updates the pull requests of moved branches and tells everybody. */
  async afterPush(repository: string): Promise<void> {
    const before = this.#tips.get(repository) ?? new Map<string, string>()
    const now = await this.readTips(repository)
    this.#tips.set(repository, now)
    const moved = [...now].filter(([ref, sha]) => before.get(ref) !== sha)
    if (moved.length === 0 && [...before.keys()].every((ref) => now.has(ref))) return
    const told = this.#events.send('dev.cdevents.repository.modified.0.2.0', repository, { repository })
    for (const [ref, sha] of moved) {
      if (!ref.startsWith('refs/heads/')) continue
      const branch = ref.slice(11)
      for (const pr of this.#pullRequests.filter(
        (entry) => entry.repository === repository && entry.head === branch && entry.state === 'open',
      ))
        await this.#update(pr, { headSha: sha }, 'updated')
    }
    await told
  }

  list(repository?: string): PullRequest[] {
    return this.#pullRequests.filter((pr) => repository === undefined || pr.repository === repository)
  }

  async createBranch({ repository, branch, from }: { repository: string; branch: string; from: string }): Promise<void> {
    const dir = this.#dirOf(repository)
    // Git itself takes such a ref, and every later command takes it for an option.
    if (branch.startsWith('-')) throw new RequestError(422, 'a branch does not begin with a hyphen')
    await run('git', ['check-ref-format', `refs/heads/${branch}`], { dir })
    const tips = await this.readTips(repository)
    if (tips.has(`refs/heads/${branch}`)) return
    const sha = tips.get(`refs/heads/${from}`)
    if (!sha) throw new RequestError(422, `no branch ${from}`)
    await run('git', ['update-ref', `refs/heads/${branch}`, sha], { dir })
    await this.afterPush(repository)
  }

  /** Title and text come from the branch's commits: one commit gives both, several give a list. */
  async openPullRequest({
    repository,
    head,
    base = 'main',
    by,
  }: {
    repository: string
    head: string
    base?: string
    by: string
  }): Promise<PullRequest> {
    const dir = this.#dirOf(repository)
    const open = this.#pullRequests.find((pr) => pr.repository === repository && pr.head === head && pr.state === 'open')
    if (open) return open
    const tips = await this.readTips(repository)
    const headSha = tips.get(`refs/heads/${head}`)
    if (!headSha) throw new RequestError(422, `no branch ${head}`)
    const baseSha = tips.get(`refs/heads/${base}`)
    if (!baseSha) throw new RequestError(422, `no branch ${base}`)
    const log = (await run('git', ['log', '--reverse', '--format=%s%x00%b%x01', `${baseSha}..${headSha}`], { dir })).toString('utf8')
    const commits = log
      .split('\u0001\n')
      .filter(Boolean)
      .map((entry) => entry.split('\0') as [string, string])
    if (commits.length === 0) throw new RequestError(422, `the branch has no commit that ${base} has not`)
    const [title, text] = commits.at(-1) as [string, string]
    const body = commits.length === 1 ? text.trim() : `${commits.map(([subject]) => `- ${subject}`).join('\n')}\n\n${text.trim()}`
    const nowMs = Date.now()
    const number = Math.max(0, ...this.list(repository).map((pr) => pr.number)) + 1
    const pr: PullRequest = {
      repository,
      number,
      title,
      body,
      state: 'open',
      author: PEOPLE.find((person) => person.personId === by)?.name ?? by,
      head,
      base,
      headSha,
      mergeSha: null,
      createdAtMs: nowMs,
      updatedAtMs: nowMs,
      version: 1,
    }
    this.#pullRequests.push(pr)
    this.#save()
    await this.#tell(pr, 'created')
    return pr
  }

  /** Really merges in git (a merge commit, or one squashed commit) and removes the branch. */
  async merge({
    repository,
    number,
    by,
    method = 'merge',
  }: {
    repository: string
    number: number
    by: string
    method?: string
  }): Promise<PullRequest> {
    const pr = this.#pullRequests.find((entry) => entry.repository === repository && entry.number === Number(number))
    if (pr?.state !== 'open') throw new RequestError(422, `no open pull request ${number}`)
    const dir = this.#dirOf(repository)
    const base = (await this.readTips(repository)).get(`refs/heads/${pr.base}`) ?? ''
    const tree = (await run('git', ['merge-tree', '--write-tree', base, pr.headSha], { dir, allowFailure: true }))
      .toString('utf8')
      .split('\n')
    if (!/^[0-9a-f]{40}$/.test(tree[0] ?? '') || tree.length > 2) throw new RequestError(409, 'the branch does not merge cleanly')
    const person = PEOPLE.find((entry) => entry.personId === by) ?? PEOPLE[0]
    const env = {
      GIT_AUTHOR_NAME: person?.name,
      GIT_AUTHOR_EMAIL: emailOf(person?.personId ?? ''),
      GIT_COMMITTER_NAME: person?.name,
      GIT_COMMITTER_EMAIL: emailOf(person?.personId ?? ''),
    }
    const parents = method === 'squash' ? ['-p', base] : ['-p', base, '-p', pr.headSha]
    const message = method === 'squash' ? `${pr.title}\n\n${pr.body}\n` : `Merge pull request ${number}: ${pr.title}\n`
    const mergeSha = (await run('git', ['commit-tree', tree[0] ?? '', ...parents], { dir, env, input: message })).toString('utf8').trim()
    await run('git', ['update-ref', `refs/heads/${pr.base}`, mergeSha, base], { dir })
    await run('git', ['update-ref', '-d', `refs/heads/${pr.head}`], { dir })
    await this.#update(pr, { state: 'merged', mergeSha }, 'merged')
    await this.afterPush(repository)
    return pr
  }

  /** One for each pull request, in place of what stood there. */
  showStatus(status: Status): void {
    const { repository, number } = status
    if (!this.#pullRequests.some((pr) => pr.repository === repository && pr.number === number))
      throw new RequestError(422, `no pull request ${number} of ${repository}`)
    this.#statuses.set(`${repository}/${number}`, status)
    save(this.#statusesPath, [...this.#statuses])
  }

  statusOf({ repository, number }: PullRequest): Status | undefined {
    return this.#statuses.get(`${repository}/${number}`)
  }

  async tag({ repository, name }: { repository: string; name: string }): Promise<void> {
    const dir = this.#dirOf(repository)
    if (!/^v?\d+\.\d+\.\d+$/.test(name)) throw new RequestError(422, 'a release is named like 4.1.4')
    const tag = name.startsWith('v') ? name : `v${name}`
    if ((await this.readTips(repository)).has(`refs/tags/${tag}`)) throw new RequestError(409, `${tag} exists already`)
    await run('git', ['tag', tag, 'refs/heads/main'], { dir })
    await this.afterPush(repository)
  }

  /** Commits files onto a branch the way a client would: clone, commit, push. */
  async pushChange({
    repository,
    branch,
    message,
    by,
    files,
  }: {
    repository: string
    branch: string
    message: string
    by: string
    files: (read: (path: string) => string) => Record<string, string>
  }): Promise<string> {
    const dir = await mkdtemp(join(tmpdir(), 'dystracer-push-'))
    try {
      await run('git', ['clone', '--quiet', this.#dirOf(repository), 'work'], { dir })
      const work = join(dir, 'work')
      const isThere = (await this.readTips(repository)).has(`refs/heads/${branch}`)
      await run('git', isThere ? ['checkout', '--quiet', branch] : ['checkout', '--quiet', '-b', branch], { dir: work })
      for (const [path, content] of Object.entries(
        files((path) => (existsSync(join(work, path)) ? readFileSync(join(work, path), 'utf8') : '')),
      )) {
        await mkdir(dirname(join(work, path)), { recursive: true })
        await writeFile(join(work, path), content)
      }
      const person = PEOPLE.find((entry) => entry.personId === by) ?? PEOPLE[0]
      await run('git', ['add', '--all'], { dir: work })
      await run(
        'git',
        ['-c', `user.name=${person?.name}`, '-c', `user.email=${emailOf(person?.personId ?? '')}`, 'commit', '--quiet', '--file=-'],
        {
          dir: work,
          input: message,
        },
      )
      await run('git', ['push', '--quiet', 'origin', `HEAD:refs/heads/${branch}`], { dir: work })
      const sha = (await run('git', ['rev-parse', 'HEAD'], { dir: work })).toString('utf8').trim()
      await this.afterPush(repository)
      return sha
    } finally {
      await rm(dir, { recursive: true, force: true })
    }
  }

  async #update(pr: PullRequest, change: Partial<PullRequest>, predicate: string): Promise<void> {
    Object.assign(pr, change, { updatedAtMs: Date.now(), version: pr.version + 1 })
    this.#save()
    await this.#tell(pr, predicate)
  }

  #tell(pr: PullRequest, predicate: string): Promise<void> {
    return this.#events.send(`dev.cdevents.change.${predicate}.0.3.0`, `${pr.repository}/${pr.number}`, pr)
  }

  #save(): void {
    save(this.#statePath, this.#pullRequests)
  }
}

function save(path: string, value: unknown): void {
  writeFileSync(`${path}.part`, JSON.stringify(value))
  renameSync(`${path}.part`, path)
}
