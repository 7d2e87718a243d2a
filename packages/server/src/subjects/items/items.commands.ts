import { createBranch } from '#subjects/reviews/index'
import { isDefectType } from '@dystracer/core/setup/item-type'
import { firstProjectWhere, checkOwnValues, checkType, readSetup, requireStageRule } from '#subjects/setup/index'
import { formatNodeRef, type NodeRef, splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { Problem } from '@dystracer/core/basics/problem'
import { type LogItem, zLogItem, type ChangeItem, type Started, type AddLink } from '@dystracer/core/items/wire'
import type { Stage } from '@dystracer/core/ladder/ladder'
import type { OwnValue } from '@dystracer/core/setup/own-field'
import { proposeBranchName } from '@dystracer/core/text/branch-name'
import type { FieldChanges } from '@dystracer/core/records/events'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { entryByIdempotencyKey } from '#platform/journal/journal.queries'
import type { Who } from '@dystracer/core/people/who'
import { fetchUrl } from '#subjects/git/index'
import { takeWithin } from '#subjects/hand/index'
import { notify } from '#subjects/inbox/index'
import { isPerson, projectOf, requireOpen, requireRight } from '#subjects/people/index'
import {
  assertLink,
  changesOf,
  currentKey,
  findLoop,
  hiddenRepositories,
  linkIdOf,
  listAssertions,
  maySeeSubject,
  nextItemKey,
  requireItem,
  retractAssertion,
  valuesForRules,
  valuesOfRow,
} from '#subjects/records/index'
import { routeNewItem } from '#subjects/routing/index'
import {
  GET_CLAIM,
  GET_REPOSITORY_BY_NAME,
  GET_REVISION_OF_REQUIREMENT_BY_KEY,
  HAS_COMPONENT_BY_NAME,
  HAS_BRANCH,
  HAS_GIT_COMMIT_BY_REPOSITORY_AND_SHA,
  HAS_PROJECT_BY_PREFIX,
  HAS_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER,
} from './items.queries.js'

/**
 * Logs an item and gives its key; the same idempotency key gives the same item again. `from` names a sender who does not act here
 * (a mail's address), `reporterId` the account that it is known to be of. Throws
 * `invalid-input`, `not-allowed`.
 */
export function logItem(
  ctx: ServiceContext,
  who: Who,
  rawInput: LogItem,
  options: { idempotencyKey?: string | undefined; from?: string; reporterId?: string | null } = {},
): string {
  return ctx.journal.write((writer) => logWithin(ctx, writer, who, rawInput, options).key)
}
/** The same inside a write, so that an import logs many at once; says whether it is new. */
export function logWithin(
  ctx: ServiceContext,
  writer: JournalWriter,
  who: Who,
  rawInput: LogItem,
  {
    idempotencyKey,
    from,
    reporterId = who.personId,
    cause = 'person',
    cameFrom = from,
    atMs,
  }: {
    idempotencyKey?: string | undefined
    from?: string
    reporterId?: string | null
    cause?: 'person' | 'import'
    /** Whom it came from elsewhere, by a name that is no account here. */
    cameFrom?: string | undefined
    /** When it was logged elsewhere; now, where it is not said. */
    atMs?: number | undefined
  } = {},
): { key: string; isNew: boolean } {
  const parsed = zLogItem.parse(rawInput)
  const input = { ...parsed, project: parsed.project ?? projectToLogIn(ctx.db, who) }
  if (from === undefined) requireRight(who, 'items.log', input.project)
  else requireOpen(ctx.db, input.project)
  // An import of the same file by somebody else is the same import.
  const fullKey =
    idempotencyKey && (cause === 'import' ? `import/${input.project}/${idempotencyKey}` : `log/${who.actor}/${idempotencyKey}`)
  const before = fullKey ? entryByIdempotencyKey(ctx.db, fullKey) : undefined
  if (before) return { key: (before.body as { key: string }).key, isNew: false }
  if (!sql(ctx.db, HAS_PROJECT_BY_PREFIX).get({ prefix: input.project }))
    throw new Problem('invalid-input', { fields: { project: `There is no project ${input.project}` } })
  checkFields(ctx, input)
  checkOwnValues(ctx.db, input.project, input.ownValues)
  if (from === undefined) checkType(ctx.db, input.project, input.type, valuesForRules(input))
  if (input.parent !== null) requireItem(ctx, input.parent)
  const { number, key } = nextItemKey(ctx, input.project)
  writer.append({
    kind: 'item-logged',
    actor: who.actor,
    subjects: [`item:${key}`],
    ...(fullKey && { idempotencyKey: fullKey }),
    ...(atMs !== undefined && { atMs }),
    body: {
      key,
      number,
      project: input.project,
      type: input.type,
      title: input.title,
      description: input.description,
      severity: input.severity,
      component: input.component,
      milestone: input.milestone,
      labels: input.labels,
      foundIn: input.foundIn,
      cause,
      reporterId,
      fault: null,
      ...(cameFrom !== undefined && { from: cameFrom }),
    },
  })
  const { project: _project, requirement: _requirement, parent: _parent, ...fields } = input
  const changes = changesOf(requireItem(ctx, key), fields)
  if (Object.keys(changes).length > 0)
    writer.append({
      kind: 'item-changed',
      actor: who.actor,
      subjects: [`item:${key}`],
      cause: 'logging',
      ...(atMs !== undefined && { atMs }),
      body: { key, changes },
    })
  if (input.requirement) tieRequirement(ctx, writer, { key, type: input.type, requirement: input.requirement, actor: who.actor })
  if (input.parent !== null)
    assertLink(ctx.db, writer, {
      kind: 'parent',
      from: { kind: 'item', id: key },
      to: { kind: 'item', id: input.parent },
      provenance: 'person',
      source: null,
      statedBy: who.actor,
      actor: who.actor,
    })
  if (cause === 'person')
    notify(ctx, writer, { key, by: who, personIds: [input.ownerId, ...input.coOwnerIds], why: 'assigned', words: 'It was logged for you.' })
  routeNewItem(ctx, writer, key)
  return { key, isNew: true }
}
/** Throws `invalid-input` where there is no project to log in. */
function projectToLogIn(db: ServiceContext['db'], who: Who): string {
  const project = firstProjectWhere(db, who, 'items.log')
  if (project !== null) return project
  throw who.via === 'anonymous'
    ? new Problem('sign-in-required')
    : new Problem('invalid-input', { fields: { project: 'Name the project' } })
}

export function checkFields(
  ctx: ServiceContext,
  input: {
    component?: string | null | undefined
    requirement?: string | null | undefined
    ownerId?: string | null | undefined
    coOwnerIds?: string[] | undefined
    namedIds?: string[] | undefined
  },
): void {
  if (input.requirement) requireRequirement(ctx, input.requirement)
  requireComponent(ctx, input.component)
  requirePerson(ctx, input.ownerId, 'ownerId')
  for (const personId of input.coOwnerIds ?? []) requirePerson(ctx, personId, 'coOwnerIds')
  for (const personId of input.namedIds ?? []) requirePerson(ctx, personId, 'namedIds')
}
/** The revision of a requirement. Throws `invalid-input` where there is none. */
export function requireRequirement(ctx: ServiceContext, key: string): number {
  const row = sql(ctx.db, GET_REVISION_OF_REQUIREMENT_BY_KEY).get<{ revision: number }>({ key })
  if (!row) throw new Problem('invalid-input', { fields: { requirement: `There is no requirement ${key}` } })
  return row.revision
}
function requireComponent(ctx: ServiceContext, name: string | null | undefined): void {
  if (name && !sql(ctx.db, HAS_COMPONENT_BY_NAME).get({ name }))
    throw new Problem('invalid-input', { fields: { component: `There is no component ${name}` } })
}
export function tieRequirement(
  ctx: ServiceContext,
  writer: JournalWriter,
  input: { key: string; type: string; requirement: string; actor: string },
): void {
  assertLink(ctx.db, writer, {
    kind: isDefectType(readSetup(ctx.db, projectOf(input.key)).types, input.type) ? 'breaks' : 'implements',
    from: { kind: 'item', id: input.key },
    to: { kind: 'requirement', id: input.requirement },
    provenance: 'person',
    source: null,
    statedBy: input.actor,
    actor: input.actor,
    targetRevision: requireRequirement(ctx, input.requirement),
  })
}
/**
 * Changes fields; what is the same already is left out. With an expected revision, a change since then is refused (`changed-meanwhile`).
 */
export function changeItem(ctx: ServiceContext, who: Who, key: string, input: ChangeItem, expectedRevision?: number): void {
  const changes = planChange(ctx, who, key, input, expectedRevision)
  if (Object.keys(changes).length > 0) ctx.journal.write((writer) => void writeChange(ctx, writer, who, key, changes))
}
/** What a change would change, checked: only fields that differ. Throws like `changeItem`, and writes nothing. */
export function planChange(ctx: ServiceContext, who: Who, key: string, input: ChangeItem, expectedRevision?: number): FieldChanges {
  const row = requireItem(ctx, key)
  requireRight(who, 'items.change', row.project)
  if (expectedRevision !== undefined && expectedRevision !== row.revision) {
    throw new Problem('changed-meanwhile', {
      detail: `${key} was changed since you opened it. Your text is kept here; look at the new one and save again.`,
      facts: { revision: row.revision },
    })
  }
  checkFields(ctx, input)
  if (input.ownValues) checkOwnValues(ctx.db, row.project, input.ownValues)
  if (input.type !== undefined && input.type !== row.type) checkType(ctx.db, row.project, input.type, valuesOfRow(ctx, row))
  return changesOf(row, {
    ...input,
    ...(input.ownValues && { ownValues: { ...(JSON.parse(row.own_values) as Record<string, OwnValue>), ...input.ownValues } }),
  })
}
/** Writes a planned change; returns the number of its entry in the journal. */
export function writeChange(ctx: ServiceContext, writer: JournalWriter, who: Who, key: string, changes: FieldChanges): number | undefined {
  const entry = writer.append({ kind: 'item-changed', actor: who.actor, subjects: [`item:${key}`], body: { key, changes } })
  tellNewOwners(ctx, writer, who, key, changes)
  return entry?.seq
}
export function tellNewOwners(ctx: ServiceContext, writer: JournalWriter, who: Who, key: string, changes: FieldChanges): void {
  const before = new Set(changes.coOwnerIds?.from ?? [])
  const fresh = (changes.coOwnerIds?.to ?? []).filter((personId) => !before.has(personId))
  notify(ctx, writer, { key, by: who, personIds: [changes.ownerId?.to ?? null, ...fresh], why: 'assigned', words: 'It is yours now.' })
}
function requirePerson(ctx: ServiceContext, personId: string | null | undefined, field: string): void {
  if (personId && !isPerson(ctx.db, personId)) throw new Problem('invalid-input', { fields: { [field]: 'There is no such person' } })
}
export function reopenItem(ctx: ServiceContext, who: Who, key: string, why: string): void {
  requireItem(ctx, key)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'item-reopened', actor: who.actor, subjects: [`item:${key}`], body: { key, why } })
  })
}
export function verifyItem(ctx: ServiceContext, who: Who, key: string, words: string): void {
  const row = requireItem(ctx, key)
  requireStageRule(ctx.db, row.project, 'verified', valuesOfRow(ctx, row))
  ctx.journal.write((writer) => {
    writer.append({ kind: 'item-verified', actor: who.actor, subjects: [`item:${key}`], body: { key, words } })
  })
}
export function claimStage(ctx: ServiceContext, who: Who, key: string, input: { stage: Stage; words: string }): void {
  requireItem(ctx, key)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'stage-claimed', actor: who.actor, subjects: [`item:${key}`], body: { key, ...input } })
  })
}
/** Stands for a claim: the stage counts from now on, with the reason shown. Throws `not-found` where nobody claims it. */
export function acceptClaim(ctx: ServiceContext, who: Who, key: string, input: { stage: Stage; words: string }): void {
  requireClaim(ctx, key, input.stage)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'claim-accepted', actor: who.actor, subjects: [`item:${key}`], body: { key, ...input } })
  })
}
/**
 * Declares that a repository needs nothing of the fix, so that the item does not wait for it; without words it is taken back. Throws
 * `invalid-input` for a repository that there is not, or that the asker may not see.
 */
