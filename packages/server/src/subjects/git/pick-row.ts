import { readPieces } from '@dystracer/core/reviews/follow-line'
import { carry } from './carry.js'
import { pushRef, type MergeResult } from './merge.js'
import type { GitAccess, Outside } from './outward.js'
import { assertSha, GitError, runGit } from './run-git.js'

/** Changes to make anew on a line, tried without a push. */
export interface PickTrial {
  dir: string
  /** Where the line stands. */
  onto: string
  chosen: readonly string[]
  /** All changes that the line lacks, the oldest first; those chosen are among them. */
  missing: readonly string[]
}
/** Why a change needs another before it: both changed the same lines, or it uses a name that came with the other. */
export interface PickNeed {
  sha: string
  why: 'lines' | 'name'
  /** The path, or the name. */
  what: string
}
export interface PickStep {
  sha: string
  /** `nothing`: the line has all of it already. */
  state: 'fits' | 'nothing' | 'conflict'
  files: string[]
  needs: PickNeed[]
}
export interface PickPlan {
  /** Those chosen, in the order in which they are made. */
  steps: PickStep[]
  /** What else would have to be chosen, the oldest first, so that all fit; empty where nothing is, or nothing helps. */
  further: string[]
}

/** So often what is needed is asked again for what is needed by that. */
const ROUNDS_MAX = 4
const FURTHER_MAX = 30
const RANGES_MAX = 20
const NAMES_MAX = 60
const SEARCHED_MAX = 8
/** A search through a long history that takes longer says nothing. */
const SEARCH_MS = 8_000
const DIFF_MAX_BYTES = 4 << 20
const NOBODY = { name: 'Dystracer', email: 'trial@dystracer.invalid' }

/**
 * Tries to make changes anew on a line, in the order of their history, with git's own three-way merge and without touching any branch. One
 * that conflicts is left out and the rest goes on, so that all conflicts are known at once. For each the changes are told that
 * it needs before it: those of the missing ones that changed the same lines (`git log -L` over what it changes, one line more on each
 * side, since git takes adjoining changes for a conflict), and those that brought a name which it uses and the line does not have (`git log
 * -S`): such a change fits as text and would not run. Cost: some ten git programs for each change, and one search for at most eight names.
 */
export async function planPicks({ dir, onto, chosen, missing }: PickTrial): Promise<PickPlan> {
  const place = new Map(missing.map((sha, at) => [sha, at]))
  const inOrder = (shas: Iterable<string>) => [...new Set(shas)].sort((a, b) => (place.get(a) ?? 0) - (place.get(b) ?? 0))
  const known = new Map<string, Promise<PickNeed[]>>()
  const once = (key: string, work: () => Promise<PickNeed[]>) => {
    const asked = known.get(key) ?? work()
    known.set(key, asked)
    return asked
  }
  const changes = new Map<string, Promise<Change | null>>()
  /** What a change needs, given what became of it, of all that the line lacks. */
  const needsOf = async ({ sha, state }: PickStep): Promise<PickNeed[]> => {
    if (state === 'nothing') return []
    const asked = changes.get(sha) ?? changeOf(dir, onto, sha)
    changes.set(sha, asked)
    const change = await asked
    if (change === null) return []
    const names = await once(`name ${sha}`, () => namesNeeded(dir, onto, change))
    const lines = state === 'conflict' ? await once(`lines ${sha}`, () => linesNeeded(dir, change)) : []
    return [...lines, ...names].filter((need) => place.has(need.sha) && need.sha !== sha)
  }
  const steps = await tryRow(dir, onto, inOrder(chosen))
  const made = new Set(steps.filter(({ state }) => state !== 'conflict').map(({ sha }) => sha))
  for (const step of steps) step.needs = (await needsOf(step)).filter(({ sha }) => !made.has(sha))
  const wanted = new Set(chosen)
  let latest: PickStep[] = steps
  for (let round = 0; round < ROUNDS_MAX; round++) {
    const lacking = new Set<string>()
    for (const step of latest) for (const need of await needsOf(step)) if (!wanted.has(need.sha)) lacking.add(need.sha)
    if (lacking.size === 0 || wanted.size + lacking.size > chosen.length + FURTHER_MAX) break
    for (const sha of lacking) wanted.add(sha)
    latest = await tryRow(dir, onto, inOrder(wanted))
  }
  const helps = latest.every(({ state }) => state !== 'conflict')
  return { steps, further: helps ? inOrder(wanted).filter((sha) => !chosen.includes(sha)) : [] }
}

