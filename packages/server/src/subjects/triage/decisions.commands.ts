import { Problem } from '@dystracer/core/basics/problem'
import {
  zAcceptItem,
  zAskReporter,
  type AcceptItem,
  type AskReporter,
  type DecideMany,
  type MergeItem,
  type RejectItem,
} from '@dystracer/core/triage/wire'
import type { Decision, Proposed, TriageSource } from '@dystracer/core/triage/decision'
import { sql } from '#platform/db/statements'
import type { EventDraft, EventKind, JournalEntry } from '@dystracer/core/contract/events'
import type { JournalWriter } from '#platform/journal/journal'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { notify, reporterOf } from '#subjects/inbox/index'
import { checkFields, tellNewOwners, tieRequirement } from '#subjects/items/index'
import { nameOfPerson, projectOf, requireRight } from '#subjects/people/index'
import {
  type Assertion,
  assertionIdOf,
  assertLink,
  changesOf,
  currentKey,
  type ItemRow,
  listAssertions,
  maySee,
  requireItem,
  retractAssertion,
  valuesOfRow,
} from '#subjects/records/index'
import { requireStageRule } from '#subjects/setup/index'
import { followersOf } from '#subjects/talk/index'
import { GET_INTO_KEY_OF_ITEM_MERGE_BY_INTO, GET_ITEM_BY_KEY, GET_ITEM_MERGE_BY_KEY } from './decisions.queries.js'

const DAY_MS = 86_400_000

interface StandRow {
  accepted_at_ms: number | null
  accepted_by: string | null
  disposition: string | null
  disposed_by: string | null
  disposed_at_ms: number | null
  asked_at_ms: number | null
  asked_by: string | null
  asked_until_ms: number | null
  answered_at_ms: number | null
  has_come_back: number
  created_at_ms: number
}
export function readStand(ctx: Pick<ServiceContext, 'db'>, key: string): StandRow {
  const row = sql(ctx.db, GET_ITEM_BY_KEY).get<StandRow>({ key })
  if (!row) throw new Problem('not-found', { detail: `There is no item ${key}.` })
  return row
}

/** Who decided on an item last, while it does not wait for a decision any more; null while it does. */
export function decidedBy(ctx: Pick<ServiceContext, 'db' | 'nowMs'>, key: string): { by: string; decision: Decision; atMs: number } | null {
  const stand = readStand(ctx, key)
  if (stand.disposition !== null)
    return {
      by: stand.disposed_by ?? '',
      decision: stand.disposition === 'duplicate' ? 'same-as' : 'reject',
      atMs: stand.disposed_at_ms ?? 0,
    }
  if (stand.has_come_back === 1) return null
  if (stand.accepted_at_ms !== null) return { by: stand.accepted_by ?? '', decision: 'accept', atMs: stand.accepted_at_ms }
  if (stand.asked_until_ms !== null && stand.asked_until_ms > ctx.nowMs())
    return { by: stand.asked_by ?? '', decision: 'ask', atMs: stand.asked_at_ms ?? 0 }
  return null
}

/** From where a waiting item came. */
export function sourceOf(row: Pick<ItemRow, 'has_come_back' | 'fault' | 'logged_cause' | 'came_from'>): TriageSource {
  if (row.has_come_back === 1) return 'came-back'
  if (row.fault !== null) return 'fault'
  if (row.logged_cause === 'import') return 'import'
  if (row.logged_cause === 'test') return 'failing-test'
  if (row.logged_cause === 'finding') return 'finding'
  if (row.logged_cause === 'incident') return 'incident'
  return row.came_from === null ? 'person' : 'mail-or-form'
}

interface Deciding {
  decision: Decision
  disposition?: RejectItem['disposition']
  proposed?: Partial<Proposed> | undefined
  asWaiting?: boolean | undefined
  chosen: Partial<Proposed>
}

/**
 * Runs a decision in one write and journals what it was, with what had been proposed and the entries that it consists of, so that one undo
 * takes it all back. Throws `decided-already`, naming who,
 * when it was made on an item that waited and does not any more.
 */