export function declareUnaffected(ctx: ServiceContext, who: Who, key: string, input: { repository: string; words: string | null }): void {
  requireItem(ctx, key)
  const isKnown = sql(ctx.db, GET_REPOSITORY_BY_NAME).get<{ url: string }>({ name: input.repository }) !== undefined
  const hidden = JSON.parse(hiddenRepositories(ctx.db, who)) as string[]
  if (!isKnown || hidden.includes(input.repository))
    throw new Problem('invalid-input', { fields: { repository: `There is no repository ${input.repository}` } })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'repository-unaffected', actor: who.actor, subjects: [`item:${key}`], body: { key, ...input } })
  })
}
/** Takes a claim back, and with it its acceptance. Throws `not-found`, and `not-allowed` for another's claim. */
export function takeBackClaim(ctx: ServiceContext, who: Who, key: string, { stage }: { stage: Stage }): void {
  const { by } = requireClaim(ctx, key, stage)
  if (by !== who.actor) requireRight(who, 'claims.accept', projectOf(key))
  ctx.journal.write((writer) => {
    writer.append({ kind: 'claim-taken-back', actor: who.actor, subjects: [`item:${key}`], body: { key, stage } })
  })
}
function requireClaim(ctx: ServiceContext, key: string, stage: Stage): { by: string } {
  requireItem(ctx, key)
  const claim = sql(ctx.db, GET_CLAIM).get<{ by: string }>({ key, stage })
  if (!claim) throw new Problem('not-found', { detail: `Nobody claims that ${key} is ${stage}.` })
  return claim
}
/**
 * Starts work: creates the branch where the repository lives and tells how to check it out. Throws
 * `outside-unreachable` with nothing changed.
 */
