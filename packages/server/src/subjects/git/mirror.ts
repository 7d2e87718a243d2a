import { existsSync, readFileSync } from 'node:fs'
import { mkdir, readdir, rm, stat } from 'node:fs/promises'
import { join, relative, resolve } from 'node:path'
import { isLockFile } from '@dystracer/core/dependencies/lock-files'
import { goOut, type GitAccess, type Outside } from './outward.js'
import { assertSha, GitError, runGit } from './run-git.js'

export interface RefTip {
  ref: string
  sha: string
}
export interface RawCommit {
  sha: string
  parents: string[]
  authorName: string
  authorEmail: string
  authorAtMs: number
  committedAtMs: number
  message: string
  patchId: string | null
  files: { path: string; added: number | null; removed: number | null }[]
}

/** A host that sends nothing and says nothing for so long is given up; one that goes on sending is not. */
const SILENCE_MS = 10 * 60_000
/** A list of hashes: some ten million of them. */
const LIST_MAX_BYTES = 512 << 20
/** What is read of some commits at once; their size is their authors' choice, so that more of it is read in halves. */
const TEXT_MAX_BYTES = 64 << 20
/** Reading the changes of some hundred commits, whatever their size. */
const READ_MS = 30 * 60_000

/** A first fetch brings so many generations of commits, each further one twice as many as the one before: a history comes in pieces. */
const FIRST_DEPTH = 50_000
/** Past so many packs, or objects by themselves, left by as many pushes, they are put together: git looks through each of them. */
const PACKS_MAX = 50
const LOOSE_MAX = 4_000

/**
 * Makes the bare mirror if need be and fetches all branches and tags into it, dropping what is gone there; `tell` hears what git
 * says of its progress. Gives the tips, tags peeled to commits. What a fetch that was killed left half written is removed first.
 *
 * A history comes newest first and in pieces, each kept as soon as it is here (`git fetch --depth`, then `--deepen`): one that was cut off
 * goes on behind the last whole piece.
 */
export async function fetchMirror(
  dir: string,
  remote: { url: string; access: GitAccess | null },
  {
    outside,
    tell = () => {},
    signal,
    firstDepth = FIRST_DEPTH,
  }: { outside: Outside; tell?: (progress: string) => void; signal?: AbortSignal; firstDepth?: number },
): Promise<RefTip[]> {
  return goOut(outside, remote, async (out) => {
    if (!existsSync(dir)) {
      await mkdir(dir, { recursive: true })
      await runGit(['init', '--quiet', '--bare'], { dir })
    }
    await removeLeftovers(dir)
    let piece = 1
    const fetch = (refs: readonly string[], ...how: string[]) =>
      runGit(['fetch', ...FETCH, ...how, '--end-of-options', remote.url, ...refs], {
        dir,
        ...out,
        timeoutMs: 0,
        silenceMs: SILENCE_MS,
        onStderr: (text) => {
          const line = text.split(/[\r\n]/).findLast((each) => /^(?:remote: )?[A-Z][a-z ]+: +\d+%/.test(each))
          if (line) tell(`${piece > 1 ? `Piece ${piece}: ` : ''}${line.replace('remote: ', '').replace(/,.*/, '')}`)
        },
        ...(signal ? { signal } : {}),
      }).catch(async (error: unknown) => {
        await removeOldLock(dir, error)
        throw error
      })
    // Branches first: where old releases are tagged, a few generations of each tag are the whole history.
    if (!(await hasRefs(dir)))
      await fetch(BRANCHES, `--depth=${firstDepth}`).catch((error: unknown) => {
        // A server of plain files has no pieces to give.
        if (!(error instanceof GitError && /shallow|depth/.test(error.stderr))) throw error
      })
    for (let [depth, edge] = [firstDepth * 2, edgeOf(dir)]; edge !== null; depth *= 2) {
      piece++
      await fetch(BRANCHES, `--deepen=${depth}`)
      const before = edge
      edge = edgeOf(dir)
      // What the remote itself has no more of ends here, too.
      if (edge === before) break
    }
    await fetch([...BRANCHES, ...TAGS])
    await putTogether(dir)
    return listTips(dir)
  })
}

const FETCH = ['--progress', '--prune', '--force', '--no-tags', '--no-write-fetch-head']
const BRANCHES = ['+refs/heads/*:refs/heads/*']
const TAGS = ['+refs/tags/*:refs/tags/*']

