import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { TieFacts } from '@dystracer/core/ties/commit-links'
import type { TieDecision } from '@dystracer/core/ties/wire'
import type { ServiceContext } from '#platform/context'
import type { JournalWriter } from '#platform/journal/journal'
import { getCommit } from '#subjects/code/index'
import { projectOf, requireRight } from '#subjects/people/index'
import { assertLink, currentKey, requireItem, resolveKey } from '#subjects/records/index'
import { proposalContext, proposalsFor } from './proposals.js'

/**
 * Takes what people made of commits without an item, in one write: all of it or, where one of them cannot be, nothing. What was proposed is
 * asked once more before the write, so that later proposals learn from what was known. Throws `not-found` for a commit or an item that is
 * not there, `not-allowed` for an item that the asker may not change.
 */
export async function decideTies(
  ctx: ServiceContext,
  who: Who,
  repository: string,
  { decisions }: { decisions: readonly TieDecision[] },
): Promise<{ done: number }> {
  const checked: { decision: TieDecision; facts: TieFacts | null }[] = []
  const context = proposalContext(ctx, repository)
  for (const given of decisions) {
    const commit = getCommit(ctx.db, repository, given.sha)
    if (!commit) throw new Problem('not-found', { detail: `No commit ${given.sha.slice(0, 12)} of ${repository} is known here.` })
    if (!('key' in given)) {
      checked.push({ decision: given, facts: null })
      continue
    }
    const key = resolveKey(ctx.db, who, given.key)
    requireItem(ctx, key)
    requireRight(who, 'items.change', projectOf(key))
    const proposal = (await proposalsFor(ctx, who, commit, context)).find((each) => currentKey(ctx.db, each.key) === key)
    checked.push({ decision: { ...given, key }, facts: proposal?.facts ?? null })
  }
  ctx.journal.write((writer) => {
    for (const { decision, facts } of checked) writeDecision(ctx, writer, who, { repository, decision, facts })
  })
  return { done: checked.length }
}

function writeDecision(
  ctx: ServiceContext,
  writer: JournalWriter,
  who: Who,
  { repository, decision, facts }: { repository: string; decision: TieDecision; facts: TieFacts | null },
): void {
  const { sha } = decision
  const commit = `commit:${repository}/${sha}`
  if (!('key' in decision)) {
    const needsNone = decision.what === 'needs-none'
    writer.append({ kind: 'commit-excused', actor: who.actor, subjects: [commit], body: { repository, sha, needsNone } })
    return
  }
  const { key } = decision
  const isRight = decision.what === 'tie'
  if (isRight)
    assertLink(ctx.db, writer, {
      kind: 'tied',
      from: { kind: 'item', id: key },
      to: { kind: 'commit', id: `${repository}/${sha}` },
      provenance: 'person',
      source: null,
      statedBy: who.actor,
      actor: who.actor,
    })
  writer.append({
    kind: 'tie-decided',
    actor: who.actor,
    subjects: [`item:${key}`, commit],
    body: { repository, sha, key, isRight, facts },
  })
}
