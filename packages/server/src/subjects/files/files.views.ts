import { decodeText } from '@dystracer/core/text/decode-text'
import { firstLine } from '@dystracer/core/text/first-line'
import { personByAddress } from '#subjects/people/index'
import { knowersOf } from '@dystracer/core/files/knowers'
import { changesOfJson, changesOfTable, NoMeaning } from '@dystracer/core/files/meaning'
import { MEANING_BYTES_MAX, type FileDetail, type FileRun, type FoundLines, type Meaning } from '@dystracer/core/files/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { readRows } from '#platform/csv'
import { pictureTypeOf } from '#platform/files/picture-type'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { mainTip } from '#subjects/code/index'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { hiddenRepositories, listItemsByKeys, maySee, onlyVisible, requirementsOfItems } from '#subjects/records/index'
import {
  COUNT_COMMIT_OF_PATH,
  LIST_COMMIT_BY_SHAS,
  LIST_COMMIT_OF_PATH,
  LIST_FAULT_OF_REPOSITORY,
  LIST_ITEM_OF_COMMITS,
  LIST_SEARCHED_REPOSITORY,
  LIST_TITLE_OF_REQUIREMENTS,
} from './files.queries.js'

interface CommitRow {
  sha: string
  message: string
  authorName: string
  authorEmail: string
  atMs: number
}

const COMMITS_SHOWN = 30
const FOUND_MAX = 200

const PICTURE_MAX_BYTES = 8 << 20

/**
 * A file as the main line has it: every line with the commit that it came with, and through that with the items and requirements that asked
 * for it, as far as the asker may see them. Throws `not-found` for a path that the main line does not have.
 */
export async function readFile(ctx: ServiceContext, who: Who, repository: string, path: string): Promise<FileDetail> {
  const { sha, file, blame } = await readAtMainLine(ctx, repository, path)
  const past = sql(ctx.db, LIST_COMMIT_OF_PATH).all<CommitRow>({ repository, path })
  const runs = runsOf(ctx, who, { repository, blame, past })
  const itemsBy = itemsByCommit(
    ctx,
    who,
    repository,
    past.map((row) => row.sha),
  )
  const keys = [...new Set([...past.flatMap((row) => itemsBy.get(row.sha) ?? []), ...runs.flatMap((run) => run.items)])]
  return {
    repository,
    path,
    sha,
    ...file,
    runs,
    commits: past.slice(0, COMMITS_SHOWN).map((row) => ({
      repository,
      sha: row.sha,
      subject: firstLine(row.message),
      author: row.authorName,
      atMs: row.atMs,
      items: itemsBy.get(row.sha) ?? [],
    })),
    commitCount: sql(ctx.db, COUNT_COMMIT_OF_PATH).get<{ count: number }>({ repository, path })?.count ?? 0,
    items: onlyVisible(ctx.db, who, listItemsByKeys(ctx.db, keys)),
    requirements: requirementsIn(ctx, runs),
    faults: faultsIn(ctx, repository, path),
    knowers: knowersIn(ctx, past, blame),
  }
}

/** A picture by the hash of its content. Throws `not-found` for what the repository has not, is none, or is larger than 8 MB. */
export async function readPicture(ctx: ServiceContext, repository: string, blob: string): Promise<{ mediaType: string; content: Buffer }> {
  const missing = () => new Problem('not-found', { detail: `${repository} has no picture of this hash that is shown.` })
  if (!/^(?:[0-9a-f]{40}|[0-9a-f]{64})$/.test(blob)) throw missing()
  const content = await gitWorker(ctx).call('readBlob', { dir: mirrorDir(ctx, repository), hash: blob, maxBytes: PICTURE_MAX_BYTES })
  const mediaType = content === null ? null : pictureTypeOf(content)
  if (content === null || mediaType === null) throw missing()
  return { mediaType, content: Buffer.from(content) }
}

const CHANGES_MAX = 500