/** Whether something was fetched already: refs lie in one file, or each in its own. No git is started for it, since each poll asks. */
async function hasRefs(dir: string): Promise<boolean> {
  return existsSync(join(dir, 'packed-refs')) || (await readdir(join(dir, 'refs', 'heads'))).length > 0
}

/** The commits behind which nothing was fetched yet, as git notes them; null once the history is whole. */
function edgeOf(dir: string): string | null {
  const noted = join(dir, 'shallow')
  return existsSync(noted) ? readFileSync(noted, 'utf8') : null
}

/** Puts what many pushes left together into few packs, each at least twice as large as the next; who reads meanwhile finds it anew. */
async function putTogether(dir: string): Promise<void> {
  const packs = (await readdir(join(dir, 'objects', 'pack'))).filter((name) => name.endsWith('.pack'))
  // Names are spread evenly over 256 folders: one of them tells of all.
  const loose = await readdir(join(dir, 'objects', '17')).catch(() => [])
  if (packs.length > PACKS_MAX || loose.length * 256 > LOOSE_MAX)
    await runGit(['repack', '--geometric=2', '-d', '-q'], { dir, timeoutMs: READ_MS })
}

/** So old a lock is nobody's any more: git holds one for moments. */
const LOCK_MS = 10 * 60_000

/** Removes what a fetch that was killed left: halves of packs, and its lock on how far the history reaches, which no other git takes. */
async function removeLeftovers(dir: string): Promise<void> {
  const packs = join(dir, 'objects', 'pack')
  const left = existsSync(packs) ? (await readdir(packs)).filter((name) => /^tmp_(?:pack|idx|rev)_/.test(name)) : []
  await Promise.all([join(dir, 'shallow.lock'), ...left.map((name) => join(packs, name))].map((path) => rm(path, { force: true })))
}

/** Removes the lock that git says it stumbled over, if it is an old one: the next round gets through. */
async function removeOldLock(dir: string, error: unknown): Promise<void> {
  const path = error instanceof GitError ? /'([^']+\.lock)': File exists/.exec(error.stderr)?.[1] : undefined
  if (path === undefined || relative(dir, resolve(dir, path)).startsWith('..')) return
  const held = await stat(resolve(dir, path)).catch(() => null)
  if (held !== null && Date.now() - held.mtimeMs > LOCK_MS) await rm(resolve(dir, path), { force: true })
}

/**
 * Asks a remote for its main line without fetching anything: what its HEAD points to; null for a repository without commits. Throws
 * GitError where nobody answers or there is no repository.
 */
export async function readMainLine(
  dir: string,
  remote: { url: string; access: GitAccess | null },
  outside: Outside,
): Promise<string | null> {
  await mkdir(dir, { recursive: true })
  const out = await goOut(outside, remote, (options) =>
    runGit(['ls-remote', '--symref', '--end-of-options', remote.url, 'HEAD'], { dir, ...options, timeoutMs: 20_000, maxBytes: 1 << 20 }),
  )
  return /^ref: refs\/heads\/(\S+)\tHEAD$/m.exec(out.toString('utf8'))?.[1] ?? null
}

/** What became of one file between two commits, as a unified diff without context; empty where nothing did. */
export async function readFileChange(dir: string, { from, to, path }: { from: string; to: string; path: string }): Promise<string> {
  const args = ['diff', '-U0', '--no-renames', '--no-ext-diff', '--no-textconv', '--no-color', assertSha(from), assertSha(to), '--', path]
  return (await runGit(args, { dir, settings: ['--literal-pathspecs'], maxBytes: TEXT_MAX_BYTES })).toString('utf8')
}

/** What differs between two commits. */
export interface ChangedFiles {
  paths: string[]
  /** Lock files, as they were and are; empty where there was none, or it is too large. */
  locks: { path: string; before: string; after: string }[]
}
const LOCKS_MAX = 8
const LOCK_MAX_BYTES = 16 << 20

/** The paths that differ between two commits; a moved file is two of them. O(changed trees). */
export async function readChangedFiles(dir: string, from: string, to: string): Promise<ChangedFiles> {
  const args = ['diff-tree', '-r', '-z', '--name-only', '--no-renames', '--end-of-options', assertSha(from), assertSha(to)]
  const paths = (await runGit(args, { dir, maxBytes: TEXT_MAX_BYTES })).toString('utf8').split('\0').filter(Boolean)
  const textAt = async (sha: string, path: string) => {
    try {
      return (await runGit(['cat-file', 'blob', '--end-of-options', `${sha}:${path}`], { dir, maxBytes: LOCK_MAX_BYTES })).toString('utf8')
    } catch (error) {
      if (error instanceof GitError) return ''
      throw error
    }
  }
  const locks = paths.filter(isLockFile).slice(0, LOCKS_MAX)
  return {
    paths,
    locks: await Promise.all(locks.map(async (path) => ({ path, before: await textAt(from, path), after: await textAt(to, path) }))),
  }
}

