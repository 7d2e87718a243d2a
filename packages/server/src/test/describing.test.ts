import { mailerSlot } from '#platform/mail/mailer.slot'
import { replaced } from '#platform/context'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import sharp from 'sharp'
import { verifyTables } from '#verify-tables'
import { makeToken } from '#subjects/people/tokens.commands'
import { mailDigests } from '#subjects/inbox/mail'
import { startApp, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
const mails: { to: string; subject: string; text: string }[] = []
beforeAll(async () => {
  app = await startApp({
    config: { mailTrustedHosts: ['mx.emberwick.example'] },
    replacements: [replaced(mailerSlot, { send: async (mail) => void mails.push(mail) })],
  })
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  wren = await app.asks('wren')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const post = (ask: Ask, path: string, body: unknown) => ask(path, { method: 'POST', body })
const patch = (ask: Ask, path: string, body: unknown) => ask(path, { method: 'PATCH', body })
const log = async (fields: object = {}, ask = rafe): Promise<string> =>
  (await post(ask, '/items', { title: 'Relay stays closed', ...fields })).body.key

describe('fields', () => {
  test('everything that is known is kept, changed and shown', async () => {
    const key = await log({
      priority: 'urgent',
      ownerId: 'ines',
      coOwnerIds: ['rafe'],
      sprint: '2026-24',
      points: 3,
      plannedFor: 'kiln@4.2.0',
      foundIn: 'kiln@4.1.3',
      dueOn: '2026-12-01',
      estimateMinutes: 90,
      classification: { detectedIn: 'operation', kind: 'missing' },
    })
    const { body } = await rafe(`/items/${key}`)
    expect(body).toMatchObject({
      priority: 'urgent',
      ownerId: 'ines',
      coOwnerIds: ['rafe'],
      sprint: '2026-24',
      points: 3,
      plannedFor: 'kiln@4.2.0',
      foundIn: 'kiln@4.1.3',
      dueOn: '2026-12-01',
      estimateMinutes: 90,
      reporterId: 'rafe',
    })
    expect(body.classification).toMatchObject({ detectedIn: 'operation', kind: 'missing', effect: null })
    expect((await rafe('/items?filter=mine')).body.rows.map((row: { key: string }) => row.key)).toContain(key)
    expect((await rafe(`/items?filter=${encodeURIComponent('overdue')}`)).body.rows).toEqual([])
    app.clock.nowMs = Date.parse('2026-12-05T08:00:00Z')
    expect((await rafe('/items?filter=overdue')).body.rows.map((row: { key: string }) => row.key)).toContain(key)
    app.clock.nowMs = Date.now()
  })

  test('a project’s own fields and types are held to what it says', async () => {
    expect(
      (
        await ines('/projects/EMB/fields', {
          method: 'PUT',
          body: { fieldId: 'studio', name: 'Studio', kind: 'one-of', choices: ['Harrow Lane', 'Quay'] },
        })
      ).status,
    ).toBe(200)
    expect(
      (
        await ines('/projects/EMB/types', {
          method: 'PUT',
          body: { type: 'question', fields: { severity: 'hidden', component: 'required' } },
        })
      ).status,
    ).toBe(200)
    const wrong = await post(rafe, '/items', { title: 'Which cone?', type: 'question', ownValues: { studio: 'Nowhere' } })
    expect(wrong.body.fields).toEqual({ 'ownValues.studio': 'One of Harrow Lane, Quay' })
    const missing = await post(rafe, '/items', { title: 'Which cone?', type: 'question', ownValues: { studio: 'Quay' } })
    expect(missing.body.fields).toEqual({ component: 'A question needs a component' })
    const key = await log({ title: 'Which cone?', type: 'question', component: 'Kiln control', ownValues: { studio: 'Quay' } })
    expect((await rafe(`/items/${key}`)).body.ownValues).toEqual({ studio: 'Quay' })
    expect((await post(rafe, '/items', { title: 'x', type: 'wish' })).body.fields.type).toContain('no type wish')
    expect((await rafe('/projects/EMB/types', { method: 'PUT', body: { type: 'x' } })).body.code).toBe('not-allowed')
  })

  test('a stage rule stops an acceptance with what is missing, and lets it through once it is there', async () => {
    await ines('/projects/EMB/stage-rules', { method: 'PUT', body: { stage: 'accepted', needs: ['owner', 'milestone'] } })
    const key = await log()
    const stopped = await post(ines, `/items/${key}/accept`, { severity: 2 })
    expect(stopped.body).toMatchObject({ code: 'gate-closed', facts: { missing: ['owner', 'milestone'] } })
    expect(stopped.body.detail).toContain('an owner and a milestone')
    expect((await post(ines, `/items/${key}/accept`, { severity: 2, ownerId: 'rafe', milestone: '4.2' })).status).toBe(200)
    await ines('/projects/EMB/stage-rules', { method: 'PUT', body: { stage: 'accepted', needs: [] } })
  })

  test('a parent shows its children, a blocked item says by what', async () => {
    const parent = await log({ title: 'Sensor safety', type: 'epic' })
    const child = await log({ title: 'Detect a silent probe', type: 'story', parent })
    const blocker = await log({ title: 'New relay board' })
    await post(rafe, `/items/${blocker}/links`, { kind: 'blocks', to: { kind: 'item', id: child } })
    expect((await rafe(`/items/${parent}`)).body.children.map((row: { key: string }) => row.key)).toEqual([child])
    expect((await rafe(`/items/${child}`)).body).toMatchObject({ isBlocked: true, blockedBy: [blocker] })
    expect((await rafe('/items?filter=blocked')).body.rows.map((row: { key: string }) => row.key)).toEqual([child])
    const loop = await post(rafe, `/items/${parent}/links`, { kind: 'parent', to: { kind: 'item', id: child } })
    expect(loop.body.detail).toContain(`${parent} → ${child} → ${parent}`)
  })
})

describe('comments', () => {
  test('trailers act as the preview says, mentions and followers are told', async () => {
    const key = await log()
    const text = 'Seen again, @ines please look. `Owner: nobody`\n\nSeverity: 2\nLabel: safety\nDue: 2026-12-24\nOwner: Rafe\nTime: 45m'
    const preview = await post(ines, `/items/${key}/comments/preview`, { text })
    expect(preview.body.deeds.map((deed: { kind: string }) => deed.kind)).toEqual(['severity', 'label', 'due', 'owner', 'time'])
    expect(preview.body.mentions).toEqual([{ personId: 'ines', maySee: true }])
    await post(ines, `/items/${key}/comments`, { text })
    expect((await rafe(`/items/${key}`)).body).toMatchObject({
      severity: 2,
      labels: ['safety'],
      dueOn: '2026-12-24',
      ownerId: 'rafe',
      spentMinutes: 45,
    })
    const { notices } = (await rafe('/inbox')).body.rows.find((row: { itemKey: string }) => row.itemKey === key)
    expect(notices.map((row: { why: string }) => row.why).sort()).toEqual(['assigned', 'followed'])
    expect((await rafe('/places')).body.inbox).toBeGreaterThan(0)
    await post(rafe, '/inbox/read', { noticeIds: notices.map((row: { noticeId: string }) => row.noticeId) })
    const { body } = await rafe('/inbox?view=all')
    expect(body.rows.find((row: { itemKey: string }) => row.itemKey === key).notices[0].isRead).toBe(true)
    expect((await rafe('/inbox')).body.rows.some((row: { itemKey: string }) => row.itemKey === key)).toBe(false)
    await mailDigests(app.ctx)
    expect(mails.some((mail) => mail.to === 'rafe@emberwick.example' && mail.subject.startsWith(key))).toBe(true)
  })

  test('a reader’s trailers do nothing, since a reader may not comment', async () => {
    const key = await log()
    expect((await post(wren, `/items/${key}/comments`, { text: 'x\n\nSeverity: 1' })).body.code).toBe('not-allowed')
    expect((await post(wren, `/items/${key}/comments/preview`, { text: 'x\n\nSeverity: 1' })).body.deeds).toEqual([])
  })

  test('are edited with their history, by their author alone, and never over another’s edit', async () => {
    const key = await log()
    const { commentId } = (await post(rafe, `/items/${key}/comments`, { text: 'First words' })).body
    const path = `/items/${key}/comments/${commentId}`
    expect((await patch(ines, path, { text: 'Mine now', before: 'First words' })).body.code).toBe('not-allowed')
    expect((await patch(rafe, path, { text: 'Second words', before: 'First words' })).status).toBe(200)
    expect((await patch(rafe, path, { text: 'Third words', before: 'First words' })).body).toMatchObject({
      code: 'changed-meanwhile',
      facts: { text: 'Second words' },
    })
    expect((await rafe(`${path}/revisions`)).body.rows).toMatchObject([{ text: 'First words' }])
    expect((await rafe(`/items/${key}/comments`)).body.rows[0]).toMatchObject({ text: 'Second words', editedAtMs: expect.any(Number) })
  })

  test('are answered and reacted to', async () => {
    const key = await log()
    const { commentId } = (await post(rafe, `/items/${key}/comments`, { text: 'Shall we?' })).body
    await post(ines, `/items/${key}/comments`, { text: 'Yes.', replyTo: commentId })
    await post(ines, `/items/${key}/comments/${commentId}/reactions`, { reaction: 'agree', isOn: true })
    await post(ines, `/items/${key}/comments/${commentId}/reactions`, { reaction: 'agree', isOn: true })
    const { rows } = (await rafe(`/items/${key}/comments`)).body
    const byText = (text: string) => rows.find((row: { text: string }) => row.text === text)
    expect(byText('Shall we?').reactions).toEqual([{ reaction: 'agree', personIds: ['ines'] }])
    expect(byText('Yes.').replyTo).toBe(commentId)
    expect((await post(rafe, `/items/${key}/comments`, { text: 'x', replyTo: 'elsewhere' })).status).toBe(422)
  })

  test('come in pages, however many there are', async () => {
    const key = await log()
    for (let turn = 0; turn < 30; turn++) await post(rafe, `/items/${key}/comments`, { text: `Comment ${turn}` })
    const first = (await rafe(`/items/${key}/comments?limit=20`)).body
    const second = (await rafe(`/items/${key}/comments?limit=20&cursor=${first.nextCursor}`)).body
    expect([first.rows.length, second.rows.length, first.total]).toEqual([20, 10, 30])
    expect(second.nextCursor).toBeNull()
  })
})

describe('confidential items', () => {
  test('show only to reporter, owners, leads and the people named, everywhere', async () => {
    const key = await log({ title: 'Token printed in the log of zebra', isConfidential: true, requirement: 'SAF-3' }, ines)
    const asSeen = async (ask: Ask) => ({
      item: (await ask(`/items/${key}`)).status,
      history: (await ask(`/items/${key}/history`)).status,
      list: (await ask(`/items?filter=${encodeURIComponent('zebra')}`)).body.rows.length,
      search: (await ask('/search?q=zebra')).body.hits.length,
      triage: (await ask('/triage?limit=200')).body.rows.filter((row: { item: { key: string } }) => row.item.key === key).length,
      requirement: (await ask('/requirements/SAF-3')).body.items.filter((row: { key: string }) => row.key === key).length,
      alike: (await ask(`/look-alikes?title=${encodeURIComponent('Token printed in zebra')}`)).body.rows.filter(
        (row: { item: { key: string } }) => row.item.key === key,
      ).length,
    })
    expect(await asSeen(ines)).toEqual({ item: 200, history: 200, list: 1, search: 1, triage: 1, requirement: 1, alike: 1 })
    expect(await asSeen(rafe)).toEqual({ item: 404, history: 404, list: 0, search: 0, triage: 0, requirement: 0, alike: 0 })
    const thread = (await rafe('/threads/SAF-3')).body
    expect(thread.nodes.find((node: { id: string }) => node.id === 'hidden')).toMatchObject({
      title: '1 thing',
      subtitle: 'you may not see',
    })
    expect(JSON.stringify(thread)).not.toContain(key)
    await patch(ines, `/items/${key}`, { namedIds: ['rafe'] })
    expect((await asSeen(rafe)).item).toBe(200)
  })

  test('mentions tell nobody who may not see them', async () => {
    const key = await log({ title: 'Secret of the relay', isConfidential: true }, ines)
    const preview = await post(ines, `/items/${key}/comments/preview`, { text: '@wren look' })
    expect(preview.body.mentions).toEqual([{ personId: 'wren', maySee: false }])
    await post(ines, `/items/${key}/comments`, { text: '@wren look' })
    expect((await wren('/inbox')).body.rows).toEqual([])
  })
})

describe('files', () => {
  const upload = (ask: Ask, key: string, name: string, raw: Uint8Array | string) =>
    ask(`/items/${key}/attachments?name=${encodeURIComponent(name)}`, {
      method: 'POST',
      raw,
      headers: { 'content-type': 'application/octet-stream' },
    })

  test('a picture is kept once, has a thumbnail and is shown', async () => {
    const key = await log()
    const png = await sharp({ create: { width: 900, height: 400, channels: 3, background: '#1E6E62' } })
      .png()
      .toBuffer()
    const first = await upload(rafe, key, 'panel.png', png)
    expect(first.body).toMatchObject({ name: 'panel.png', mediaType: 'image/png', hasThumbnail: true })
    await upload(rafe, key, 'same.png', png)
    const rows = app.ctx.db
      .prepare<[string], { count: number }>('SELECT count(DISTINCT sha256) AS count FROM attachment WHERE item_key = ?')
      .get(key)
    expect(rows?.count).toBe(1)
    const file = await rafe(`/items/${key}/attachments/${first.body.attachmentId}/file`)
    expect(file.headers.get('content-type')).toBe('image/png')
    expect(file.headers.get('content-disposition')).toMatch(/^inline/)
    expect((await rafe(`/items/${key}/attachments/${first.body.attachmentId}/thumbnail`)).headers.get('content-type')).toBe('image/webp')
  })

  test.each([
    ['a page', 'page.html', '<!doctype html><script>alert(1)</script>'],
    ['a drawing with a script', 'drawing.svg', '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'],
    ['a text', 'notes.txt', 'just words'],
  ])('%s is only offered for saving, and could run nothing', async (_name, name, raw) => {
    const key = await log()
    const { body } = await upload(rafe, key, name, raw)
    const file = await rafe(`/items/${key}/attachments/${body.attachmentId}/file`)
    expect(file.headers.get('content-disposition')).toMatch(/^attachment/)
    expect(file.headers.get('content-type')).not.toMatch(/html|svg|xml/)
    expect(file.headers.get('content-security-policy')).toContain('sandbox')
    expect(file.headers.get('x-content-type-options')).toBe('nosniff')
  })

  test('a file that lies about its kind, an empty one and one without a name are refused, with nothing stored', async () => {
    const key = await log()
    const lie = await upload(rafe, key, 'innocent.png', '<script>alert(1)</script>')
    expect(lie.body.fields.file).toContain('not what its name says')
    expect((await upload(rafe, key, 'empty.txt', '')).status).toBe(422)
    expect((await upload(rafe, key, '../..', 'x')).status).toBe(422)
    expect((await rafe(`/items/${key}/attachments`)).body.rows).toEqual([])
  })

  test('a picture of far too many points is kept without a thumbnail, and unfolds nothing', async () => {
    const key = await log()
    const bomb = await sharp({ create: { width: 12_000, height: 12_000, channels: 3, background: 'white' } })
      .png({ compressionLevel: 9 })
      .toBuffer()
    expect((await upload(rafe, key, 'bomb.png', bomb)).body).toMatchObject({ hasThumbnail: false })
  })

  test('over 50 MB is refused', async () => {
    const key = await log()
    const answer = await fetch(`${app.url}/api/v1/items/${key}/attachments?name=big.bin`, {
      method: 'POST',
      body: 'x',
      headers: { authorization: `Bearer ${app.token('write')}` },
    })
    expect(answer.status).toBe(201)
    const big = await upload(rafe, key, 'big.bin', Buffer.alloc((50 << 20) + 1)).catch(() => null)
    expect(big === null || big.status === 413).toBe(true)
    expect((await rafe(`/items/${key}/attachments`)).body.rows).toHaveLength(1)
  }, 30_000)

  test('names keep no folders, no control characters', async () => {
    const key = await log()
    const { body } = await upload(rafe, key, '..\\..\\evil\u202Etxt.exe', 'words')
    expect(body.name).toBe('eviltxt.exe')
  })
})

describe('time', () => {
  test('adds up by person, item and week, can be taken back, and goes out as CSV that is safe in a spreadsheet', async () => {
    const key = await log({ milestone: '=cmd()' })
    await post(rafe, `/items/${key}/time`, { minutes: 90, on: '2026-11-24' })
    const { rows } = (await post(rafe, `/items/${key}/time`, { minutes: 30, on: '2026-11-24' })).body
    expect((await ines(`/items/${key}`)).body.spentMinutes).toBe(120)
    const sums = (await rafe('/time?by=week&from=2026-11-23&to=2026-11-29')).body
    expect(sums.rows.find((row: { group: string }) => row.group === '2026-W48').minutes).toBeGreaterThanOrEqual(120)
    const csv = await rafe('/time.csv')
    expect(csv.headers.get('content-type')).toContain('text/csv')
    expect(csv.text).toContain(`${key},rafe,"'=cmd()",2026-11-24,90,person`)
    expect(
      (await rafe(`/items/${key}/time/${rows.find((row: { minutes: number }) => row.minutes === 30).entryId}`, { method: 'DELETE' }))
        .status,
    ).toBe(200)
    expect((await ines(`/items/${key}`)).body.spentMinutes).toBe(90)
    expect((await post(rafe, `/items/${key}/time`, { minutes: 10, on: '2026-02-30' })).status).toBe(422)
  })
})

describe('moving, copying, bulk and undo', () => {
  test('a moved item takes everything along, and its old key still leads to it', async () => {
    app.ctx.journal.write((writer) => {
      writer.append({
        kind: 'project-created',
        actor: 'system',
        subjects: [],
        body: { prefix: 'OPS', name: 'Operations', silenceMs: 1000, requirementPrefixes: [] },
      })
      for (const [personId, role] of [
        ['rafe', 'member'],
        ['ines', 'reader'],
      ] as const)
        writer.append({ kind: 'role-given', actor: 'system', subjects: [`person:${personId}`], body: { project: 'OPS', personId, role } })
    })
    const key = await log({ title: 'Belongs elsewhere', requirement: 'SAF-3' })
    await post(rafe, `/items/${key}/comments`, { text: 'Goes along' })
    await post(rafe, `/items/${key}/time`, { minutes: 5 })
    const moved = (await post(rafe, `/items/${key}/move`, { project: 'OPS' })).body
    expect(moved).toMatchObject({ key: 'OPS-1', project: 'OPS', aliases: [key], spentMinutes: 5 })
    expect((await rafe(`/items/${key}`)).body.key).toBe('OPS-1')
    expect((await rafe(`/items/${key}/comments`)).body.rows[0].text).toBe('Goes along')
    expect((await rafe('/requirements/SAF-3')).body.items.map((row: { key: string }) => row.key)).toContain('OPS-1')
    expect((await rafe('/items/OPS-1/history')).body.rows.some((row: { kind: string }) => row.kind === 'item-logged')).toBe(true)
    expect((await rafe('/search?q=elsewhere')).body.hits[0].ref.id).toBe('OPS-1')
  })

  test('a role holds in its own project: who leads one only reads another, and a token of one is for that one', async () => {
    expect((await patch(ines, '/items/OPS-1', { title: 'Not mine to change' })).body.code).toBe('not-allowed')
    expect((await post(ines, '/items', { title: 'Nor to log', project: 'OPS' })).body.code).toBe('not-allowed')
    expect((await ines('/projects/OPS/public-form', { method: 'PUT', body: { isOn: true } })).body.code).toBe('not-allowed')
    expect((await ines('/items/OPS-1')).status).toBe(200)
    const wren = await app.asks('wren')
    expect((await wren('/items/OPS-1')).body.code).toBe('not-found')
    expect((await wren('/search?q=elsewhere')).body.hits).toEqual([])
    expect((await wren('/items?filter=project=OPS')).body.rows).toEqual([])
    const here = await log({ title: 'Stays here' })
    expect((await post(ines, `/items/${here}/move`, { project: 'OPS' })).body.code).toBe('not-allowed')
    const token = makeToken(app.ctx.db, { name: 'only EMB', project: 'EMB', scope: 'write', nowMs: app.clock.nowMs })
    const withToken = (path: string) => app.call(`/api/v1${path}`, { headers: { authorization: `Bearer ${token}` } })
    expect([(await withToken('/items/OPS-1')).status, (await withToken('/items/EMB-1')).status]).toEqual([404, 200])
  })

  test('a copy has the same fields and is tied to the first', async () => {
    const key = await log({ title: 'Copied', labels: ['safety'], severity: 2 })
    const copy = (await post(rafe, `/items/${key}/copy`, {})).body
    expect(copy).toMatchObject({ title: 'Copied', labels: ['safety'], severity: 2 })
    expect(copy.links.map((link: { kind: string; to: { id: string } }) => `${link.kind} ${link.to.id}`)).toEqual([`see-also ${key}`])
  })

  test('many are archived at once, those that cannot be are named; archived ones show on request', async () => {
    const keys = [await log({ title: 'Old one' }), await log({ title: 'Old two' })]
    const done = (await post(rafe, '/items-bulk', { keys: [...keys, 'EMB-99999'], change: { isArchived: true } })).body
    expect(done).toMatchObject({ changed: 2, refused: [{ key: 'EMB-99999' }] })
    const listed = async (filter: string) =>
      (await rafe(`/items?limit=500&filter=${filter}`)).body.rows.map((row: { key: string }) => row.key)
    expect(await listed('')).not.toEqual(expect.arrayContaining(keys))
    expect(await listed('archived')).toEqual(expect.arrayContaining(keys))
  })

  test('a change of many is taken back at once; what somebody changed since stays and is named', async () => {
    const keys = [await log({ title: 'First', severity: 2 }), await log({ title: 'Second' }), await log({ title: 'Third', severity: 4 })]
    const severities = async () => Promise.all(keys.map(async (key) => (await rafe(`/items/${key}`)).body.severity))
    const done = (await post(rafe, '/items-bulk', { keys, change: { severity: 4 } })).body
    // The third stood so already: nothing was written for it.
    expect(done).toMatchObject({ changed: 2, refused: [] })
    expect(done.seqs).toHaveLength(2)
    await patch(ines, `/items/${keys[1]}`, { severity: 1 })
    expect((await post(ines, '/items-bulk/undo', { seqs: done.seqs })).body.code).toBe('not-found')
    const undone = (await post(rafe, '/items-bulk/undo', { seqs: done.seqs })).body
    expect(undone).toMatchObject({ changed: 1, refused: [{ key: keys[1] }] })
    expect(undone.refused[0].why).toContain('Ines')
    expect(await severities()).toEqual([2, 1, 4])
    const again = (await post(rafe, '/items-bulk/undo', { seqs: done.seqs })).body
    expect(again).toMatchObject({ changed: 0, refused: [{ key: keys[1] }] })
    expect(await severities()).toEqual([2, 1, 4])
  })

  test('undo takes back one’s own last change, and is refused, naming who, where someone changed the same since', async () => {
    const key = await log({ title: 'Before' })
    await patch(rafe, `/items/${key}`, { title: 'After', severity: 1 })
    expect((await post(rafe, '/undo', {})).body).toMatchObject({ key })
    expect((await rafe(`/items/${key}`)).body).toMatchObject({ title: 'Before', severity: null })
    await patch(rafe, `/items/${key}`, { title: 'By Rafe' })
    await patch(ines, `/items/${key}`, { title: 'By Ines' })
    const refused = await post(rafe, '/undo', {})
    expect(refused.body.detail).toContain('Ines Okafor changed title')
    expect((await rafe(`/items/${key}`)).body.title).toBe('By Ines')
  })
})

describe('reports from elsewhere', () => {
  const proof = 'mx.emberwick.example; dmarc=pass header.from=emberwick.example'
  const mail = (from: string, subject: string, text: string, id: string, results = proof) =>
    `Authentication-Results: ${results}\r\nFrom: ${from}\r\nTo: log@emberwick.example\r\n` +
    `Subject: ${subject}\r\nMessage-ID: <${id}@x>\r\nContent-Type: text/plain; charset=utf-8\r\n\r\n${text}\r\n`
  const receive = (raw: string) =>
    app.call('/receive/mail', {
      method: 'POST',
      raw,
      headers: { authorization: `Bearer ${app.token('mail')}`, 'content-type': 'message/rfc822' },
    })

  test('a proven member’s mail names them as the reporter, a stranger’s waits with its address, and neither twice', async () => {
    const own = (await receive(mail('Rafe <rafe@emberwick.example>', 'Door card refused', 'It blinks red.\n\nSeverity: 1', '1'))).body.key
    expect((await ines(`/items/${own}`)).body).toMatchObject({ title: 'Door card refused', reporterId: 'rafe', severity: null })
    const forged = (
      await receive(mail('Rafe <rafe@emberwick.example>', 'Not mine', 'Said in his name.', '1b', 'mx.other.example; dmarc=pass'))
    ).body.key
    expect((await ines(`/items/${forged}`)).body).toMatchObject({ reporterId: null, cameFrom: 'rafe@emberwick.example' })
    const raw = mail('Anwen <anwen@elsewhere.example>', 'Kiln cold', 'Severity: 1\n\nIt is cold.\n\nSeverity: 1', '2')
    const strange = (await receive(raw)).body.key
    expect((await ines(`/items/${strange}`)).body).toMatchObject({
      reporterId: null,
      cameFrom: 'anwen@elsewhere.example',
      severity: null,
      stage: 'logged',
    })
    expect((await receive(raw)).body.key).toBe(strange)
    expect((await ines('/triage?limit=200')).body.rows.find((row: { item: { key: string } }) => row.item.key === strange).from).toBe(
      'anwen@elsewhere.example',
    )
  })

  test('a proven member’s answer becomes a comment without the quoted part, once', async () => {
    const key = await log()
    const answer = mail(
      'rafe@emberwick.example',
      `Re: ${key} is yours: Relay`,
      'On my way.\n\nOn Tue, Dystracer wrote:\n> It is yours now.',
      '3',
    )
    await receive(answer)
    await receive(answer)
    expect((await ines(`/items/${key}/comments`)).body.rows.map((row: { text: string }) => row.text)).toEqual(['On my way.'])
  })

  test('the public form is off until a lead switches it on, and is rate-limited', async () => {
    const send = (title: string) =>
      app.call('/api/v1/public/EMB/reports', {
        method: 'POST',
        body: { title, description: 'It hums.', address: 'guest@elsewhere.example' },
      })
    expect((await send('Kiln hums')).status).toBe(404)
    await ines('/projects/EMB/public-form', { method: 'PUT', body: { isOn: true } })
    expect((await send('Kiln hums')).status).toBe(201)
    expect((await ines('/items?filter=hums')).body.rows[0]).toMatchObject({ title: 'Kiln hums', stage: 'logged' })
    const statuses: number[] = []
    for (let turn = 0; turn < 8; turn++) statuses.push((await send(`Again ${turn}`)).status)
    expect(statuses).toContain(429)
  })
})

test('look-alikes are found while a title is typed, and “it is this one” joins the report to the item', async () => {
  const key = await log({ title: 'Thermocouple wire snapped and the kiln ran flat out', description: 'The panel said zero degrees.' })
  const { rows } = (await rafe(`/look-alikes?title=${encodeURIComponent('Kiln at full power after the thermocouple broke')}`)).body
  expect(rows[0].item.key).toBe(key)
  expect(rows[0].sharedWords.length).toBeGreaterThan(0)
  await post(ines, `/items/${key}/reports`, { title: 'Kiln at full power', description: 'Again on Sunday.' })
  const { body } = await ines(`/items/${key}`)
  expect(body.followerIds).toEqual(['ines'])
  expect((await ines(`/items/${key}/comments`)).body.rows[0].text).toContain('Reported again: Kiln at full power')
})
