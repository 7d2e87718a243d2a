import { mailerSlot } from '#platform/mail/mailer.slot'
import { replaced } from '#platform/context'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { NOTICE_WHYS, type NoticeWay } from '@dystracer/core/inbox/notice'
import { verifyTables } from '#verify-tables'
import type { OutgoingMail } from '#platform/mail/mailer'
import { MessageRefused, OutsideError } from '#platform/outside-error'
import { mailDigests } from '#subjects/inbox/mail'
import { startApp, type App, type Ask } from './app-harness.js'

const MINUTE_MS = 60_000
let app: App
let ines: Ask
let rafe: Ask
let teo: Ask
let isMailDown = false
const mails: OutgoingMail[] = []
/** Addresses whose mail is refused, and whether for good. */
const refused = new Map<string, boolean>()
beforeAll(async () => {
  const mailer = {
    send: async (mail: OutgoingMail) => {
      const isFinal = refused.get(mail.to)
      if (isFinal !== undefined) throw new MessageRefused('550 no such mailbox', { isFinal })
      if (isMailDown) throw new OutsideError('the mail server does not answer')
      mails.push(mail)
    },
  }
  app = await startApp({ config: { digestIntervalMs: 3_600_000 }, replacements: [replaced(mailerSlot, mailer)] })
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  teo = await app.asks('teo')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const post = (ask: Ask, path: string, body: object = {}) => ask(path, { method: 'POST', body })
const put = (ask: Ask, path: string, body: object) => ask(path, { method: 'PUT', body })
const log = async (fields: object = {}, ask = ines): Promise<string> =>
  (await post(ask, '/items', { title: 'Relay stays closed', ...fields })).body.key
interface Group {
  itemKey: string
  unread: number
  newestAtMs: number
  notices: { noticeId: string; why: string; isRead: boolean }[]
}
async function allGroups(ask: Ask, view: string, limit: number): Promise<Group[]> {
  const groups: Group[] = []
  let cursor: string | null = null
  do {
    const { body } = await ask(`/inbox?view=${view}&limit=${limit}${cursor ? `&cursor=${cursor}` : ''}`)
    groups.push(...(body.rows as Group[]))
    cursor = body.nextCursor as string | null
  } while (cursor !== null)
  return groups
}
/** Puts notices straight into the journal, as `notify` does. */
function tell(notices: readonly { key: string; atMs: number; way?: NoticeWay }[], personId = 'teo'): string[] {
  const ids = notices.map(() => app.ctx.newId())
  app.ctx.journal.write((writer) => {
    for (const [index, { key, atMs, way = 'screen' }] of notices.entries())
      writer.append({
        kind: 'person-notified',
        actor: 'person:rafe',
        atMs,
        subjects: [`person:${personId}`],
        body: {
          noticeId: ids[index] ?? '',
          personId,
          key,
          why: NOTICE_WHYS[index % NOTICE_WHYS.length] ?? 'followed',
          words: `News ${index}`,
          way,
        },
      })
  })
  return ids
}

describe('groups', () => {
  test('pages of any size give each item once, with all of its notices, the item with the newest first', async () => {
    const keys = [await log(), await log(), await log(), await log()]
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.record({ item: fc.integer({ min: 0, max: 3 }), atMs: fc.integer({ min: 1, max: 40 }), isRead: fc.boolean() }), {
          maxLength: 25,
        }),
        fc.integer({ min: 1, max: 5 }),
        async (given, limit) => {
          const before = await allGroups(teo, 'all', 500)
          await post(teo, '/inbox/read', { noticeIds: before.flatMap((group) => group.notices.map((notice) => notice.noticeId)) })
          app.ctx.journal.write((writer) => writer.touch([]))
          const base = app.clock.nowMs
          app.clock.nowMs += 1000
          const ids = tell(given.map(({ item, atMs }) => ({ key: keys[item] ?? '', atMs: base + atMs })))
          const readIds = ids.filter((_, index) => given[index]?.isRead)
          if (readIds.length > 0) await post(teo, '/inbox/read', { noticeIds: readIds })
          const unread = given.filter((notice) => !notice.isRead)
          const expected = [...new Set(unread.map((notice) => notice.item))]
            .map((item) => ({
              itemKey: keys[item],
              newestAtMs: base + Math.max(...unread.filter((notice) => notice.item === item).map((notice) => notice.atMs)),
              count: unread.filter((notice) => notice.item === item).length,
            }))
            .sort((a, b) => b.newestAtMs - a.newestAtMs)
          const groups = await allGroups(teo, 'unread', limit)
          expect(groups.map((group) => group.newestAtMs)).toEqual(expected.map((group) => group.newestAtMs))
          expect(new Set(groups.map((group) => group.itemKey))).toEqual(new Set(expected.map((group) => group.itemKey)))
          for (const group of groups)
            expect(group.notices).toHaveLength(expected.find((entry) => entry.itemKey === group.itemKey)?.count ?? 0)
          expect((await teo('/places')).body.inbox).toBe(unread.length)
        },
      ),
      { numRuns: 15 },
    )
  })

  test('what is put off comes back at its time, and at once when something new is told', async () => {
    const key = await log()
    tell([{ key, atMs: app.clock.nowMs }])
    expect((await post(teo, '/inbox/snooze', { key, untilMs: app.clock.nowMs - 1 })).body.fields.untilMs).toContain('to come')
    await post(teo, '/inbox/snooze', { key, untilMs: app.clock.nowMs + 60 * MINUTE_MS })
    const isUnread = async () => (await allGroups(teo, 'unread', 50)).some((group) => group.itemKey === key)
    expect(await isUnread()).toBe(false)
    expect((await allGroups(teo, 'later', 50)).map((group) => group.itemKey)).toContain(key)
    app.clock.nowMs += 61 * MINUTE_MS
    expect(await isUnread()).toBe(true)
    await post(teo, '/inbox/snooze', { key, untilMs: app.clock.nowMs + 60 * MINUTE_MS })
    tell([{ key, atMs: app.clock.nowMs }])
    const group = (await allGroups(teo, 'unread', 50)).find((entry) => entry.itemKey === key)
    expect(group?.notices).toHaveLength(1)
    await post(teo, '/inbox/read', { keys: [key] })
    expect(await isUnread()).toBe(false)
  })
})