async function listTips(dir: string): Promise<RefTip[]> {
  const out = await runGit(['for-each-ref', '--format=%(refname)%00%(objectname)%00%(*objectname)', 'refs/heads', 'refs/tags'], { dir })
  return out
    .toString('utf8')
    .split('\n')
    .filter(Boolean)
    .map((line) => {
      const [ref = '', sha = '', peeled = ''] = line.split('\0')
      return { ref, sha: peeled || sha }
    })
}

/** The hashes reachable from the tips and not from the known ones, parents before children, a line each. */
export async function listNewCommits(dir: string, tips: readonly string[], known: readonly string[]): Promise<string> {
  const revisions = [...tips.map(assertSha), ...known.map((sha) => `^${assertSha(sha)}`)].join('\n')
  const out = await runGit(['rev-list', '--topo-order', '--reverse', '--stdin'], {
    dir,
    input: revisions,
    maxBytes: LIST_MAX_BYTES,
    timeoutMs: READ_MS,
  })
  return out.toString('latin1')
}

/**
 * These commits, in their order. Commit objects are read raw and by length, so that no message can pretend to be another commit. A
 * commit with more files than fit is given without them. Cost: five git processes, linear in the commits and their diffs; ask for a
 * thousand or two at once.
 */
export async function readCommits(dir: string, shas: readonly string[]): Promise<RawCommit[]> {
  if (shas.length === 0) return []
  // git diff-tree passes over a last line without its end.
  const input = `${shas.map(assertSha).join('\n')}\n`
  try {
    const [objects, files, patchIds] = await Promise.all([readCommitObjects(dir, input), readFiles(dir, input), readPatchIds(dir, input)])
    return objects.map((commit) => ({ ...commit, files: files.get(commit.sha) ?? [], patchId: patchIds.get(commit.sha) ?? null }))
  } catch (error) {
    if (!(error instanceof GitError && error.isTooMuch)) throw error
    const half = Math.floor(shas.length / 2)
    if (half > 0) return [...(await readCommits(dir, shas.slice(0, half))), ...(await readCommits(dir, shas.slice(half)))]
    const [objects, patchIds] = await Promise.all([readCommitObjects(dir, input), readPatchIds(dir, input)])
    return objects.map((commit) => ({ ...commit, files: [], patchId: patchIds.get(commit.sha) ?? null }))
  }
}

async function readCommitObjects(dir: string, input: string): Promise<Omit<RawCommit, 'patchId' | 'files'>[]> {
  const out = await runGit(['cat-file', '--batch'], { dir, input, maxBytes: TEXT_MAX_BYTES, timeoutMs: READ_MS })
  const commits: Omit<RawCommit, 'patchId' | 'files'>[] = []
  for (let at = 0; at < out.length; ) {
    const lineEnd = out.indexOf(10, at)
    const [sha = '', kind, size] = out.toString('latin1', at, lineEnd).split(' ')
    const end = lineEnd + 1 + Number(size)
    if (kind === 'commit') commits.push(parseCommit(sha, out.toString('utf8', lineEnd + 1, end)))
    at = end + 1
  }
  return commits
}

function parseCommit(sha: string, text: string): Omit<RawCommit, 'patchId' | 'files'> {
  const split = text.indexOf('\n\n')
  const head = (split < 0 ? text : text.slice(0, split)).split('\n')
  const value = (name: string) => head.find((line) => line.startsWith(`${name} `))?.slice(name.length + 1) ?? ''
  const author = parseSignature(value('author'))
  return {
    sha,
    parents: head.filter((line) => line.startsWith('parent ')).map((line) => line.slice(7)),
    authorName: author.name,
    authorEmail: author.email,
    authorAtMs: author.atMs,
    committedAtMs: parseSignature(value('committer')).atMs,
    message: split < 0 ? '' : text.slice(split + 2, split + 2 + 100_000),
  }
}

function parseSignature(text: string): { name: string; email: string; atMs: number } {
  const match = /^(.*?) ?<([^>]*)> (\d+)/.exec(text)
  return { name: match?.[1] ?? '', email: match?.[2] ?? '', atMs: Number(match?.[3] ?? 0) * 1000 }
}

