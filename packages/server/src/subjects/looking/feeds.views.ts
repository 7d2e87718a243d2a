import type { ItemSummary } from '@dystracer/core/records/wire'
import { mayIn, mayAnywhere } from '@dystracer/core/people/standing'
import { Feed } from 'feed'
import ical from 'ical-generator'
import { Problem } from '@dystracer/core/basics/problem'
import { parseFilter } from '@dystracer/core/filter/parse-filter'
import { withPlainTexts } from '#platform/atom-text'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { listItems } from './looking.views.js'
import type { ServiceContext } from '#platform/context'
import { isSignOf, signOf, whoIsPerson } from '#subjects/people/index'
import { LIST_MILESTONE } from './feeds.queries.js'

/** Due days of so many items at most, read by pages; those that are due first. */
const DUE_MAX = 5000
const DUE_PAGE = 500
const ENTRIES_MAX = 50

/** What a private link says: who looks, and by which filter. */
interface FeedClaim {
  personId: string
  filter: string
}

/**
 * The texts of the private links to a view's calendar and activity. Who has one reads as the person who made it, what the filter admits,
 * and nothing else.
 */
export function feedLinks(ctx: Pick<ServiceContext, 'db' | 'config'>, who: Who, filter: string): { calendar: string; activity: string } {
  if (who.personId === null) throw new Problem('sign-in-required', { detail: 'A private link belongs to a person. Sign in.' })
  if ('error' in parseFilter(filter)) throw new Problem('filter-not-understood', { detail: 'This filter was not understood.' })
  const claim = Buffer.from(JSON.stringify({ personId: who.personId, filter } satisfies FeedClaim)).toString('base64url')
  const base = `${ctx.config.publicUrl}/feeds/${claim}.${signOf(ctx, 'feed', claim)}`
  return { calendar: `${base}.ics`, activity: `${base}.atom` }
}

function readLink(ctx: ServiceContext, token: string): { who: Who; filter: string } {
  const [claim = '', sign = ''] = token.split('.', 2)
  if (!isSignOf(ctx, 'feed', claim, sign)) throw new Problem('not-found', { detail: 'This link opens nothing. Make a new one.' })
  const { personId, filter } = JSON.parse(Buffer.from(claim, 'base64url').toString('utf8')) as FeedClaim
  const who: Who = { ...whoIsPerson(ctx.db, personId), via: 'token', scope: 'read' }
  if (!mayAnywhere(who, 'project.read')) throw new Problem('not-found', { detail: 'Its owner reads here no more.' })
  return { who, filter }
}

/**
 * All due days of a view's items as iCalendar (RFC 5545), whole days; those of milestones where the view is about a milestone, or about
 * everything.
 */
export function readCalendar(ctx: ServiceContext, token: string): string {
  const { who, filter } = readLink(ctx, token)
  const calendar = ical({ name: `Dystracer: ${filter || 'all'}`, prodId: { company: 'Dystracer', product: 'due days' } })
  for (const item of dueItems(ctx, who, filter)) {
    calendar.createEvent({
      id: `${item.key.toLowerCase()}@${ctx.config.mailDomain}`,
      allDay: true,
      start: new Date(`${item.dueOn ?? ''}T00:00:00Z`),
      timezone: 'UTC',
      stamp: new Date(item.updatedAtMs),
      summary: `${item.key} ${item.title}`,
      url: `${ctx.config.publicUrl}/items/item~${item.key}`,
    })
  }
  const isAboutMilestones = filter.trim() === '' || /(?:^|[\s(])milestone[=!<>]/.test(filter)
  const milestones = isAboutMilestones ? sql(ctx.db, LIST_MILESTONE).all<{ project: string; name: string; due_on: string }>({}) : []
  for (const milestone of milestones.filter((each) => mayIn(who, 'project.read', each.project)))
    calendar.createEvent({
      id: `milestone-${Buffer.from(`${milestone.project}/${milestone.name}`).toString('hex')}@${ctx.config.mailDomain}`,
      allDay: true,
      start: new Date(`${milestone.due_on}T00:00:00Z`),
      timezone: 'UTC',
      stamp: new Date(ctx.nowMs()),
      summary: `${milestone.project} ${milestone.name} is due`,
    })
  return calendar.toString()
}

/** The items of a view that have a due day, the first due first: pages are read until one without a day comes. */
function dueItems(ctx: ServiceContext, who: Who, filter: string): ItemSummary[] {
  const due: ItemSummary[] = []
  for (let cursor: string | undefined; due.length < DUE_MAX; ) {
    const page = listItems(ctx, who, { filter, sort: 'due', limit: DUE_PAGE, withTotal: false, ...(cursor !== undefined && { cursor }) })
    const dated = page.rows.filter(({ dueOn }) => dueOn !== null)
    due.push(...dated)
    if (page.nextCursor === null || dated.length < page.rows.length) break
    cursor = page.nextCursor
  }
  return due
}

/** What moved last among a view's items, as Atom (RFC 4287). */
export function readActivity(ctx: ServiceContext, token: string): string {
  const { who, filter } = readLink(ctx, token)
  const { rows } = listItems(ctx, who, { filter, sort: 'updated', limit: ENTRIES_MAX, withTotal: false })
  const feed = new Feed({
    id: `${ctx.config.publicUrl}/feeds/${token.slice(0, 40)}`,
    title: `Dystracer: ${filter || 'all'}`,
    link: ctx.config.publicUrl,
    // Where the feed itself is, and who answers for its entries: both asked for by RFC 4287 (4.1.1, 4.2.7.2).
    feedLinks: { atom: `${ctx.config.publicUrl}/feeds/${token}.atom` },
    author: { name: 'Dystracer', link: ctx.config.publicUrl },
    copyright: '',
    updated: new Date(rows[0]?.updatedAtMs ?? ctx.nowMs()),
  })
  for (const item of rows)
    feed.addItem({
      id: `${ctx.config.publicUrl}/items/item~${item.key}#${item.revision}`,
      title: `${item.key} ${item.title}`,
      link: `${ctx.config.publicUrl}/items/item~${item.key}`,
      date: new Date(item.updatedAtMs),
      published: new Date(item.createdAtMs),
      description: `${item.stage}${item.hasComeBack ? ', came back' : ''}${item.severity === null ? '' : `, severity ${item.severity}`}`,
    })
  return withPlainTexts(feed.atom1())
}
