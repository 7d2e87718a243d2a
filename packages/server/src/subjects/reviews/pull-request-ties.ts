import { keysInBranchName, parseReferences } from '@dystracer/core/text/references'
import type { Actor } from '@dystracer/core/contract/events'
import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import type { PullRequestBody } from '@dystracer/core/code/events'
import { commitsOfPullRequest, type PullRequestRow } from '#subjects/code/index'
import type { ServiceContext } from '#platform/context'
import { type Assertion, itemsTiedTo, keyPrefixes, knownKeys, replaceAssertionsOf } from '#subjects/records/index'
import { GET_MESSAGE_OF_GIT_COMMIT_BY_REPOSITORY_AND_SHA, GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER } from './reviews.queries.js'

/** Journals a pull request as the code host shows it now; an older or the same version changes nothing. */
export function seePullRequest(ctx: ServiceContext, pr: PullRequestBody, cause: string): void {
  ctx.journal.write((writer) => writePullRequest(ctx, writer, pr, { cause, actor: 'source:code-host' }))
}

/** The same inside a write; `actor` is who or what made it so. */
export function writePullRequest(
  ctx: ServiceContext,
  writer: JournalWriter,
  pr: PullRequestBody,
  { cause, actor }: { cause: string; actor: Actor },
): void {
  const subject = `pull-request:${pr.repository}/${pr.number}`
  const entry = writer.append({
    kind: 'pull-request-seen',
    actor,
    atMs: pr.updatedAtMs,
    cause,
    subjects: [subject, `repository:${pr.repository}`],
    source: subject,
    idempotencyKey: `pull-request/${pr.repository}/${pr.number}/${pr.version}`,
    body: pr,
  })
  if (entry) tiePullRequest(ctx, writer, pr, pr.updatedAtMs)
}

/** Ties a pull request to all items that its title, text, branch and commits name, and takes back what they no longer say. */
export function tiePullRequest(ctx: ServiceContext, writer: JournalWriter, id: { repository: string; number: number }, atMs: number): void {
  const row = sql(ctx.db, GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER).get<PullRequestRow>({
    repository: id.repository,
    number: id.number,
  })
  if (!row) return
  const prefixes = keyPrefixes(ctx.db)
  const to: NodeRef = { kind: 'pull-request', id: `${id.repository}/${id.number}` }
  const text = parseReferences(`${row.title}\n\n${row.body}`, prefixes)
  const kinds = new Map<string, { kind: 'fixes' | 'tied'; provenance: Assertion['provenance'] }>()
  for (const key of keysInBranchName(row.head, prefixes)) kinds.set(key, { kind: 'tied', provenance: 'branch-name' })
  for (const sha of commitsOfPullRequest(ctx, { ...row, repository: id.repository })) {
    const message =
      sql(ctx.db, GET_MESSAGE_OF_GIT_COMMIT_BY_REPOSITORY_AND_SHA).get<{ message: string }>({
        repository: id.repository,
        sha,
      })?.message ?? ''
    for (const key of parseReferences(message, prefixes).named) if (!kinds.has(key)) kinds.set(key, { kind: 'tied', provenance: 'commit' })
  }
  for (const key of text.named) kinds.set(key, { kind: 'tied', provenance: 'pull-request' })
  for (const fix of text.fixes) kinds.set(fix.key, { kind: 'fixes', provenance: 'pull-request' })
  const links: Assertion[] = knownKeys(ctx.db, [...kinds.keys()]).map((key) => ({
    from: { kind: 'item', id: key },
    to,
    source: `pull-request:${to.id}`,
    statedBy: row.author,
    actor: 'source:code-host',
    atMs,
    cause: `pull request ${id.number}`,
    kind: kinds.get(key)?.kind ?? 'tied',
    provenance: kinds.get(key)?.provenance ?? 'pull-request',
  }))
  replaceAssertionsOf(ctx.db, writer, `pull-request:${to.id}`, links, 'source:code-host', atMs)
  writer.touch(itemsTiedTo(ctx.db, to))
}
