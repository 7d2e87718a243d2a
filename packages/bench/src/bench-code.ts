import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import type { Who } from '@dystracer/core/people/who'
import { buildContext } from '@dystracer/server/context'
import { startServer } from '@dystracer/server/server'
import { listCommits, listPullRequests } from '@dystracer/server/subjects/code/code-lists.views'
import { readPullRequestDiff } from '@dystracer/server/subjects/code/code.views'
import { readFile, searchFiles } from '@dystracer/server/subjects/files/files.views'
import { listUnexplained } from '@dystracer/server/subjects/ties/ties.views'
import { connectTides, git, makeTides, middle, quietConfig, round, say } from './bench-history.js'
import { fillWorld } from './bench-world.js'

const PULL_REQUESTS = 10_000
const LONG_LINES = 5000
const EDITS = 40
const TURNS = 7

/**
 * What a developer waits for in a repository of so many commits and 10,000 pull requests: a page of each
 * list, by filter too; a file of 5,000 lines with who asked for each; a diff of 5,000 lines; a text in all
 * files. Beside the bare statement or the bare git command in the same run.
 */
export async function benchCode({ commits = 20_000 }: { commits?: number } = {}): Promise<Record<string, number>> {
  const dir = mkdtempSync(join(tmpdir(), 'dystracer-code-'))
  try {
    const source = await makeTides(dir, commits)
    writeLongFile(dir, source)
    const owned = buildContext(quietConfig(dir))
    const { ctx } = owned
    fillWorld(ctx, { items: 2000, comments: 0, waiting: 0, notices: 0 })
    const server = await startServer(owned)
    connectTides(ctx, source)
    say('reading')
    await server.sync.request('tides', 'bench')
    const tip = git(source, 'rev-parse', 'main').trim()
    addPullRequests(ctx, git(source, 'rev-parse', 'main~41').trim(), tip)
    const who: Who = { actor: 'person:ines', personId: 'ines', roles: {}, everywhere: 'lead', via: 'session' } as unknown as Who

    say('asking')
    const plain = () => ctx.db.prepare('SELECT * FROM pull_request ORDER BY updated_at_ms DESC, repository, number LIMIT 60').all()
    const figures = {
      commits,
      pullRequestPageMs: await time(() => listPullRequests(ctx, who, { limit: 60 })),
      pullRequestFilterMs: await time(() => listPullRequests(ctx, who, { limit: 60, filter: 'merged author=noor "tide 9"' })),
      barePullRequestPageMs: await time(plain),
      commitFilterMs: await time(() => listCommits(ctx, who, { limit: 60, filter: 'path=area-7 "commit 19" or author=nobody' })),
      unexplainedPageMs: await time(() => listUnexplained(ctx, who, { limit: 20 })),
      fileMs: await time(() => readFile(ctx, who, 'tides', 'long.js')),
      gitBlameMs: await time(() => git(source, 'blame', '--incremental', tip, '--', 'long.js')),
      searchMs: await time(() => searchFiles(ctx, who, { q: 'line 4999' })),
      gitGrepMs: await time(() => git(source, 'grep', '-n', '-i', '--fixed-strings', '-e', 'line 4999', tip)),
      diffMs: await time(() => readPullRequestDiff(ctx, who, 'tides/1')),
      gitDiffMs: await time(() => git(source, 'diff', `${tip}~41`, tip)),
    }
    await server.stop()
    return figures
  } finally {
    rmSync(dir, { recursive: true, force: true })
  }
}

/** The middle of some turns, the first of which is not counted: it reads what the others find in memory. */
async function time(work: () => unknown): Promise<number> {
  const turnsMs: number[] = []
  for (let turn = 0; turn <= TURNS; turn++) {
    const startMs = performance.now()
    await work()
    if (turn > 0) turnsMs.push(performance.now() - startMs)
  }
  return round(middle(turnsMs))
}

/** A file of 5,000 lines, and forty changes of a hundred lines each. */
function writeLongFile(dir: string, source: string): void {
  const work = join(dir, 'work')
  git(dir, 'clone', '--quiet', source, work)
  const lines = Array.from({ length: LONG_LINES }, (_, at) => `const line${at} = 'line ${at}'`)
  const commit = (message: string) => {
    writeFileSync(join(work, 'long.js'), `${lines.join('\n')}\n`)
    git(work, 'add', '.')
    git(work, '-c', 'user.name=Noor', '-c', 'user.email=noor@tides.example', 'commit', '--quiet', '-m', message)
  }
  commit('Begin the long file')
  for (let edit = 0; edit < EDITS; edit++) {
    for (let at = edit; at < LONG_LINES; at += EDITS) lines[at] = `const line${at} = 'line ${at}, changed ${edit}'`
    commit(`Change the long file ${edit}`)
  }
  git(work, 'push', '--quiet', 'origin', 'HEAD:main')
}

function addPullRequests(ctx: ReturnType<typeof buildContext>['ctx'], base: string, head: string): void {
  const insert = ctx.db.prepare(`INSERT INTO pull_request (repository, number, title, body, state, author, head, base, head_sha, merge_sha,
      created_at_ms, updated_at_ms, version, is_ours, base_sha)
    VALUES ('tides', @number, @title, '', @state, @author, @head, 'main', @headSha, NULL, @atMs, @atMs, 1, 1, @baseSha)`)
  ctx.db.transaction(() => {
    for (let number = 1; number <= PULL_REQUESTS; number++)
      insert.run({
        number,
        title: `Turn tide ${number}`,
        state: number % 10 === 0 ? 'open' : 'merged',
        author: ['Noor', 'Rafe', 'Tam'][number % 3] ?? 'Noor',
        head: `feature/tide-${number}`,
        headSha: head,
        baseSha: base,
        atMs: 1_780_000_000_000 + number * 60_000,
      })
  })()
}