/**
 * What differs between two states of a file by what it means, or why it cannot be compared so. Throws `not-found` for a content that is not
 * there or too large.
 */
export async function readMeaning(
  ctx: ServiceContext,
  repository: string,
  { form, before, after }: { form: 'json' | 'table'; before: string; after: string },
): Promise<Meaning> {
  const textOf = async (hash: string): Promise<string> => {
    const content = await gitWorker(ctx).call('readBlob', { dir: mirrorDir(ctx, repository), hash, maxBytes: MEANING_BYTES_MAX })
    if (content === null)
      throw new Problem('not-found', { detail: `${repository} has no such content of at most ${MEANING_BYTES_MAX >> 10} KB.` })
    const decoded = decodeText(content)
    if (!decoded.ok) throw new NoMeaning(decoded.why)
    return decoded.text
  }
  try {
    const [old, now] = await Promise.all([textOf(before), textOf(after)])
    const changes = form === 'json' ? changesOfJson(old, now) : changesOfTable(readRows(old), readRows(now))
    return { changes: changes.slice(0, CHANGES_MAX), total: changes.length, why: null }
  } catch (error) {
    if (error instanceof NoMeaning) return { changes: [], total: 0, why: error.message }
    throw error
  }
}

async function readAtMainLine(ctx: ServiceContext, repository: string, path: string) {
  const missing = () => new Problem('not-found', { detail: `The main line of ${repository} has no file ${path}.` })
  const sha = mainTip(ctx.db, repository)
  // Git would take a path that climbs for a mistake of ours.
  if (sha === null || path.startsWith('/') || path.split('/').includes('..')) throw missing()
  const dir = mirrorDir(ctx, repository)
  try {
    const file = await gitWorker(ctx).call('readFile', { dir, sha, path })
    if (file === null) throw missing()
    const blame = file.isBinary || file.isCut || file.sizeBytes === 0 ? [] : await gitWorker(ctx).call('blameFile', { dir, sha, path })
    return { sha, file, blame }
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error))
      throw new Problem('outside-unreachable', { detail: `${repository} is not here yet; Code says when it was fetched.`, cause: error })
    throw error
  }
}

type Blame = Awaited<ReturnType<typeof readAtMainLine>>['blame']

/** Runs of lines with what their commits were for. */
function runsOf(
  ctx: ServiceContext,
  who: Who,
  { repository, blame, past }: { repository: string; blame: Blame; past: readonly CommitRow[] },
): FileRun[] {
  const shas = [...new Set(blame.map((run) => run.sha))]
  const known = new Map(past.map((row) => [row.sha, row]))
  const left = shas.filter((sha) => !known.has(sha))
  for (const row of sql(ctx.db, LIST_COMMIT_BY_SHAS).all<CommitRow>({ repository, shas: JSON.stringify(left) })) known.set(row.sha, row)
  const itemsBy = itemsByCommit(ctx, who, repository, shas)
  const asked = requirementsOfItems(ctx.db, [...new Set([...itemsBy.values()].flat())])
  return blame.flatMap((run): FileRun[] => {
    const commit = known.get(run.sha)
    if (!commit) return []
    const items = itemsBy.get(run.sha) ?? []
    return [
      {
        ...run,
        subject: firstLine(commit.message),
        author: commit.authorName,
        atMs: commit.atMs,
        items,
        requirements: [...new Set(items.flatMap((key) => asked.get(key) ?? []))],
      },
    ]
  })
}

function itemsByCommit(ctx: ServiceContext, who: Who, repository: string, shas: readonly string[]): Map<string, string[]> {
  const by = new Map<string, string[]>()
  for (const { sha, key } of sql(ctx.db, LIST_ITEM_OF_COMMITS).all<{ sha: string; key: string }>({
    repository,
    shas: JSON.stringify(shas),
  }))
    if (maySee(ctx.db, who, key)) by.set(sha, [...(by.get(sha) ?? []), key])
  return by
}

