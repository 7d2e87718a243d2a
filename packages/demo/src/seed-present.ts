import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { sql } from '@dystracer/server/platform/db/statements'
import { markRead } from '@dystracer/server/subjects/inbox/notices'

/** What people were told more than a week before the demo's day, they have read; and of all that is past, mails went out in their time. */
export function readOldNotices(ctx: ServiceContext, memberOf: (personId: string) => Who): void {
  const rows = sql(
    ctx.db,
    'SELECT person_id AS personId, notice_id AS noticeId, at_ms AS atMs FROM notice ORDER BY person_id, notice_id',
  ).all<{
    personId: string
    noticeId: string
    atMs: number
  }>({})
  const before = ctx.nowMs() - 7 * 86_400_000
  for (const personId of new Set(rows.map((row) => row.personId))) {
    const own = rows.filter((row) => row.personId === personId)
    if (!personId.startsWith('mail:'))
      markRead(ctx, memberOf(personId), { noticeIds: own.filter((row) => row.atMs < before).map((row) => row.noticeId) })
    ctx.journal.write((writer) => {
      writer.append({
        kind: 'notices-mailed',
        actor: 'system',
        subjects: [`person:${personId}`],
        body: { personId, noticeIds: own.map((row) => row.noticeId), messageId: null },
      })
    })
  }
}

/** Some of what is accepted was promised for a day of the next weeks. */
export function promiseDays(ctx: ServiceContext): void {
  const keys = sql(
    ctx.db,
    `SELECT key FROM item
      WHERE project = 'EMB' AND is_open = 1 AND stage_rank > 0 AND severity <= 3 AND due_on IS NULL
      ORDER BY severity, key LIMIT 18`,
  ).all<{ key: string }>({})
  ctx.journal.write((writer) => {
    for (const [at, { key }] of keys.entries()) {
      const dueOn = new Date(ctx.nowMs() + (1 + ((at * 11) % 31)) * 86_400_000).toISOString().slice(0, 10)
      writer.append({
        kind: 'item-changed',
        actor: 'person:ines',
        atMs: ctx.nowMs() - 2 * 86_400_000,
        subjects: [`item:${key}`],
        body: { key, changes: { dueOn: { from: null, to: dueOn } } },
      })
    }
  })
}

/**
 * Of what was started in the past year, each has in hand what is still under way, for an hour and a half; the rest was put down in its
 * time.
 */
export function layDownOldWork(ctx: ServiceContext): void {
  const held = sql(
    ctx.db,
    `SELECT h.person_id AS personId, h.item_key AS key, h.branch, i.stage, i.started_at_ms AS startedAtMs
      FROM in_hand h JOIN item i ON i.key = h.item_key
    ORDER BY h.person_id, i.started_at_ms DESC`,
  ).all<{ personId: string; key: string; branch: string | null; stage: string; startedAtMs: number }>({})
  ctx.journal.write((writer) => {
    for (const { personId, key } of held)
      writer.append({ kind: 'put-down', actor: `person:${personId}`, subjects: [`person:${personId}`], body: { personId, key } })
    for (const personId of new Set(held.map((row) => row.personId))) {
      const now = held.find((row) => row.personId === personId && ['underway', 'in-review'].includes(row.stage))
      if (now)
        writer.append({
          kind: 'taken-in-hand',
          actor: `person:${personId}`,
          atMs: ctx.nowMs() - 90 * 60_000,
          subjects: [`person:${personId}`],
          body: { personId, key: now.key, branch: now.branch },
        })
    }
  })
}