async function readFiles(dir: string, input: string): Promise<Map<string, RawCommit['files']>> {
  const out = (
    await runGit(['diff-tree', '--stdin', '-r', '--root', '-m', '--first-parent', '--numstat', '--no-renames', '-z'], {
      dir,
      input,
      maxBytes: TEXT_MAX_BYTES,
      timeoutMs: READ_MS,
    })
  ).toString('utf8')
  const bySha = new Map<string, RawCommit['files']>()
  let files: RawCommit['files'] = []
  for (const part of out.split('\0')) {
    const stat = /^(-|\d+)\t(-|\d+)\t([\s\S]+)$/.exec(part)
    if (stat)
      files.push({
        added: stat[1] === '-' ? null : Number(stat[1]),
        removed: stat[2] === '-' ? null : Number(stat[2]),
        path: stat[3] ?? '',
      })
    else if (/^[0-9a-f]{40,64}$/.test(part)) {
      files = []
      bySha.set(part, files)
    }
  }
  return bySha
}

/** git patch-id --stable: the same for a change wherever and whenever it was applied. The patches pass from git to git. */
async function readPatchIds(dir: string, input: string): Promise<Map<string, string>> {
  const patches = ['diff-tree', '--stdin', '-p', '--root', '--no-renames', '--no-ext-diff', '--no-textconv']
  return parsePatchIds(await runGit(patches, { dir, input, into: ['patch-id', '--stable'], timeoutMs: READ_MS }))
}

function parsePatchIds(out: Buffer): Map<string, string> {
  const bySha = new Map<string, string>()
  for (const line of out.toString('latin1').split('\n')) {
    const [patchId, sha] = line.split(' ')
    if (patchId && sha) bySha.set(sha, patchId)
  }
  return bySha
}

/** How a diff looks that is shown: whole hashes, no colours, and nothing that the repository itself has to say about it. */
export const DIFF_LOOK = ['--no-color', '--no-ext-diff', '--no-textconv', '--full-index', '-p'] as const
const DIFF_MAX_CHARS = 400_000

/** The diff of one commit against its first parent, or between two commits from their merge base; cut where it is very long. */
export async function readDiff(dir: string, from: string | null, to: string): Promise<{ diff: string; isCut: boolean }> {
  const args =
    from === null
      ? ['diff-tree', '--no-commit-id', '-r', '--root', '-m', '--first-parent', ...DIFF_LOOK, '--end-of-options', assertSha(to)]
      : ['diff', '--merge-base', ...DIFF_LOOK, '--end-of-options', assertSha(from), assertSha(to)]
  const text = (await runGit(args, { dir, maxBytes: 32 << 20 })).toString('utf8')
  return cutDiff(text)
}

/** As much of a diff as a screen is given, to a whole line. */
export function cutDiff(text: string): { diff: string; isCut: boolean } {
  if (text.length <= DIFF_MAX_CHARS) return { diff: text, isCut: false }
  return { diff: text.slice(0, text.lastIndexOf('\n', DIFF_MAX_CHARS) + 1), isCut: true }
}

/** Paths tracked at a commit. */
export async function readTrackedFiles(dir: string, sha: string): Promise<string[]> {
  return (await runGit(['ls-tree', '-r', '-z', '--name-only', '--full-tree', '--end-of-options', assertSha(sha)], { dir }))
    .toString('utf8')
    .split('\0')
    .filter(Boolean)
}

export interface BlamedLine {
  sha: string
  author: string
  atMs: number
  subject: string
  source: { line: number; text: string }[]
}

/** Who last changed a line at a commit, with the lines around it; null when the file has no such line. */
export async function readBlame(dir: string, sha: string, path: string, line: number, around = 2): Promise<BlamedLine | null> {
  const file = (await runGit(['cat-file', 'blob', '--end-of-options', `${assertSha(sha)}:${path}`], { dir, maxBytes: 8 << 20 }))
    .toString('utf8')
    .split('\n')
  if (line < 1 || line > file.length) return null
  const out = (await runGit(['blame', '--porcelain', '-L', `${line},${line}`, assertSha(sha), '--', path], { dir }))
    .toString('utf8')
    .split('\n')
  const value = (name: string) => out.find((text) => text.startsWith(`${name} `))?.slice(name.length + 1) ?? ''
  const from = Math.max(1, line - around)
  const source = file.slice(from - 1, line + around).map((text, index) => ({ line: from + index, text: text.slice(0, 400) }))
  return {
    sha: out[0]?.split(' ')[0] ?? '',
    author: value('author'),
    atMs: Number(value('author-time')) * 1000,
    subject: value('summary'),
    source,
  }
}
