import { DEFAULT_GATES } from '@dystracer/core/reviews/gates'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { askReview, giveReview, makeRemark, setMergeGates } from '@dystracer/server/subjects/reviews/reviewing.commands'
import { readReview } from '@dystracer/server/subjects/reviews/reviewing.views'

/**
 * What people of Emberwick say of the changes that wait on the demo's day: asked for, agreed to, objected to
 * with a remark and its answer.
 */
export async function layDownReviews(ctx: ServiceContext, memberOf: (personId: string) => Who): Promise<void> {
  const [mara, noor, rafe, teo] = ['mara', 'noor', 'rafe', 'teo'].map(memberOf) as [Who, Who, Who, Who]
  const gates = { ...DEFAULT_GATES, agreements: 1, needsSettled: true, needsItem: true, notWhileBroken: true }
  await setMergeGates(ctx, memberOf('ines'), 'firing-planner', { branches: '*', gates })
  const queue = 'firing-planner/12'
  askReview(ctx, teo, queue, { personId: 'mara', isOn: true })
  giveReview(ctx, mara, queue, { verdict: 'agreed', words: 'Reads well, and the test names the requirement.', remarks: [] })
  const remark = {
    text: 'Two people may queue at the same moment. Is the copy made **before** the slot is taken?',
    place: null,
    replyTo: null,
    instead: null,
  }
  giveReview(ctx, noor, queue, { verdict: 'changes-asked', words: 'One case before it may go in.', remarks: [remark] })
  const [made] = (await readReview(ctx, noor, queue)).remarks
  if (made)
    makeRemark(ctx, teo, queue, {
      text: 'Not yet: I will copy first and take the slot with it.',
      place: null,
      replyTo: made.remarkId,
      instead: null,
    })
  askReview(ctx, noor, 'glaze-lab/11', { personId: 'rafe', isOn: true })
  giveReview(ctx, rafe, 'glaze-lab/11', {
    verdict: 'remarked',
    words: 'Newest first is what the studio asked for. I try it with the long list tonight.',
    remarks: [],
  })
}
