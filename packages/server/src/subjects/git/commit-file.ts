import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pushRef, type MergeResult } from './merge.js'
import type { GitAccess, Outside } from './outward.js'
import { assertSha, runGit } from './run-git.js'

export interface CommitFileInput {
  dir: string
  url: string
  access: GitAccess | null
  /** The branch that is pushed; there must be none of this name. */
  branch: string
  /** The commit that it begins at. */
  from: string
  path: string
  text: string
  message: string
  by: { name: string; email: string }
}

/** Makes a commit that writes one file, without a work tree, and pushes it as a new branch. */
export async function commitFile(input: CommitFileInput, outside: Outside): Promise<MergeResult> {
  const { dir, branch, path, by } = input
  const from = assertSha(input.from)
  const scratch = await mkdtemp(join(tmpdir(), 'dystracer-index-'))
  try {
    const environment = { GIT_INDEX_FILE: join(scratch, 'index') }
    await runGit(['read-tree', from], { dir, environment })
    const blob = assertSha((await runGit(['hash-object', '-w', '--stdin'], { dir, input: input.text })).toString('utf8').trim())
    await runGit(['update-index', '-z', '--index-info'], { dir, environment, input: `100644 ${blob}\t${path}\0` })
    const tree = assertSha((await runGit(['write-tree'], { dir, environment })).toString('utf8').trim())
    const made = await runGit(['commit-tree', tree, '-p', from, '-F', '-'], { dir, input: input.message, identity: by })
    const sha = assertSha(made.toString('utf8').trim())
    return await pushRef({ dir, url: input.url, access: input.access, branch, sha, expected: null }, outside)
  } finally {
    await rm(scratch, { recursive: true, force: true })
  }
}