export async function startItem(
  ctx: ServiceContext,
  who: Who,
  key: string,
  input: { repository: string; branch?: string | undefined },
): Promise<Started> {
  const row = requireItem(ctx, key)
  requireStageRule(ctx.db, row.project, 'underway', valuesOfRow(ctx, row))
  const repository = sql(ctx.db, GET_REPOSITORY_BY_NAME).get<{ url: string; main_branch: string }>({
    name: input.repository,
  })
  if (!repository) throw new Problem('invalid-input', { fields: { repository: `There is no repository ${input.repository}` } })
  const branch = input.branch ?? proposeBranchName(row)
  if (!/^[A-Za-z0-9][\w./-]{0,118}$/.test(branch) || branch.includes('..') || branch.endsWith('.lock') || branch.endsWith('/'))
    throw new Problem('invalid-input', { fields: { branch: 'Not a name that git takes for a branch' } })
  await createBranch(ctx, who, { repository: input.repository, branch, from: repository.main_branch })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'item-started',
      actor: who.actor,
      subjects: [`item:${key}`],
      body: { key, repository: input.repository, branch },
    })
    if (who.personId) takeWithin(ctx, writer, who, who.personId, { key, branch: `${input.repository}/${branch}` })
    if (row.owner_id === null && who.personId) {
      writer.append({
        kind: 'item-changed',
        actor: who.actor,
        subjects: [`item:${key}`],
        cause: 'started work',
        body: { key, changes: { ownerId: { from: null, to: who.personId } } },
      })
    }
  })
  return {
    branch,
    repository: input.repository,
    commands: [`git fetch ${fetchUrl(ctx, repository.url)} ${branch}`, `git checkout -b ${branch} FETCH_HEAD`],
  }
}
/** Ties an item to something by a person's word. Refuses loops of `blocks` and `parent`, naming the loop. */
export function addLink(ctx: ServiceContext, who: Who, key: string, input: AddLink): void {
  requireItem(ctx, key)
  if (!maySeeSubject(ctx.db, who, formatNodeRef(input.to)))
    throw new Problem('not-found', { detail: `There is no ${input.to.kind} ${input.to.id}.` })
  requireTarget(ctx, input.to)
  const from: NodeRef = { kind: 'item', id: key }
  if (input.to.kind === 'item' && currentKey(ctx.db, input.to.id) === key)
    throw new Problem('invalid-input', { fields: { to: `${key} cannot be tied to itself` } })
  if (input.kind === 'blocks' || input.kind === 'parent') {
    const loop = findLoop(ctx, input.kind, input.to.id, key)
    if (loop) throw new Problem('conflict', { detail: `That would close a loop: ${[key, ...loop].join(' → ')}.` })
  }
  const targetRevision = input.to.kind === 'requirement' ? requireRequirement(ctx, input.to.id) : null
  ctx.journal.write((writer) => {
    assertLink(ctx.db, writer, {
      kind: input.kind,
      from,
      to: input.to,
      provenance: 'person',
      source: null,
      statedBy: who.actor,
      actor: who.actor,
      targetRevision,
    })
  })
}
const TARGET_TABLE: Partial<Record<NodeRef['kind'], string>> = {
  item: 'SELECT 1 FROM item WHERE key = @id',
  requirement: 'SELECT 1 FROM requirement WHERE key = @id',
  fault: `SELECT 1 FROM fault WHERE number = CAST(substr(@id, 3) AS INTEGER) AND 'F-' || number = @id`,
}
function requireTarget(ctx: ServiceContext, to: NodeRef): void {
  const parts = splitRepositoryId(to.id)
  const found = TARGET_TABLE[to.kind]
    ? sql(ctx.db, TARGET_TABLE[to.kind] ?? '').get({ id: to.id })
    : to.kind === 'pull-request'
      ? parts &&
        sql(ctx.db, HAS_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER).get({
          repository: parts.repository,
          number: Number(parts.rest),
        })
      : to.kind === 'commit'
        ? parts && sql(ctx.db, HAS_GIT_COMMIT_BY_REPOSITORY_AND_SHA).get({ repository: parts.repository, sha: parts.rest })
        : to.kind === 'branch'
          ? parts && sql(ctx.db, HAS_BRANCH).get({ repository: parts.repository, ref: `refs/heads/${parts.rest}` })
          : null
  if (!found) throw new Problem('invalid-input', { fields: { to: `There is no ${to.kind} ${to.id}` } })
}
/** A person's untie: retracts every assertion of the link and forbids re-deriving it from the same sources (docs/rules.md#links). */
export function removeLink(ctx: ServiceContext, who: Who, key: string, linkId: string): void {
  const rows = listAssertions(ctx.db, { kind: 'item', id: key }).filter((row) => row.link_id === linkId)
  if (rows.length === 0) throw new Problem('not-found', { detail: 'This link is not there any more.' })
  ctx.journal.write((writer) => {
    for (const row of rows) {
      retractAssertion(writer, row, who.actor)
      if (row.source) {
        const id = linkIdOf({ kind: row.kind, from: { kind: row.from_kind, id: row.from_id }, to: { kind: row.to_kind, id: row.to_id } })
        writer.append({ kind: 'link-vetoed', actor: who.actor, subjects: [`item:${key}`], body: { linkId: id, source: row.source } })
      }
    }
  })
}