function decide(ctx: ServiceContext, who: Who, row: ItemRow, deciding: Deciding, act: (writer: JournalWriter) => void): void {
  if (deciding.asWaiting) {
    const before = decidedBy(ctx, row.key)
    if (before) {
      const name = nameOfPerson(ctx.db, before.by) ?? before.by
      throw new Problem('decided-already', {
        detail: `${name} has decided on ${row.key} meanwhile. That stands; nothing was changed.`,
        facts: before,
      })
    }
  }
  const stand = readStand(ctx, row.key)
  ctx.journal.write((writer) => {
    const seqs: number[] = []
    const noting: JournalWriter = {
      append: <Kind extends EventKind>(draft: EventDraft<Kind>): JournalEntry<Kind> | null => {
        const entry = writer.append(draft)
        if (entry && entry.kind !== 'person-notified') seqs.push(entry.seq)
        return entry
      },
      touch: (keys) => writer.touch(keys),
    }
    if (deciding.decision !== 'ask' && stand.asked_at_ms !== null)
      noting.append({ kind: 'asking-ended', actor: who.actor, subjects: [`item:${row.key}`], cause: 'triage', body: { key: row.key } })
    act(noting)
    writer.append({
      kind: 'triage-decided',
      actor: who.actor,
      subjects: [`item:${row.key}`],
      cause: 'triage',
      body: {
        decisionId: ctx.newId(),
        key: row.key,
        project: row.project,
        decision: deciding.decision,
        disposition: deciding.disposition ?? null,
        proposed: deciding.proposed ?? {},
        chosen: deciding.chosen,
        waitedMs: Math.max(0, ctx.nowMs() - (stand.answered_at_ms ?? stand.created_at_ms)),
        source: sourceOf(row),
        seqs,
      },
    })
  })
}

/** Decides that an item is real and ours, with severity, owner, component and the requirement that it breaks. */
export function acceptItem(ctx: ServiceContext, who: Who, key: string, rawInput: AcceptItem): void {
  const { proposed, asWaiting, requirement, ...fields } = zAcceptItem.parse(rawInput)
  const row = requireItem(ctx, key)
  checkFields(ctx, { ...fields, requirement })
  const wanted = {
    ...fields,
    component: fields.component ?? row.component,
    ownerId: fields.ownerId ?? row.owner_id,
    milestone: fields.milestone ?? row.milestone,
  }
  requireStageRule(ctx.db, row.project, 'accepted', valuesOfRow(ctx, row, { ...wanted, requirement }))
  const changes = changesOf(row, wanted)
  const { severity, ownerId, component, milestone } = wanted
  decide(
    ctx,
    who,
    row,
    { decision: 'accept', proposed, asWaiting, chosen: { severity, ownerId, component, milestone, requirement } },
    (writer) => {
      if (Object.keys(changes).length > 0)
        writer.append({ kind: 'item-changed', actor: who.actor, subjects: [`item:${key}`], cause: 'triage', body: { key, changes } })
      writer.append({ kind: 'item-accepted', actor: who.actor, subjects: [`item:${key}`], cause: 'triage', body: { key } })
      if (requirement) tieRequirement(ctx, writer, { key, type: row.type, requirement, actor: who.actor })
      tellNewOwners(ctx, writer, who, key, changes)
      tellReporter(ctx, writer, who, row, 'It was accepted and will be worked on.')
    },
  )
}

function tellReporter(ctx: ServiceContext, writer: JournalWriter, who: Who, row: ItemRow, words: string): void {
  notify(ctx, writer, { key: row.key, by: who, personIds: [reporterOf(row)], why: 'decided', words })
}

const PLAIN_DISPOSITION: Record<NonNullable<ItemRow['disposition']>, string> = {
  duplicate: 'It is the same as another report, where it is followed up.',
  'works-as-required': 'It works as it is required to.',
  'cannot-reproduce': 'We could not make it happen.',
  'will-not-fix': 'We will not change it.',
  deferred: 'We put it off for now.',
}

/**
 * Takes an item off the ladder with a disposition and words to the reporter; a duplicate is merged into the item that it is the same as.
 */
