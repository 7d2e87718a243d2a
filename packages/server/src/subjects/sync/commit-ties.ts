import { mayIn } from '@dystracer/core/people/standing'
import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { parseReferences, keysInBranchName } from '@dystracer/core/text/references'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { projectOf, whoIsPerson, personByAddress } from '#subjects/people/index'
import { assertLink, keyPrefixes, knownKeys } from '#subjects/records/index'
import type { RefMove } from './ref-move.js'
import { GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA, LIST_SERVICE_BY_REPOSITORY } from './repository-sync.queries.js'

/** Ties a commit to what its message names, and books the time that it tells. Saying it again changes nothing. */
export function tieCommit(ctx: ServiceContext, writer: JournalWriter, repository: string, sha: string, atMs: number): void {
  const row = sql(ctx.db, GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA).get<{
    message: string
    author_name: string
    author_email: string
    author_at_ms: number
    patch_id: string | null
  }>({ repository, sha })
  if (!row) return
  const refs = parseReferences(row.message, keyPrefixes(ctx.db))
  const to: NodeRef = { kind: 'commit', id: `${repository}/${sha}` }
  const common = {
    to,
    provenance: 'commit' as const,
    source: `commit:${to.id}`,
    statedBy: row.author_name,
    actor: 'source:git',
    atMs,
    cause: `commit ${sha.slice(0, 7)}`,
  }
  const keys = knownKeys(ctx.db, refs.named)
  const fixes = new Set(refs.fixes.map((fix) => fix.key))
  for (const key of keys)
    assertLink(ctx.db, writer, { ...common, kind: fixes.has(key) ? 'fixes' : 'tied', from: { kind: 'item', id: key } })
  for (const key of refs.requirements) assertLink(ctx.db, writer, { ...common, kind: 'tied', from: { kind: 'requirement', id: key } })
  bookTimes(ctx, writer, { keys, row, repository, sha, refs: refs.times })
}
/** `Time:` acts only for the address of a verified account that may write, and once per patch (docs/rules.md#acting-text). */
function bookTimes(
  ctx: ServiceContext,
  writer: JournalWriter,
  input: {
    keys: string[]
    row: { author_email: string; author_at_ms: number; patch_id: string | null }
    repository: string
    sha: string
    refs: { minutes: number; on: string | null }[]
  },
): void {
  const person = personByAddress(ctx.db, input.row.author_email)
  if (!person) return
  const who = whoIsPerson(ctx.db, person.personId)
  for (const key of input.keys.filter((each) => mayIn(who, 'time.book', projectOf(each)))) {
    for (const [index, time] of input.refs.entries()) {
      const entryId = `${input.row.patch_id ?? input.sha}/${index}/${key}`
      writer.append({
        kind: 'time-booked',
        // A commit names its author itself: whose time it is, is what it tells, not who acted here.
        actor: 'source:git',
        subjects: [`item:${key}`],
        cause: `commit ${input.sha.slice(0, 7)}`,
        source: `commit:${input.repository}/${input.sha}`,
        idempotencyKey: `time/${entryId}`,
        body: {
          entryId,
          key,
          personId: person.personId,
          minutes: time.minutes,
          onDay: time.on ?? new Date(input.row.author_at_ms).toISOString().slice(0, 10),
          provenance: 'commit',
        },
      })
    }
  }
}
/** Ties a branch to the items that its name bears. */
export function tieBranch(ctx: ServiceContext, writer: JournalWriter, repository: string, name: string, atMs: number): void {
  const to: NodeRef = { kind: 'branch', id: `${repository}/${name}` }
  for (const key of knownKeys(ctx.db, keysInBranchName(name, keyPrefixes(ctx.db)))) {
    assertLink(ctx.db, writer, {
      kind: 'tied',
      from: { kind: 'item', id: key },
      to,
      provenance: 'branch-name',
      source: `branch:${to.id}`,
      statedBy: null,
      actor: 'source:git',
      atMs,
      cause: `branch ${name}`,
    })
  }
}
/**
 * A tag with the prefix of a service of this repository is a release of it; a tag that moved is kept with a mark, a tag that went changes
 * nothing.
 */
export function noteRelease(ctx: ServiceContext, writer: JournalWriter, repository: string, move: RefMove, atMs: number): void {
  const tag = move.ref.slice(10)
  if (!move.to) return
  for (const service of sql(ctx.db, LIST_SERVICE_BY_REPOSITORY).all<{
    name: string
    tag_prefix: string
  }>({ repository })) {
    if (!tag.startsWith(service.tag_prefix)) continue
    const name = tag.slice(service.tag_prefix.length)
    if (!/^\d/.test(name)) continue
    writer.append({
      kind: 'release-found',
      actor: 'source:git',
      atMs,
      subjects: [`release:${service.name}@${name}`, `repository:${repository}`],
      cause: `tag ${tag}`,
      idempotencyKey: `release/${service.name}/${name}/${move.to}`,
      body: { service: service.name, name, tag, sha: move.to, isRewritten: move.from !== null },
    })
  }
}
