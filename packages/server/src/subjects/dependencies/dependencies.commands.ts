import { Problem } from '@dystracer/core/basics/problem'
import { readBill } from '@dystracer/core/dependencies/bill-of-materials'
import { decodeText } from '@dystracer/core/text/decode-text'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { requireRelease } from '#subjects/releases/index'
import { GET_BILL } from './dependencies.queries.js'

/**
 * Takes a bill of materials for a release in the place of an earlier one; gives how many packages it names, and how many components could
 * not be taken as one. Throws `not-found`, and `malformed-body` with what is wrong; then nothing is stored.
 */
export function sendBill(ctx: ServiceContext, who: Who, text: string, body: Buffer): { packages: number; withoutVersion: number } {
  const { service, name: release } = requireRelease(ctx, text)
  const decoded = decodeText(body)
  const read = decoded.ok ? readBill(decoded.text) : decoded
  if ('why' in read) throw new Problem('malformed-body', { detail: `The bill of materials was not read: ${read.why}. Nothing was stored.` })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'bill-received',
      actor: who.actor,
      subjects: [`release:${service}@${release}`],
      body: { service, release, packages: read.packages },
    })
  })
  return { packages: read.packages.length, withoutVersion: read.withoutVersion }
}

/** Takes the bill that was sent for a release back. Throws `not-found` where there is none. */
export function takeBillBack(ctx: ServiceContext, who: Who, text: string): void {
  const { service, name: release } = requireRelease(ctx, text)
  if (!sql(ctx.db, GET_BILL).get({ service, release }))
    throw new Problem('not-found', { detail: `No bill of materials was sent for ${service} ${release}.` })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'bill-taken-back',
      actor: who.actor,
      subjects: [`release:${service}@${release}`],
      body: { service, release },
    })
  })
}