export function rejectItem(ctx: ServiceContext, who: Who, key: string, input: RejectItem): void {
  const row = requireItem(ctx, key)
  const { disposition, words = '', proposed, asWaiting } = input
  if (disposition === 'duplicate') {
    if (!input.sameAs) throw new Problem('invalid-input', { fields: { sameAs: 'Name the item that this one is the same as' } })
    mergeItem(ctx, who, key, { into: input.sameAs, proposed, asWaiting }, words)
    return
  }
  decide(ctx, who, row, { decision: 'reject', disposition, proposed, asWaiting, chosen: {} }, (writer) => {
    writer.append({
      kind: 'item-rejected',
      actor: who.actor,
      subjects: [`item:${key}`],
      cause: 'triage',
      body: { key, disposition, words },
    })
    tellReporter(ctx, writer, who, row, `${PLAIN_DISPOSITION[disposition]} ${words}`.trim())
  })
}

/**
 * Merges an item into the one that it is the same as: reporter and followers follow that one, the fault's occurrences count for it, the
 * requirements that it breaks and what else it is tied to go along. What was
 * added is journalled, so that a split gives back exactly that.
 */
export function mergeItem(ctx: ServiceContext, who: Who, key: string, input: MergeItem, words = ''): void {
  const row = requireItem(ctx, key)
  const into = currentKey(ctx.db, input.into.toUpperCase())
  if (into === key) throw new Problem('invalid-input', { fields: { sameAs: 'An item cannot be the same as itself' } })
  if (!maySee(ctx.db, who, into)) throw new Problem('not-found', { detail: `There is no item ${into}.` })
  requireRight(who, 'items.decide', projectOf(into))
  const target = requireItem(ctx, into)
  const further = sql(ctx.db, GET_INTO_KEY_OF_ITEM_MERGE_BY_INTO).get<{ into_key: string }>({ into })?.into_key
  if (further !== undefined)
    throw new Problem('invalid-input', { fields: { sameAs: `${into} is itself the same as ${further}. Name ${further} instead.` } })
  decide(
    ctx,
    who,
    row,
    { decision: 'same-as', disposition: 'duplicate', proposed: input.proposed, asWaiting: input.asWaiting, chosen: { sameAs: into } },
    (writer) => {
      const stated: Assertion[] = [
        { ...linkOf(who, key, 'same-as'), to: { kind: 'item', id: into } },
        ...listAssertions(ctx.db, { kind: 'item', id: key })
          .filter((link) => link.from_kind === 'item' && link.from_id === key && ['fault', 'requirement', 'test'].includes(link.to_kind))
          .map((link) => ({
            ...linkOf(who, into, link.kind),
            to: { kind: link.to_kind, id: link.to_id },
            targetRevision: link.target_revision,
          })),
      ]
      const assertionIds = stated.filter((link) => assertLink(ctx.db, writer, link)).map((link) => assertionIdOf(link))
      const already = new Set(followersOf(ctx, into))
      const followerIds = [...new Set([row.reporter_id, ...followersOf(ctx, key)])].filter(
        (personId): personId is string => personId !== null && !already.has(personId),
      )
      writer.append({
        kind: 'item-merged',
        actor: who.actor,
        subjects: [`item:${key}`, `item:${into}`],
        cause: 'triage',
        body: { key, into, followerIds, assertionIds, fault: row.fault !== null && target.fault === null ? row.fault : null },
      })
      writer.append({
        kind: 'item-rejected',
        actor: who.actor,
        subjects: [`item:${key}`],
        cause: 'triage',
        body: { key, disposition: 'duplicate', words },
      })
      tellReporter(ctx, writer, who, row, `${PLAIN_DISPOSITION.duplicate} ${words}`.trim())
    },
  )
}

function linkOf(who: Who, key: string, kind: string): Omit<Assertion, 'to'> {
  return {
    kind,
    from: { kind: 'item', id: key },
    provenance: 'person',
    source: null,
    statedBy: who.actor,
    actor: who.actor,
    cause: 'merged',
  }
}