async function tryRow(dir: string, onto: string, shas: readonly string[]): Promise<PickStep[]> {
  const steps: PickStep[] = []
  let tip = assertSha(onto)
  for (const sha of shas) {
    const result = await carry({ dir, sha, how: 'pick', onto: tip, message: 'trial', by: NOBODY, author: null })
    if (result.kind === 'made') tip = result.sha
    const state = result.kind === 'made' ? 'fits' : result.kind
    steps.push({ sha, state, files: result.kind === 'conflict' ? result.files : [], needs: [] })
  }
  return steps
}

/** A change as its diff without context, and the part of its history that the line does not share. */
interface Change {
  parent: string
  since: string
  files: { path: string | null; diff: string }[]
}

async function changeOf(dir: string, onto: string, sha: string): Promise<Change | null> {
  const parent = await lineOf(dir, ['rev-parse', '--verify', '--quiet', '--end-of-options', `${assertSha(sha)}^1`])
  if (parent === null) return null
  const fork = await lineOf(dir, ['merge-base', assertSha(onto), parent])
  const how = ['-p', '-U0', '-r', '-M', '--no-color', '--src-prefix=a/', '--dst-prefix=b/']
  const text = await textOf(dir, ['diff-tree', ...how, parent, assertSha(sha)])
  const files = text
    .split(/^diff --git /m)
    .slice(1)
    .map((diff) => ({ path: /^--- a\/(.+)$/m.exec(diff)?.[1] ?? null, diff }))
  return { parent, since: fork === null ? parent : `${fork}..${parent}`, files }
}

/** Commits since the fork that changed the lines which the change changes, or those beside them. */
async function linesNeeded(dir: string, { parent, since, files }: Change): Promise<PickNeed[]> {
  const needs = new Map<string, PickNeed>()
  for (const { path, diff } of files) {
    // A file that is new has no lines that somebody else may have changed.
    if (path === null) continue
    const total = (await textOf(dir, ['cat-file', 'blob', '--end-of-options', `${parent}:${path}`])).split('\n').length
    const within = readPieces(diff)
      .slice(0, RANGES_MAX)
      .map(({ oldStart, oldLines }) => [Math.max(1, oldStart - 1), oldStart + Math.max(oldLines, 1)] as const)
      .map(([from, to]) => `-L${Math.min(from, total)},${Math.min(to, total)}:${path}`)
    if (within.length === 0) continue
    const touched = await textOf(dir, ['log', '--format=%H', '-s', ...within, since])
    for (const sha of touched.split('\n').filter(Boolean)) if (!needs.has(sha)) needs.set(sha, { sha, why: 'lines', what: path })
  }
  return [...needs.values()]
}

/** Files that are read by people: a word in them is no name. */
const PROSE = /(?:\.(?:md|markdown|txt|rst|adoc|html?|json|lock|csv|svg)|(?:^|\/)(?:README|CHANGES|CHANGELOG|LICENSE|NOTICE)[^/]*)$/i
/** What stands in strings and behind comment signs is no name either. */
const SAID = /"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'|\/\/.*$|(?:^|\s)#.*$|^\s*\*.*$/g
/** What stands before a name that a line defines, in the languages at hand; POSIX extended, for git. */
const DEFINES = '(function|class|const|let|var|def|func|fn|type|interface|struct|enum|trait|val|static|public|private|final|void)'

