import { assertSha, GitError, runGit } from './run-git.js'

/** A file as it is at a commit. */
export interface FileAt {
  text: string
  /** It is no text: nothing of it is given. */
  isBinary: boolean
  /** It is longer than what is given. */
  isCut: boolean
  sizeBytes: number
}

/** Lines of a file that came with one commit, next to each other. */
export interface BlamedRun {
  sha: string
  /** First and last line, from 1. */
  line: number
  lastLine: number
}

/** A line that holds what was looked for. */
export interface FoundLine {
  path: string
  line: number
  text: string
}

const FILE_MAX_BYTES = 2 << 20
/** Lines are long in built files; of each so many characters are given. */
const LINE_MAX = 400
const FOUND_MAX_BYTES = 8 << 20

/**
 * A file at a commit; null where the commit has no file of this path. Links and folders are no files.
 * Throws GitError where the commit is not here.
 */
export async function readFileAt(dir: string, sha: string, path: string): Promise<FileAt | null> {
  const listed = await runGit(['ls-tree', '-l', '-z', '--full-tree', assertSha(sha), '--', literal(path)], { dir })
  // mode, kind, hash, size, a tab and the path.
  const match = /^100\d+ blob ([0-9a-f]+) +(\d+)\t/.exec(listed.toString('utf8'))
  if (!match) return null
  const sizeBytes = Number(match[2])
  const blob = await runGit(['cat-file', 'blob', assertSha(match[1] ?? '')], { dir, maxBytes: FILE_MAX_BYTES }).catch((error: unknown) => {
    if (error instanceof GitError && error.isTooMuch) return null
    throw error
  })
  if (blob === null) return { text: '', isBinary: false, isCut: true, sizeBytes }
  const isBinary = blob.subarray(0, 8000).includes(0)
  return { text: isBinary ? '' : blob.toString('utf8'), isBinary, isCut: false, sizeBytes }
}

/** The content of a hash; null where the repository has no such content, or it is larger than asked for. */
export async function readBlob(dir: string, { hash, maxBytes }: { hash: string; maxBytes: number }): Promise<Uint8Array | null> {
  return runGit(['cat-file', 'blob', assertSha(hash)], { dir, maxBytes }).catch((error: unknown) => {
    if (error instanceof GitError) return null
    throw error
  })
}

/**
 * Which commit each line of a file came with, as runs of lines, first to last. Throws GitError for a file that is not there. Cost: git's
 * blame of the whole file, without looking for moves.
 */
export async function blameFile(dir: string, sha: string, path: string): Promise<BlamedRun[]> {
  const out = await runGit(['blame', '--incremental', assertSha(sha), '--', path], { dir, maxBytes: 64 << 20 })
  const runs: BlamedRun[] = []
  for (const [, hash = '', line, count] of out.toString('utf8').matchAll(/^([0-9a-f]{40,64}) \d+ (\d+) (\d+)$/gm))
    runs.push({ sha: hash, line: Number(line), lastLine: Number(line) + Number(count) - 1 })
  return runs.sort((a, b) => a.line - b.line)
}

/**
 * Lines of a commit's text files that hold a text, whatever its case, with `git grep`: at most so many, so many of one file. Words of the
 * text mean themselves, no pattern.
 */
export async function searchFiles(
  dir: string,
  sha: string,
  { text, limit, perFile = 20 }: { text: string; limit: number; perFile?: number },
): Promise<{ lines: FoundLine[]; isCut: boolean }> {
  const args = ['grep', '-n', '-I', '-z', '-i', '--fixed-strings', `--max-count=${perFile}`, '--full-name', '-e', text, assertSha(sha)]
  let out: Buffer
  let isCut = false
  try {
    out = await runGit(args, { dir, maxBytes: FOUND_MAX_BYTES, timeoutMs: 10_000 })
  } catch (error) {
    if (!(error instanceof GitError)) throw error
    // 1 is git's answer for nothing found; more than may be read is given up to there.
    if (error.exitCode === 1 && error.stderr === '' && !error.isTooMuch) return { lines: [], isCut: false }
    if (!error.isTooMuch) throw error
    out = Buffer.from(error.stdout)
    isCut = true
  }
  const lines: FoundLine[] = []
  for (const row of out.toString('utf8').split('\n')) {
    // commit, a colon, the path, NUL, the line's number, NUL, the line.
    const match = /^[0-9a-f]{40,64}:([^\0]+)\0(\d+)\0(.*)$/.exec(row)
    if (!match) continue
    if (lines.length === limit) return { lines, isCut: true }
    lines.push({ path: match[1] ?? '', line: Number(match[2]), text: (match[3] ?? '').slice(0, LINE_MAX) })
  }
  return { lines, isCut }
}

/** A path that means itself: git's own signs in it are nothing special. */
function literal(path: string): string {
  return `:(literal)${path}`
}

const FOLDER_MAX = 100

/** Names of the files that stand directly in a folder of a commit, at most some; none where there is no such folder. */
export async function listFolder(dir: string, { sha, path }: { sha: string; path: string }): Promise<string[]> {
  const out = await runGit(['ls-tree', '-z', '--end-of-options', assertSha(sha), `${path}/`], { dir })
  return out
    .toString('utf8')
    .split('\0')
    .flatMap((line) => /^\d+ blob [0-9a-f]+\t(.*)$/.exec(line)?.[1]?.slice(path.length + 1) ?? [])
    .slice(0, FOLDER_MAX)
}