/**
 * Splits a merged item from the one it went into: it waits again, and what the merge had added is taken back. Throws `conflict` where it is
 * not merged.
 */
export function splitItem(ctx: ServiceContext, who: Who, key: string): void {
  requireItem(ctx, key)
  ctx.journal.write((writer) => splitWithin(ctx, writer, who, key))
}

/** The split, inside a write: for the undo of a merge too. */
export function splitWithin(ctx: ServiceContext, writer: JournalWriter, who: Who, key: string): void {
  const merge = sql(ctx.db, GET_ITEM_MERGE_BY_KEY).get<{ into_key: string; assertion_ids: string }>({
    key,
  })
  if (!merge) throw new Problem('conflict', { detail: `${key} is not merged into another item.` })
  const added = new Set(JSON.parse(merge.assertion_ids) as string[])
  const standing = [...listAssertions(ctx.db, { kind: 'item', id: key }), ...listAssertions(ctx.db, { kind: 'item', id: merge.into_key })]
  for (const link of new Map(standing.map((entry) => [entry.assertion_id, entry])).values())
    if (added.has(link.assertion_id)) retractAssertion(writer, link, who.actor)
  writer.append({ kind: 'item-split', actor: who.actor, subjects: [`item:${key}`, `item:${merge.into_key}`], body: { key } })
  writer.append({
    kind: 'item-reopened',
    actor: who.actor,
    subjects: [`item:${key}`],
    cause: 'split',
    body: { key, why: `split from ${merge.into_key}` },
  })
}

/**
 * Asks the reporter: the item leaves the queue until the answer, or until the days are over. The question stands among the comments. Throws
 * `conflict` where nobody can be asked.
 */
export function askReporter(ctx: ServiceContext, who: Who, key: string, rawInput: AskReporter): void {
  const { words, days, proposed, asWaiting } = zAskReporter.parse(rawInput)
  const row = requireItem(ctx, key)
  const reporter = reporterOf(row)
  if (reporter === null)
    throw new Problem('conflict', { detail: `Nobody reported ${key} who could be asked: it came from ${row.fault ?? row.logged_cause}.` })
  if (reporter === who.personId) throw new Problem('conflict', { detail: `You reported ${key} yourself.` })
  decide(ctx, who, row, { decision: 'ask', proposed, asWaiting, chosen: {} }, (writer) => {
    writer.append({
      kind: 'reporter-asked',
      actor: who.actor,
      subjects: [`item:${key}`],
      cause: 'triage',
      body: { key, words, untilMs: ctx.nowMs() + days * DAY_MS },
    })
    writer.append({
      kind: 'comment-added',
      actor: who.actor,
      subjects: [`item:${key}`],
      cause: 'triage',
      body: { commentId: ctx.newId(), key, text: words },
    })
    notify(ctx, writer, { key, by: who, personIds: [reporter], why: 'asked', words })
  })
}

/** One decision on several; each that cannot be decided so is named with the reason, the others are decided. */
export function decideMany(ctx: ServiceContext, who: Who, input: DecideMany): { decided: number; refused: { key: string; why: string }[] } {
  const refused: { key: string; why: string }[] = []
  let decided = 0
  for (const key of new Set(input.keys)) {
    try {
      if (!maySee(ctx.db, who, key)) throw new Problem('not-found')
      requireRight(who, 'items.decide', projectOf(key))
      decideOne(ctx, who, key, input)
      decided++
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      refused.push({ key, why: [error.message, ...Object.values(error.fields ?? {})].join(' ') })
    }
  }
  return { decided, refused }
}

function decideOne(ctx: ServiceContext, who: Who, key: string, input: DecideMany): void {
  if (input.decision === 'accept') acceptItem(ctx, who, key, { severity: input.severity, asWaiting: true })
  else if (input.decision === 'reject') rejectItem(ctx, who, key, { disposition: input.disposition, words: input.words, asWaiting: true })
  else if (input.decision === 'same-as') mergeItem(ctx, who, key, { into: input.into, asWaiting: true })
  else askReporter(ctx, who, key, { words: input.words, days: input.days, asWaiting: true })
}
