import { sql } from '#platform/db/statements'
import { mailAddressOf } from './notices.js'
import type { ServiceContext } from '#platform/context'
import { isSignOf, signOf } from '#subjects/people/index'
import { currentKey } from '#subjects/records/index'
import { GET_CAME_FROM_OF_ITEM_BY_KEY, LIST_NOTICE_BY_KEY } from './reply-address.queries.js'

/** The address to which one recipient answers about one item: `reply+emb-142.SIGN@domain`. */
export function replyAddress(ctx: Pick<ServiceContext, 'db' | 'config'>, key: string, personId: string): string {
  return `reply+${key.toLowerCase()}.${signOf(ctx, 'mail', `reply\n${key}\n${personId}`)}@${ctx.config.mailDomain}`
}

/**
 * To whom such an address was given, and about which item; null when the address is none of ours. A moved item keeps the addresses that
 * were given for its old key.
 */
export function readReplyAddress(ctx: Pick<ServiceContext, 'db'>, address: string): { key: string; personId: string } | null {
  const match = /^reply\+([a-z]{2,8}-\d{1,9})\.([0-9a-f]{24})@/i.exec(address)
  if (!match) return null
  const alias = (match[1] ?? '').toUpperCase()
  const key = currentKey(ctx.db, alias)
  const people = sql(ctx.db, LIST_NOTICE_BY_KEY).all<{ person_id: string }>({ key })
  const sign = (match[2] ?? '').toLowerCase()
  const holder = people.find((person) => isSignOf(ctx, 'mail', `reply\n${alias}\n${person.person_id}`, sign))
  return holder ? { key, personId: holder.person_id } : null
}

/** The text by which a reporter without an account follows their report. */
export function reportToken(ctx: Pick<ServiceContext, 'db'>, key: string, cameFrom: string): string {
  return `${key.toLowerCase()}.${signOf(ctx, 'mail', `report\n${key}\n${cameFrom}`)}`
}

/** The item that such a text opens; null when it opens none. */
export function readReportToken(ctx: Pick<ServiceContext, 'db'>, token: string): { key: string; cameFrom: string } | null {
  const [text = '', sign = ''] = token.split('.', 2)
  const alias = text.toUpperCase()
  const key = currentKey(ctx.db, alias)
  const cameFrom = sql(ctx.db, GET_CAME_FROM_OF_ITEM_BY_KEY).get<{ came_from: string | null }>({ key })?.came_from
  // Made for the key of that day: a moved item keeps its reporter.
  return cameFrom && isSignOf(ctx, 'mail', `report\n${alias}\n${cameFrom}`, sign) ? { key, cameFrom } : null
}

/** The page where a reporter without an account reads what became of their report. */
export function reportUrl(ctx: Pick<ServiceContext, 'db' | 'config'>, key: string, cameFrom: string): string {
  return `${ctx.config.publicUrl}/follow/${reportToken(ctx, key, cameFrom)}`
}

/** Where a recipient reads about an item: in the application, or by their private link. */
export function pageOfItem(ctx: Pick<ServiceContext, 'db' | 'config'>, key: string, personId: string): string {
  const address = mailAddressOf(personId)
  return address === null ? `${ctx.config.publicUrl}/items/item~${key}` : reportUrl(ctx, key, address)
}
