import { framesOf } from '@dystracer/core/builds/failure-groups'
import { rankSuspects, type OwnFrame, type Suspect, type SuspectCommit } from '@dystracer/core/code/suspects'
import { readTrace } from '@dystracer/core/traces/read-trace'
import { pathOfFrame, TrackedFiles } from '@dystracer/core/traces/tracked-files'
import { readBlame, readTrackedFiles } from './mirror.js'
import { assertSha, GitError, runGit } from './run-git.js'

/** A failure that came between two commits. */
export interface FailureBetween {
  lastGood: string
  firstBad: string
  /** What the failure says, its stack trace with it. */
  message: string
  /** The test and its suite, where it is one. */
  names: readonly string[]
  /** Its frames in the repository's own files, innermost first, where they are known already; else they are read from the message. */
  frames?: readonly OwnFrame[]
}

/** So many commits are looked at: a longer gap says little about each. */
const COMMITS_MAX = 400
const FRAMES_MAX = 6
const LINES_AROUND = 3
const DIFF_MAX_BYTES = 48 << 20
const FILE_LINES_MAX = 2000

/**
 * The commits between the last good and the first bad, likeliest cause first, with what git knows of each:
 * who wrote the failing lines last, and every changed line. Commits of the gap that only merge are passed
 * over. Throws GitError for commits that are not here.
 */
export async function findSuspects(dir: string, { lastGood, firstBad, message, names, frames: given }: FailureBetween): Promise<Suspect[]> {
  const commits = await readGap(dir, assertSha(lastGood), assertSha(firstBad))
  if (commits.length === 0) return []
  const frames = given?.slice(0, FRAMES_MAX) ?? (await ownFrames(dir, firstBad, message))
  const blames = await Promise.all(frames.map(({ path, line }) => readBlame(dir, firstBad, path, line, LINES_AROUND).catch(noLine)))
  const blamed = new Map<string, number[]>()
  for (const [at, blame] of blames.entries()) if (blame) blamed.set(blame.sha, [...(blamed.get(blame.sha) ?? []), at])
  const code = await codeBehind(dir, firstBad, frames)
  return rankSuspects(
    { frames, code, message, names },
    commits.map((commit) => ({ ...commit, blamed: blamed.get(commit.sha) ?? [] })),
  )
}

/** A frame may name a line that the file of that commit does not have. */
function noLine(error: unknown): null {
  if (error instanceof GitError) return null
  throw error
}

/** The frames of the repository's own files, innermost first. */
async function ownFrames(dir: string, sha: string, message: string): Promise<OwnFrame[]> {
  const tracked = new TrackedFiles(await readTrackedFiles(dir, sha))
  const { language } = readTrace(message)
  const own: OwnFrame[] = []
  for (const frame of framesOf(message)) {
    const printed = pathOfFrame(frame, language)
    const path = printed === null ? null : tracked.resolve(printed)
    if (path !== null && frame.line !== null && own.length < FRAMES_MAX) own.push({ path, line: frame.line, function: frame.function })
  }
  return own
}

/** The name of the function that a line begins. */
const NAMED = new RegExp(
  String.raw`(?:function\*?|class|def|func|fn|const|let|var)\s+([A-Za-z_$][\w$]*)|^\s*(?:(?:async|static|public|private|` +
    String.raw`export)\s+)*([A-Za-z_$][\w$]*)\s*\(`,
)
/** How near the bodies of what is called lie, one and two calls away. */
const HOPS = [0.6, 0.45] as const
const NAMES_MAX = 14
const DEFINITIONS_MAX = 24
const BODY_LINES = 12

/**
 * The failing lines, what stands around them, and the bodies of what they call, two calls deep: faults lie there more often than where they
 * show. Definitions are found by name with git grep, whatever the language.
 */
async function codeBehind(dir: string, sha: string, frames: readonly OwnFrame[]): Promise<{ text: string; nearness01: number }[]> {
  const files = new Map<string, string[]>()
  const linesOf = async (path: string): Promise<string[]> => {
    const known = files.get(path)
    if (known) return known
    const blob = await runGit(['cat-file', 'blob', '--end-of-options', `${assertSha(sha)}:${path}`], { dir, maxBytes: 8 << 20 })
    const lines = blob.toString('utf8').split('\n')
    files.set(path, lines)
    return lines
  }
  const code: { text: string; nearness01: number }[] = []
  let called = new Set<string>()
  for (const [at, { path, line }] of frames.entries()) {
    const lines = await linesOf(path)
    const depth = 1 / (1 + at * 0.5)
    const around = lines.slice(Math.max(0, line - 1 - LINES_AROUND), line + LINES_AROUND).join('\n')
    code.push({ text: lines[line - 1] ?? '', nearness01: depth }, { text: around, nearness01: 0.7 * depth })
    for (const name of namesIn(around)) called.add(name)
  }
  const seen = new Set<string>()
  for (const nearness01 of HOPS) {
    const names = [...called].filter((name) => !seen.has(name)).slice(0, NAMES_MAX)
    for (const name of names) seen.add(name)
    called = new Set()
    for (const { path, line } of await definitionsOf(dir, sha, names)) {
      const body = bodyOf(await linesOf(path), line)
      code.push({ text: body, nearness01 })
      for (const name of namesIn(body)) called.add(name)
    }
  }
  return code
}