/** Names that the added lines use, that were there before the change, and that the line lacks: with the commit that brought each. */
async function namesNeeded(dir: string, onto: string, { parent, since, files }: Change): Promise<PickNeed[]> {
  const used = new Set<string>()
  for (const { diff, path } of files) {
    if (PROSE.test(path ?? /^\+\+\+ b\/(.+)$/m.exec(diff)?.[1] ?? '')) continue
    for (const line of diff.split('\n'))
      if (line.startsWith('+') && !line.startsWith('+++ '))
        for (const name of line
          .slice(1)
          .replaceAll(SAID, ' ')
          .match(/[A-Za-z_$][\w$]{2,}/g) ?? [])
          used.add(name)
  }
  const asked = [...used].slice(0, NAMES_MAX)
  if (asked.length === 0) return []
  const there = await wordsIn(dir, onto, asked)
  const absent = asked.filter((name) => !there.has(name))
  const before = absent.length > 0 ? await wordsIn(dir, parent, absent) : new Set<string>()
  const sought = absent.filter((name) => before.has(name)).slice(0, SEARCHED_MAX)
  if (sought.length === 0) return []
  const either = sought.map((name) => name.replaceAll('$', '\\$')).join('|')
  const places = [
    `${DEFINES}[*&]?[[:space:]]+(${either})\\b`,
    `\\b(${either})[[:space:]]*[:=]`,
    `^[[:space:]]*(${either})\\([^)]*\\)[[:space:]]*\\{`,
  ]
  const pattern = places.join('|')
  const log = await textOf(dir, ['log', '--format=%x01%H', '-p', '-U0', '--no-color', '-G', pattern, since], SEARCH_MS)
  const commits = log.split('\x01').slice(1).reverse()
  // The oldest commit whose added lines hold the name is the one that brought it.
  return sought.flatMap((name): PickNeed[] => {
    const holds = new RegExp(`^\\+.*(?<![\\w$])${name.replaceAll('$', '\\$')}(?![\\w$])`, 'm')
    const sha = commits.find((commit) => holds.test(commit))?.slice(0, 40)
    return sha === undefined ? [] : [{ sha: assertSha(sha), why: 'name', what: name }]
  })
}

/** Which of the words stand somewhere in the files of a commit. */
async function wordsIn(dir: string, sha: string, words: readonly string[]): Promise<Set<string>> {
  const found = await textOf(dir, ['grep', '-h', '-o', '-w', '-F', '-I', ...words.flatMap((word) => ['-e', word]), assertSha(sha)])
  return new Set(found.split('\n'))
}

/** What git says; nothing where it ends with an error, as `git grep` does that finds nothing. */
async function textOf(dir: string, args: readonly string[], timeoutMs = 30_000): Promise<string> {
  try {
    return (await runGit([...args], { dir, maxBytes: DIFF_MAX_BYTES, timeoutMs })).toString('utf8')
  } catch (error) {
    if (error instanceof GitError) return ''
    throw error
  }
}

async function lineOf(dir: string, args: readonly string[]): Promise<string | null> {
  const line = (await textOf(dir, args)).trim().split('\n')[0] ?? ''
  return line === '' ? null : assertSha(line)
}

/** Changes to make anew, one commit each, and the branch that takes them. */
export interface PickRow {
  dir: string
  url: string
  access: GitAccess | null
  onto: string
  picks: { sha: string; message: string; author: { name: string; email: string; atMs: number } }[]
  by: { name: string; email: string }
  branch: string
  /** Where the branch stands now; null for one that is new. */
  expected: string | null
}

/** Makes the changes anew, one after the other, and pushes them together. In a conflict nothing changes anywhere. */
export async function pickAndPush(input: PickRow, outside: Outside): Promise<MergeResult> {
  const { dir, url, access, picks, by, branch, expected } = input
  let tip = assertSha(input.onto)
  for (const { sha, message, author } of picks) {
    const result = await carry({ dir, sha, how: 'pick', onto: tip, message, by, author })
    if (result.kind === 'conflict') return result
    if (result.kind === 'made') tip = result.sha
  }
  return pushRef({ dir, url, access, branch, sha: tip, expected }, outside)
}
