import { Problem } from '@dystracer/core/basics/problem'
import type { WithdrawRelease } from '@dystracer/core/releases/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { GET_WITHDRAWAL } from './releases.queries.js'
import { requireRelease } from './releases.views.js'

/**
 * Says that a release is not to be brought anywhere any more, with the reason, or lets it stand again; said once more it changes nothing.
 * What runs goes on running: that is evidence. Throws `not-found`, `invalid-input` without a reason.
 */
export function withdrawRelease(ctx: ServiceContext, who: Who, text: string, { isWithdrawn, why }: WithdrawRelease): void {
  const { service, name: release } = requireRelease(ctx, text)
  if (isWithdrawn && why === '') throw new Problem('invalid-input', { fields: { why: 'Say why, for whoever runs it' } })
  const known = sql(ctx.db, GET_WITHDRAWAL).get<{ why: string }>({ service, release })
  if (isWithdrawn ? known?.why === why : !known) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'release-withdrawn',
      actor: who.actor,
      subjects: [`release:${service}@${release}`],
      body: { service, release, isWithdrawn, why: isWithdrawn ? why : '' },
    })
  })
}