/** The requirements that lines were written for, those with the most lines first. */
function requirementsIn(ctx: ServiceContext, runs: readonly FileRun[]): FileDetail['requirements'] {
  const lines = new Map<string, number>()
  for (const run of runs) for (const key of run.requirements) lines.set(key, (lines.get(key) ?? 0) + run.lastLine - run.line + 1)
  const titles = new Map(
    sql(ctx.db, LIST_TITLE_OF_REQUIREMENTS)
      .all<{ key: string; title: string }>({ keys: JSON.stringify([...lines.keys()]) })
      .map(({ key, title }) => [key, title]),
  )
  return [...lines]
    .map(([key, count]) => ({ key, title: titles.get(key) ?? '', lines: count }))
    .sort((a, b) => b.lines - a.lines || (a.key < b.key ? -1 : 1))
}

/** Faults of the repository's services whose place is in this file. */
function faultsIn(ctx: ServiceContext, repository: string, path: string): FileDetail['faults'] {
  const name = path.slice(path.lastIndexOf('/') + 1)
  const standsAlone = new RegExp(`(?:^|[\\s/(])${escapeRegExp(name)}(?![\\w.])`)
  return sql(ctx.db, LIST_FAULT_OF_REPOSITORY)
    .all<{ number: number; type: string; message: string; place: string }>({ repository })
    .filter(({ place }) => place.includes(path) || standsAlone.test(place))
    .map(({ number, type, message, place }) => ({ fault: `F-${number}`, title: `${type}: ${message.slice(0, 160)}`, place }))
}

function escapeRegExp(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
}

/** Who knows a file; somebody who commits from several addresses of theirs is one. */
function knowersIn(ctx: ServiceContext, past: readonly CommitRow[], blame: Blame): FileDetail['knowers'] {
  const people = new Map([...new Set(past.map((row) => row.authorEmail))].map((email) => [email, personByAddress(ctx.db, email)]))
  const idOf = (email: string) => people.get(email)?.personId ?? email
  const known = new Map([...people.values()].flatMap((person) => (person ? [[person.personId, person] as const] : [])))
  const names = new Map(past.map((row) => [row.authorEmail, row.authorName]))
  const authorOf = new Map(past.map((row) => [row.sha, idOf(row.authorEmail)]))
  const linesBy = new Map<string, number>()
  for (const run of blame) {
    const author = authorOf.get(run.sha)
    if (author !== undefined) linesBy.set(author, (linesBy.get(author) ?? 0) + run.lastLine - run.line + 1)
  }
  const work = past.map((row) => ({ author: idOf(row.authorEmail), atMs: row.atMs }))
  return knowersOf(work, linesBy, { nowMs: ctx.nowMs() }).map(({ author, share01, ...counts }) => {
    const person = known.get(author)
    return { name: person?.name ?? names.get(author) ?? author, personId: person?.personId ?? null, ...counts }
  })
}

/** Lines of the main lines that hold a text, repository by repository, at most 200; whatever its case. */
export async function searchFiles(
  ctx: ServiceContext,
  who: Who,
  input: { q: string; repository?: string | undefined },
): Promise<FoundLines> {
  const found: FoundLines = { rows: [], isCut: false }
  const repositories = sql(ctx.db, LIST_SEARCHED_REPOSITORY).all<{ name: string }>({
    repository: input.repository ?? null,
    hidden: hiddenRepositories(ctx.db, who),
  })
  for (const { name } of repositories) {
    const sha = mainTip(ctx.db, name)
    if (sha === null) continue
    const limit = FOUND_MAX - found.rows.length
    if (limit <= 0) return { ...found, isCut: true }
    try {
      const { lines, isCut } = await gitWorker(ctx).call('searchFiles', { dir: mirrorDir(ctx, name), sha, text: input.q, limit })
      found.rows.push(...lines.map((line) => ({ repository: name, ...line })))
      found.isCut ||= isCut
    } catch (error) {
      // One that was never fetched holds nothing yet.
      if (!(error instanceof Error && isGitTrouble(error))) throw error
    }
  }
  return found
}
