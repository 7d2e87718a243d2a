import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { withLinesChanged, type LineChange } from '@dystracer/core/reviews/line-changes'
import { pushRef, type MergeResult } from './merge.js'
import type { GitAccess, Outside } from './outward.js'
import { readFileAt } from './read-files.js'
import { assertSha, runGit } from './run-git.js'

export interface ChangeLinesInput {
  dir: string
  url: string
  access: GitAccess | null
  branch: string
  /** Where the branch is expected to stand; the lines are those of this commit. */
  head: string
  changes: LineChange[]
  message: string
  by: { name: string; email: string }
  /** Whose work the new lines are. */
  author: { name: string; email: string; atMs: number }
}

/** What became of it; `gone`: a file or its lines are not there. */
export type ChangeLinesResult = MergeResult | { kind: 'gone'; path: string }

/** Makes a commit that changes lines of files on top of a branch, without a work tree, and pushes it if the branch still stands there. */
export async function changeLines(input: ChangeLinesInput, outside: Outside): Promise<ChangeLinesResult> {
  const { dir, branch, by, author } = input
  const head = assertSha(input.head)
  const scratch = await mkdtemp(join(tmpdir(), 'dystracer-index-'))
  try {
    const environment = { GIT_INDEX_FILE: join(scratch, 'index') }
    await runGit(['read-tree', head], { dir, environment })
    for (const path of new Set(input.changes.map((change) => change.path))) {
      const file = await readFileAt(dir, head, path)
      const text =
        file && !file.isBinary && !file.isCut
          ? withLinesChanged(
              file.text,
              input.changes.filter((change) => change.path === path),
            )
          : null
      if (text === null) return { kind: 'gone', path }
      const blob = assertSha((await runGit(['hash-object', '-w', '--stdin'], { dir, input: text })).toString('utf8').trim())
      // The mode stays as it is: only what the file holds is another.
      const listed = (await runGit(['ls-files', '-s', '-z', '--', `:(literal)${path}`], { dir, environment })).toString('utf8')
      await runGit(['update-index', '-z', '--index-info'], { dir, environment, input: `${listed.slice(0, 6)} ${blob}\t${path}\0` })
    }
    const tree = assertSha((await runGit(['write-tree'], { dir, environment })).toString('utf8').trim())
    const made = await runGit(['commit-tree', tree, '-p', head, '-F', '-'], { dir, input: input.message, identity: by, author })
    const sha = assertSha(made.toString('utf8').trim())
    return await pushRef({ dir, url: input.url, access: input.access, branch, sha, expected: head }, outside)
  } finally {
    await rm(scratch, { recursive: true, force: true })
  }
}