/** What a definition holds: its line, and those below that stand further in. */
function bodyOf(lines: readonly string[], line: number): string {
  const [first = '', ...below] = lines.slice(line - 1, line - 1 + BODY_LINES)
  const indent = /^\s*/.exec(first)?.[0].length ?? 0
  const end = below.findIndex((text) => text.trim() !== '' && (/^\s*/.exec(text)?.[0].length ?? 0) <= indent)
  return [first, ...below.slice(0, end < 0 ? below.length : end)].join('\n')
}

/** Names that are called or read from something: what may be defined elsewhere. */
function namesIn(text: string): string[] {
  return [...text.matchAll(/([A-Za-z_$][\w$]{2,})\s*\(|\.([A-Za-z_$][\w$]{2,})/g)].flatMap(([, called, field]) => called ?? field ?? [])
}

async function definitionsOf(dir: string, sha: string, names: readonly string[]): Promise<{ path: string; line: number }[]> {
  if (names.length === 0) return []
  const any = names.map((name) => name.replaceAll('$', '\\$')).join('|')
  const pattern =
    `(function\\*?|class|const|let|var|def|func|fn) ` +
    `+(${any})([^A-Za-z0-9_$]|$)|(exports|this|self)\\.(${any}) *=|^ *(async +)?(${any}) *\\(.*\\{ *$`
  try {
    const args = ['grep', '-n', '-I', '-E', '--no-color', '-e', pattern, assertSha(sha)]
    const out = await runGit(args, { dir, maxBytes: 4 << 20, timeoutMs: 20_000 })
    return out
      .toString('utf8')
      .split('\n')
      .flatMap((found) => {
        const [, path, line] = /^[0-9a-f]+:(.*?):(\d+):/.exec(found) ?? []
        return path === undefined ? [] : [{ path, line: Number(line) }]
      })
      .slice(0, DEFINITIONS_MAX)
  } catch (error) {
    // Git's answer where nothing is found is 1.
    if (error instanceof GitError) return []
    throw error
  }
}

async function readGap(dir: string, lastGood: string, firstBad: string): Promise<Omit<SuspectCommit, 'blamed'>[]> {
  const select = ['--no-merges', '--topo-order', '-n', String(COMMITS_MAX), '--format=%x01%H%x00%B%x00', firstBad, `^${lastGood}`]
  const plain = ['--no-renames', '--no-ext-diff', '--no-textconv', '--no-color']
  try {
    return parseGap((await runGit(['log', '-p', '-U0', ...plain, ...select], { dir, maxBytes: DIFF_MAX_BYTES })).toString('utf8'))
  } catch (error) {
    // Changes too large to read whole still tell which files they touch.
    if (!(error instanceof GitError && error.isTooMuch)) throw error
    return parseGap((await runGit(['log', '--numstat', ...plain, ...select], { dir, maxBytes: DIFF_MAX_BYTES })).toString('utf8'))
  }
}

type GapFile = { path: string; added: string[]; removed: string[]; within: string[]; ranges: [number, number][] }

function parseGap(text: string): Omit<SuspectCommit, 'blamed'>[] {
  return text
    .split('\x01')
    .slice(1)
    .map((part, age) => {
      const [sha = '', message = '', diff = ''] = part.split('\0')
      return { sha, message, age, files: parseFiles(diff) }
    })
}

function parseFiles(diff: string): GapFile[] {
  const files: GapFile[] = []
  let file: GapFile | null = null
  for (const line of diff.split('\n')) {
    const stat = /^\d+\t\d+\t(.+)$/.exec(line)
    if (line.startsWith('diff --git ')) {
      file = { path: / b\/(.+)$/.exec(line)?.[1] ?? '', added: [], removed: [], within: [], ranges: [] }
      files.push(file)
    } else if (stat && file === null) files.push({ path: stat[1] ?? '', added: [], removed: [], within: [], ranges: [] })
    else if (file === null) continue
    else if (line.startsWith('@@ ')) {
      const [, from = '0', count = '1', head = ''] = /^@@ -\S+ \+(\d+)(?:,(\d+))? @@ ?(.*)$/.exec(line) ?? []
      // Git says after the range in which function it lies, by its own patterns for each language.
      const named = NAMED.exec(head)
      const name = named?.[1] ?? named?.[2]
      if (name) file.within.push(name)
      file.ranges.push([Number(from), Number(from) + Math.max(0, Number(count) - 1)])
    } else if (file.added.length + file.removed.length >= FILE_LINES_MAX) continue
    else if (line.startsWith('+') && !line.startsWith('+++ ')) file.added.push(line.slice(1))
    else if (line.startsWith('-') && !line.startsWith('--- ')) file.removed.push(line.slice(1))
  }
  return files
}
