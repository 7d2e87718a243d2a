import { Problem } from '@dystracer/core/basics/problem'
import { overlapIn, type LineChange } from '@dystracer/core/reviews/line-changes'
import type { Remark } from '@dystracer/core/reviews/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { identityOf, whoIsPerson } from '#subjects/people/index'
import { findPullRequest } from '#subjects/code/index'
import { gitWorker } from '#subjects/git/index'
import { remoteOf, requirePushed, throughGit } from './own-pull-requests.js'
import { settleRemark } from './reviewing.commands.js'
import { readReview } from './reviewing.views.js'

/**
 * Takes what remarks propose in place of their lines: one commit on the branch of the change, by whoever proposed it, committed by whoever
 * takes it; the remarks are settled once it is pushed. `lookAgain` reads the repository anew then. Throws `not-found`, `conflict` where
 * lines are gone or two proposals touch the same, `changed-meanwhile` where the branch moved.
 */
export async function takeProposed(
  ctx: ServiceContext,
  who: Who,
  id: string,
  { remarkIds }: { remarkIds: readonly string[] },
  lookAgain: (repository: string) => Promise<void>,
): Promise<void> {
  const row = findPullRequest(ctx, who, id)
  if (row.state !== 'open') throw new Problem('conflict', { detail: `It is ${row.state} already; its lines change no more.` })
  const { remarks } = await readReview(ctx, who, id)
  const taken = [...new Set(remarkIds)].map((remarkId) => {
    const remark = remarks.find((each) => each.remarkId === remarkId)
    if (!remark) throw new Problem('not-found', { detail: 'One of these remarks is not there.' })
    return { remark, change: changeOf(remark) }
  })
  const overlap = overlapIn(taken.map(({ change }) => change))
  if (overlap)
    throw new Problem('conflict', { detail: `Two of them change line ${overlap[1].line} of ${overlap[1].path}; take one of the two.` })
  const author = identityOf(ctx, whoIsPerson(ctx.db, taken[0]?.remark.personId ?? ''))
  const others = [...new Set(taken.map(({ remark }) => remark.personId))]
    .slice(1)
    .map((personId) => identityOf(ctx, whoIsPerson(ctx.db, personId)))
  const result = await throughGit(() =>
    gitWorker(ctx).call('changeLines', {
      ...remoteOf(ctx, row.repository),
      branch: row.head,
      head: row.head_sha,
      changes: taken.map(({ change }) => change),
      message: messageOf(taken, others),
      by: identityOf(ctx, who),
      author: { ...author, atMs: ctx.nowMs() },
    }),
  )
  if (result.kind === 'gone')
    throw new Problem('conflict', { detail: `The lines of ${result.path} are not there any more; nothing was changed.` })
  requirePushed(result, row.head)
  await lookAgain(row.repository)
  for (const { remark } of taken) settleRemark(ctx, who, id, { remarkId: remark.remarkId, isSettled: true })
}

/** What a remark proposes at the newest commit. Throws `conflict` where it proposes nothing, or its lines are gone. */
function changeOf({ instead, place, now }: Remark): LineChange {
  if (instead === null || place === null || place.side === 'old')
    throw new Problem('conflict', { detail: 'One of these remarks proposes nothing in place of its lines.' })
  if (now === null) throw new Problem('conflict', { detail: `The lines of ${place.path} that it is about changed since; propose it anew.` })
  return { path: place.path, line: now.line, lastLine: now.lastLine, text: instead }
}

/** Whose proposals they are stays said: the first is the author, the others are named as git's own trailer does. */
function messageOf(taken: readonly { change: LineChange }[], others: readonly { name: string; email: string }[]): string {
  const paths = [...new Set(taken.map(({ change }) => change.path))]
  const [first] = taken
  const subject =
    taken.length === 1 && first
      ? `Change line ${first.change.line} of ${first.change.path} as proposed`
      : `Change ${taken.length} places in ${paths.length === 1 ? paths[0] : `${paths.length} files`} as proposed`
  return `${subject}\n${others.map(({ name, email }) => `\nCo-authored-by: ${name} <${email}>`).join('')}\n`
}