describe('ways', () => {
  test('each kind comes the way that was chosen; by mail alone it is not on screen, nothing is nothing', async () => {
    await put(rafe, '/me/notice-choices', { why: 'assigned', way: 'mail' })
    await put(rafe, '/me/notice-choices', { why: 'mentioned', way: 'nothing' })
    const key = await log({ ownerId: 'rafe' })
    await post(ines, `/items/${key}/comments`, { text: 'Look, @rafe.' })
    expect((await rafe('/inbox?view=all')).body.rows.some((group: Group) => group.itemKey === key)).toBe(false)
    mails.length = 0
    await mailDigests(app.ctx)
    const mail = mails.find((entry) => entry.to === 'rafe@emberwick.example' && entry.subject.startsWith(`${key} `))
    expect(mail?.text).toContain('Ines Okafor gave it to you')
    expect(mail?.text).not.toContain('Look')
    expect((await put(rafe, '/me/notice-choices', { why: 'assigned', way: 'pigeon' })).body.code).toBe('invalid-input')
  })

  test('who waits longest is told first, whoever else there is', async () => {
    const [early, late] = [await log(), await log()]
    await mailDigests(app.ctx)
    const nowMs = app.ctx.nowMs()
    tell([{ key: late, atMs: nowMs - MINUTE_MS, way: 'mail' }], 'rafe')
    tell([{ key: early, atMs: nowMs - 2 * MINUTE_MS, way: 'mail' }], 'teo')
    mails.length = 0
    expect(await mailDigests(app.ctx)).toBe(2)
    expect(mails.map((mail) => mail.to)).toEqual(['teo@emberwick.example', 'rafe@emberwick.example'])
  })

  test('an address that is refused keeps nobody else from hearing, is set aside, and is shown to whoever invites', async () => {
    const mine = await log({ ownerId: 'rafe' }, ines)
    const yours = await log({ ownerId: 'teo' }, ines)
    refused.set('rafe@emberwick.example', true)
    mails.length = 0
    await mailDigests(app.ctx)
    expect(mails.filter((mail) => mail.to === 'teo@emberwick.example').some((mail) => mail.subject.startsWith(`${yours} `))).toBe(true)
    const { rows } = (await ines('/projects/EMB/mail-refusals')).body
    expect(rows).toEqual([{ personId: 'rafe', why: expect.stringContaining('no such mailbox'), atMs: expect.any(Number) }])
    // What was to come by mail stands on screen.
    expect((await rafe('/inbox')).body.rows.some((row: { itemKey: string }) => row.itemKey === mine)).toBe(true)
    refused.clear()
    await log({ ownerId: 'rafe' }, ines)
    await mailDigests(app.ctx)
    expect((await ines('/projects/EMB/mail-refusals')).body.rows).toEqual([])
  })

  test('a server that asks to come again is asked a few times before a message is set aside', async () => {
    const key = await log({ ownerId: 'rafe' }, ines)
    refused.set('rafe@emberwick.example', false)
    for (let round = 1; round <= 5; round++) {
      expect((await ines('/projects/EMB/mail-refusals')).body.rows).toEqual([])
      await mailDigests(app.ctx)
    }
    expect((await ines('/projects/EMB/mail-refusals')).body.rows).toHaveLength(1)
    refused.clear()
    mails.length = 0
    await mailDigests(app.ctx)
    expect(mails.filter((mail) => mail.subject.startsWith(`${key} `))).toEqual([])
  })

  test('a mail server that is down loses nothing: the same news goes out once it is back, gathered and once', async () => {
    const key = await log()
    tell([{ key, atMs: app.clock.nowMs, way: 'both' }])
    isMailDown = true
    await expect(mailDigests(app.ctx)).rejects.toThrow('does not answer')
    tell([{ key, atMs: app.clock.nowMs + 1, way: 'both' }])
    isMailDown = false
    mails.length = 0
    await mailDigests(app.ctx)
    await mailDigests(app.ctx)
    const own = mails.filter((entry) => entry.subject.startsWith(`${key} `))
    expect(own).toHaveLength(1)
    expect(own[0]?.text).toContain('News 0')
  })
})

describe('in hand', () => {
  test('another item parks the first; time adds up over parking and is offered until it is booked', async () => {
    const [first, second] = [await log(), await log()]
    await post(rafe, '/me/hand', { key: first.toLowerCase() })
    app.clock.nowMs += 30 * MINUTE_MS
    const { body } = await post(rafe, '/me/hand', { key: second })
    expect(body.current.item.key).toBe(second)
    expect(body.parked[0]).toMatchObject({ workedMs: 30 * MINUTE_MS, offeredMinutes: 30 })
    app.clock.nowMs += 10 * MINUTE_MS
    await post(rafe, '/me/hand', { key: first })
    app.clock.nowMs += 15 * MINUTE_MS
    const held = (await rafe('/me/hand')).body
    expect(held.current).toMatchObject({ workedMs: 45 * MINUTE_MS, offeredMinutes: 45 })
    expect((await rafe(`/items/${first}`)).body.spentMinutes).toBe(0)
    // Rounded down by the person: what was in hand until then is not offered again.
    const booked = (await post(rafe, `/me/hand/${first}/time`, { minutes: 40 })).body
    expect(booked.current.offeredMinutes).toBe(0)
    expect((await rafe(`/items/${first}`)).body.spentMinutes).toBe(40)
    app.clock.nowMs += 5 * MINUTE_MS
    expect((await rafe('/me/hand')).body.current.offeredMinutes).toBe(5)
    expect((await rafe(`/me/hand/${second}`, { method: 'DELETE' })).body.parked).toEqual([])
    expect((await post(rafe, `/me/hand/${second}/park`)).body.code).toBe('not-found')
    expect((await ines('/me/hand')).body).toEqual({ current: null, parked: [] })
  })
})

describe('private notes', () => {
  test('are read and written by their person’s own session alone', async () => {
    const key = await log()
    await put(rafe, `/items/${key}/note`, { text: 'Ask the electrician.' })
    expect((await rafe(`/items/${key}/note`)).body.text).toBe('Ask the electrician.')
    expect((await ines(`/items/${key}/note`)).body.text).toBe('')
    const headers = { authorization: `Bearer ${app.token('admin')}` }
    expect((await app.call(`/api/v1/items/${key}/note`, { headers })).body.code).toBe('not-allowed')
    await put(rafe, `/items/${key}/note`, { text: ' ' })
    expect((await rafe(`/items/${key}/note`)).body).toEqual({ text: '', atMs: null })
  })
})
