import { mailerSlot } from '#platform/mail/mailer.slot'
import { replaced } from '#platform/context'
import { likenessWorker } from '#subjects/likeness/likeness.client'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { createTransport } from 'nodemailer'
import { verifyTables } from '#verify-tables'
import type { OutgoingMail } from '#platform/mail/mailer'
import { mailDigests } from '#subjects/inbox/mail'
import { connectRepository, exceptionRequest, startApp, until, type App, type Ask } from './app-harness.js'

const DAY_MS = 86_400_000
const MAIL_PORT = 4925
let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
const mails: OutgoingMail[] = []
beforeAll(async () => {
  app = await startApp({
    config: { mailPort: MAIL_PORT, mailTrustedHosts: ['mx.emberwick.example'], digestIntervalMs: 3_600_000 },
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

const post = (ask: Ask, path: string, body: object = {}) => ask(path, { method: 'POST', body })
const put = (ask: Ask, path: string, body: object) => ask(path, { method: 'PUT', body })
const log = async (fields: object = {}, ask = rafe): Promise<string> =>
  (await post(ask, '/items', { title: 'Relay stays closed', ...fields })).body.key
const queue = async (query = 'limit=200'): Promise<string[]> =>
  (await ines(`/triage?${query}`)).body.rows.map((row: { item: { key: string } }) => row.item.key)
const item = async (key: string) => (await ines(`/items/${key}`)).body
const accept = { severity: 2, ownerId: 'rafe', component: 'Kiln control', requirement: 'SAF-3', milestone: '4.2' }

describe('the queue', () => {
  test('puts what sounds dangerous before what does not, says why, and pages without repeating', async () => {
    const mild = await log({ title: 'Typo in the reminder' })
    const bad = await log({ title: 'Smoke from kiln 3 after the firing' })
    const keys = await queue()
    expect(keys.indexOf(bad)).toBeLessThan(keys.indexOf(mild))
    const { body } = await ines('/triage?limit=1')
    expect(body.rows[0]).toMatchObject({ isGuess: true, severity: 1, source: 'person', reasons: [{ code: 'severity', severity: 1 }] })
    const second = (await ines(`/triage?limit=1&cursor=${body.nextCursor}`)).body.rows[0].item.key
    expect(second).not.toBe(body.rows[0].item.key)
    expect(body.total).toBe(keys.length)
    expect(body.bySource.person).toBe(keys.length)
    // What was last seen is decided meanwhile: the next page goes on where it stood.
    await post(ines, `/items/${bad}/reject`, { disposition: 'deferred' })
    expect((await ines(`/triage?limit=1&cursor=${body.nextCursor}`)).body.rows).toHaveLength(1)
    expect((await queue('source=fault')).length).toBe(0)
  })

  test('a decision on what another has decided meanwhile is refused, naming who, and changes nothing', async () => {
    const key = await log()
    expect((await post(ines, `/items/${key}/accept`, { ...accept, asWaiting: true })).status).toBe(200)
    const second = await post(rafe, `/items/${key}/reject`, { disposition: 'will-not-fix', asWaiting: true })
    expect(second.status).toBe(409)
    expect(second.body).toMatchObject({ code: 'decided-already', facts: { decision: 'accept', by: 'person:ines' } })
    expect(second.body.detail).toContain('Ines Okafor')
    expect((await item(key)).disposition).toBeNull()
    expect((await ines(`/items/${key}/proposals`)).body.decided).toMatchObject({ by: 'person:ines', decision: 'accept' })
  })

  test('several are decided at once, and each that cannot be is named', async () => {
    const [first, second, gone] = [await log(), await log(), await log()]
    await post(ines, `/items/${gone}/accept`, accept)
    const { body } = await post(ines, '/triage/decisions', {
      decision: 'reject',
      disposition: 'deferred',
      words: 'Later.',
      keys: [first, second, gone, 'EMB-99999'],
    })
    expect(body.decided).toBe(2)
    expect(body.refused.map((row: { key: string }) => row.key)).toEqual([gone, 'EMB-99999'])
    expect((await item(first)).disposition).toBe('deferred')
    expect((await post(wren, '/triage/decisions', { decision: 'accept', severity: 3, keys: [second] })).body.code).toBe('not-allowed')
  })
})

describe('undo', () => {
  test('takes all of an acceptance back: fields, requirement and the decision', async () => {
    const key = await log()
    const before = await item(key)
    await post(ines, `/items/${key}/accept`, accept)
    expect(await queue()).not.toContain(key)
    expect((await post(ines, '/undo')).body).toMatchObject({ key, said: 'triage-decided' })
    const after = await item(key)
    for (const field of ['severity', 'ownerId', 'component', 'milestone', 'stage', 'stair'] as const)
      expect(after[field]).toEqual(before[field])
    expect(after.links).toEqual([])
    expect(await queue()).toContain(key)
  })

  test('does not take back what somebody decided since', async () => {
    const key = await log()
    await post(ines, `/items/${key}/accept`, accept)
    await post(rafe, `/items/${key}/reject`, { disposition: 'deferred' })
    const decided = (await ines(`/items/${key}/history?limit=50`)).body.rows.find(
      (row: { kind: string; by: string }) => row.kind === 'triage-decided' && row.by === 'person:ines',
    )
    const refused = await post(ines, '/undo', { seq: decided.seq })
    expect(refused.body.code).toBe('conflict')
    expect(refused.body.detail).toContain('Rafe')
    expect((await item(key)).disposition).toBe('deferred')
  })
})

describe('merging', () => {
  test('takes reporter, followers and requirements along, and a split gives back exactly that', async () => {
    const into = await log({}, ines)
    await post(ines, `/items/${into}/accept`, { ...accept, requirement: null })
    const key = await log({ title: 'Kiln goes on heating' }, rafe)
    await post(rafe, `/items/${key}/links`, { kind: 'breaks', to: { kind: 'requirement', id: 'SAF-1' } })
    await put(rafe, `/items/${key}/follow`, { isOn: true })
    const [targetBefore, before] = [await item(into), await item(key)]
    await post(ines, `/items/${key}/merge`, { into: into.toLowerCase(), asWaiting: true })
    const merged = await item(into)
    expect((await item(key)).disposition).toBe('duplicate')
    expect(merged.followerIds).toEqual(['rafe'])
    expect(merged.links.map((link: { to: { id: string } }) => link.to.id)).toEqual(expect.arrayContaining(['SAF-1', into]))
    expect((await post(ines, `/items/${await log()}/merge`, { into: key })).body.fields.sameAs).toContain(into)
    await post(ines, `/items/${key}/split`)
    const linksOf = (body: { links: { linkId: string }[] }) => body.links.map((link) => link.linkId).sort()
    const [target, split] = [await item(into), await item(key)]
    expect(linksOf(target)).toEqual(linksOf(targetBefore))
    expect(linksOf(split)).toEqual(linksOf(before))
    expect(target.followerIds).toEqual(targetBefore.followerIds)
    expect(split).toMatchObject({ disposition: null, stage: 'logged', followerIds: before.followerIds })
    expect(await queue()).toContain(key)
    expect((await post(ines, `/items/${key}/split`)).body.code).toBe('conflict')
  })

  test('an undone merge is a split', async () => {
    const [into, key] = [await log(), await log()]
    await post(ines, `/items/${key}/merge`, { into })
    await post(ines, '/undo')
    expect(await item(key)).toMatchObject({ disposition: null, links: [] })
  })
})

describe('asking the reporter', () => {
  test('takes it off the queue until they answer, then puts it back as answered', async () => {
    const key = await log()
    await post(ines, `/items/${key}/ask`, { words: 'Which kiln?' })
    expect(await queue()).not.toContain(key)
    expect((await ines('/triage')).body.asked).toBe(1)
    expect((await rafe('/desk')).body.waiting[0]).toMatchObject({ why: 'answer', detail: 'you are asked: Which kiln?' })
    await post(ines, `/items/${key}/comments`, { text: 'I mean by number.' })
    expect(await queue()).not.toContain(key)
    await post(rafe, `/items/${key}/comments`, { text: 'Kiln 3.' })
    const row = (await ines('/triage?limit=200')).body.rows.find((entry: { item: { key: string } }) => entry.item.key === key)
    expect(row.reasons).toContainEqual({ code: 'answered' })
  })

  test('comes back by itself once the days are over, and is taken back by undo', async () => {
    const key = await log()
    await post(ines, `/items/${key}/ask`, { words: 'Which kiln?', days: 2 })
    app.clock.nowMs += 3 * DAY_MS
    expect(await queue()).toContain(key)
    app.clock.nowMs = Date.now()
    expect(await queue()).not.toContain(key)
    await post(ines, '/undo')
    expect(await queue()).toContain(key)
  })

  test('nobody can be asked where nobody reported', async () => {
    const own = await log({}, ines)
    expect((await post(ines, `/items/${own}/ask`, { words: 'Which kiln?' })).body.detail).toContain('yourself')
  })
})

describe('a reporter without an account', () => {
  const report = async (address = 'anwen@elsewhere.example') => {
    app.clock.nowMs += 1000
    await put(ines, '/projects/EMB/public-form', { isOn: true })
    const { body } = await app.call('/api/v1/public/EMB/reports', {
      method: 'POST',
      body: { title: 'Kiln hums', description: 'All night.', address },
    })
    const [row] = (await ines('/items?filter=hums&sort=newest')).body.rows
    return { token: body.token as string, key: row.key as string }
  }
  const follow = async (token: string) => (await app.call(`/api/v1/public/reports/${token}`)).body

  test('reads by a private link what became of the report, and nothing else of it', async () => {
    const { token, key } = await report()
    expect(await follow(token)).toMatchObject({ title: 'Kiln hums', state: 'waits', words: '' })
    await post(ines, `/items/${key}/ask`, { words: 'Which kiln?' })
    expect(await follow(token)).toMatchObject({ state: 'asked', words: 'Which kiln?' })
    await app.call(`/api/v1/public/reports/${token}/answers`, { method: 'POST', body: { text: 'The big one.\n\nSeverity: 1' } })
    expect(await queue()).toContain(key)
    expect((await item(key)).severity).toBeNull()
    await post(ines, `/items/${key}/reject`, { disposition: 'works-as-required', words: 'Kilns hum.' })
    const state = await follow(token)
    expect(state).toMatchObject({ state: 'rejected', disposition: 'works-as-required', words: 'Kilns hum.' })
    expect(Object.keys(state).sort()).toEqual(['answers', 'disposition', 'reportedAtMs', 'sameAsState', 'state', 'title', 'words'])
    expect((await app.call(`/api/v1/public/reports/${token.slice(0, -1)}${token.endsWith('0') ? '1' : '0'}`)).status).toBe(404)
    expect((await app.call(`/api/v1/public/reports/${token.replace(/\d+/, '1')}`)).status).toBe(404)
  })

  test('is asked by mail, in text and HTML, in one thread, and answers by mail over SMTP', async () => {
    const { key } = await report('bryn@elsewhere.example')
    await post(ines, `/items/${key}/ask`, { words: 'Which <kiln>?' })
    await mailDigests(app.ctx)
    const mail = mails.find((entry) => entry.to === 'bryn@elsewhere.example')
    expect(mail?.subject).toBe('Your report: Kiln hums')
    expect(mail?.text).toContain('Ines Okafor asks you:\n  Which <kiln>?')
    expect(mail?.text).toContain('/follow/')
    expect(mail?.html).toContain('Which &lt;kiln&gt;?')
    expect(mail?.references).toBe(`<${key.toLowerCase()}@dystracer.example>`)
    const transport = createTransport({ host: '127.0.0.1', port: MAIL_PORT, secure: false, ignoreTLS: true })
    await transport.sendMail({
      from: 'bryn@elsewhere.example',
      to: mail?.replyTo ?? '',
      subject: `Re: ${mail?.subject}`,
      text: 'The big one.\n\n> Which kiln?',
    })
    const { rows } = (await ines(`/items/${key}/comments`)).body
    expect(rows).toContainEqual(expect.objectContaining({ text: 'The big one.', from: 'bryn@elsewhere.example', by: null }))
    const told = (await ines('/inbox')).body.rows.find((row: { itemKey: string }) => row.itemKey === key)
    expect(told.notices[0]).toMatchObject({ why: 'followed', words: 'The big one.' })
    expect(await queue()).toContain(key)
    await mailDigests(app.ctx)
    expect(mails.filter((entry) => entry.to === 'bryn@elsewhere.example')).toHaveLength(1)
    await expect(transport.sendMail({ from: 'x', to: 'log@dystracer.example', subject: '', text: '' })).rejects.toMatchObject({
      responseCode: 554,
    })
  })

  test('what no person wrote is taken and passed over, so that machines do not answer each other', async () => {
    const transport = createTransport({ host: '127.0.0.1', port: MAIL_PORT, secure: false, ignoreTLS: true })
    const before = (await ines('/items?filter=')).body.total
    for (const headers of [{ 'Auto-Submitted': 'auto-replied' }, { Precedence: 'bulk' }, { 'List-Id': '<kilns.example>' }])
      await transport.sendMail({
        from: 'away@elsewhere.example',
        to: 'log@dystracer.example',
        subject: 'I am away',
        text: 'Until Monday.',
        headers,
      })
    expect((await ines('/items?filter=')).body.total).toBe(before)
    expect(mails.every((mail) => mail.headers?.['Auto-Submitted'] === 'auto-generated')).toBe(true)
  })

  test('a reply address acts for its person only when a trusted server proves that the mail comes from their address', async () => {
    const key = await log({ ownerId: 'rafe' }, ines)
    await mailDigests(app.ctx)
    const to = mails.findLast((entry) => entry.to === 'rafe@emberwick.example' && entry.subject.startsWith(`${key} `))?.replyTo ?? ''
    const transport = createTransport({ host: '127.0.0.1', port: MAIL_PORT, secure: false, ignoreTLS: true })
    await transport.sendMail({ from: 'someone@elsewhere.example', to, subject: 'Re', text: 'Hello\n\nSeverity: 1' })
    expect((await item(key)).severity).toBeNull()
    const proof = (host: string, domain: string) => ({ 'Authentication-Results': `${host}; dmarc=pass header.from=${domain}` })
    const mine = { from: 'rafe@emberwick.example', to, subject: 'Re', text: 'Hello\n\nSeverity: 1' }
    await transport.sendMail(mine)
    await transport.sendMail({ ...mine, headers: proof('mx.elsewhere.example', 'emberwick.example') })
    await transport.sendMail({ ...mine, headers: proof('mx.emberwick.example', 'elsewhere.example') })
    await transport.sendMail({ ...mine, from: 'ines@emberwick.example', headers: proof('mx.emberwick.example', 'emberwick.example') })
    expect((await item(key)).severity).toBeNull()
    await transport.sendMail({ ...mine, headers: proof('mx.emberwick.example', 'emberwick.example') })
    expect((await item(key)).severity).toBe(1)
  })
})

describe('routing and duty', () => {
  test('a rule fills what nobody filled on new items, and the weekly look tells how it fared', async () => {
    const rule = {
      ruleId: 'doors',
      name: 'Doors are urgent',
      conditions: { words: ['door'] },
      sets: { severity: 2, ownerId: 'ines', labels: ['doors'] },
    }
    expect((await put(rafe, '/projects/EMB/routing', rule)).body.code).toBe('not-allowed')
    expect((await put(ines, '/projects/EMB/routing', { ...rule, sets: { component: 'Nowhere' } })).body.fields.component).toContain(
      'Nowhere',
    )
    await put(ines, '/projects/EMB/routing', rule)
    const [key, kept] = [await log({ title: 'The door stays open' }), await log({ title: 'A door card', severity: 4 })]
    expect(await item(key)).toMatchObject({ severity: 2, ownerId: 'ines', labels: ['doors'] })
    expect(await item(kept)).toMatchObject({ severity: 4, ownerId: 'ines' })
    await rafe(`/items/${key}`, { method: 'PATCH', body: { severity: 3 } })
    const { body } = await ines('/projects/EMB/triage-weeks?weeks=2')
    expect(body.rules).toEqual([{ ruleId: 'doors', name: 'Doors are urgent', set: 2, changedSince: 1 }])
    expect((await ines('/projects/EMB/routing')).body.rows[0]).toMatchObject({ ruleId: 'doors', used: 2 })
    expect((await ines('/projects/EMB/routing/doors', { method: 'DELETE' })).body.rows).toEqual([])
  })

  test('an item that an intake rule logs from a fault is routed by the path of its code, wherever that was deployed', async () => {
    const rule = { ruleId: 'probes', name: 'Probes', conditions: { paths: ['src/probe'] }, sets: { ownerId: 'ines', labels: ['probes'] } }
    await put(ines, '/projects/EMB/routing', rule)
    const headers = { authorization: `Bearer ${app.token('intake')}` }
    await app.call('/otlp/v1/logs', { method: 'POST', headers, body: exceptionRequest({ atMs: app.clock.nowMs, count: 6 }) })
    await until('the fault is logged', async () => (await queue('limit=500&source=fault')).length === 1)
    const [key = ''] = await queue('source=fault')
    expect(await item(key)).toMatchObject({ ownerId: 'ines', labels: ['probes'] })
    await ines('/projects/EMB/routing/probes', { method: 'DELETE' })
  })

  test('who is on duty is proposed as owner; a week begins on a Monday', async () => {
    const { duty } = (await ines('/projects/EMB/routing')).body
    expect((await put(ines, '/projects/EMB/duty', { weekOn: '2026-11-25', personId: 'rafe' })).body.fields.weekOn).toContain('Monday')
    await put(ines, '/projects/EMB/duty', { weekOn: duty[0].weekOn, personId: 'rafe' })
    const key = await log({ title: 'Something odd', component: null })
    expect((await ines(`/items/${key}/proposals`)).body.owners).toContainEqual(
      expect.objectContaining({ value: 'rafe', reason: 'is on duty this week' }),
    )
  })

  test('the weekly look counts what came in, what was decided and which proposals were taken', async () => {
    const before = (await ines('/projects/EMB/triage-weeks?weeks=1')).body.rows[0]
    const key = await log()
    await post(ines, `/items/${key}/accept`, { ...accept, proposed: { severity: 2, ownerId: 'ines', requirement: null } })
    const other = await log()
    await post(ines, `/items/${other}/reject`, { disposition: 'cannot-reproduce' })
    await post(ines, '/undo')
    await rafe(`/items/${key}`, { method: 'PATCH', body: { severity: 4 } })
    const same = await log()
    await post(ines, `/items/${same}/merge`, { into: other })
    const { rows, examples } = (await ines('/projects/EMB/triage-weeks?weeks=1')).body
    const [after] = rows
    const more = (what: string) => (after.putRight[what] ?? 0) - (before.putRight[what] ?? 0)
    expect([more('severity-set'), more('same-as'), more('item-parted')]).toEqual([1, 1, 0])
    expect(examples).toContainEqual(
      expect.objectContaining({ what: 'same-as', by: 'ines', from: { kind: 'item', id: same }, to: { kind: 'item', id: other } }),
    )
    expect(examples.find((row: { what: string }) => row.what === 'severity-set')).toMatchObject({ by: 'rafe', from: { id: key }, to: null })
    const fared = (week: typeof before, field: string) => week.proposals.find((row: { field: string }) => row.field === field)
    expect(after.cameIn.person - before.cameIn.person).toBe(3)
    expect(after.decided.accept - before.decided.accept).toBe(1)
    expect(after.undone - before.undone).toBe(1)
    expect(after.rejected['cannot-reproduce']).toBe(before.rejected['cannot-reproduce'])
    expect(fared(after, 'severity').taken - fared(before, 'severity').taken).toBe(1)
    expect(fared(after, 'ownerId').changed - fared(before, 'ownerId').changed).toBe(1)
  })
})

describe('what machines find', () => {
  const intake = () => ({ authorization: `Bearer ${app.token('intake')}` })
  const sha = 'a'.repeat(40)
  const build = async (number: number, xml: string) => {
    const at = new Date(app.clock.nowMs).toISOString()
    const envelope = (predicate: string, customData: object) => ({
      specversion: '1.0',
      id: `b${number}${predicate}`,
      source: '/builds',
      type: `dev.cdevents.build.${predicate}.0.1.0`,
      time: at,
      data: {
        context: {
          version: '0.4.1',
          id: `b${number}${predicate}`,
          source: '/builds',
          type: `dev.cdevents.build.${predicate}.0.1.0`,
          timestamp: at,
        },
        subject: { id: 'x', content: {} },
        customData,
      },
    })
    const send = (event: object) =>
      app.call('/receive/cloudevents', {
        method: 'POST',
        raw: JSON.stringify(event),
        headers: { ...intake(), 'content-type': 'application/cloudevents+json' },
      })
    const common = { repository: 'kiln', number, sha, branch: 'main', startedAtMs: app.clock.nowMs }
    await send(envelope('started', common))
    await app.call(`/receive/reports/junit?repository=kiln&commit=${sha}&build=${number}`, { method: 'POST', raw: xml, headers: intake() })
    await send(envelope('finished', { ...common, outcome: xml.includes('failure') ? 'broke' : 'passed' }))
  }
  const found = async (words: string) => (await ines(`/items?filter=${encodeURIComponent(`"${words}"`)}&sort=newest`)).body.rows

  test('a test that fails build after build on the main line is logged once for each run of failures', async () => {
    connectRepository(app, 'kiln', '/nowhere')
    const failing = '<testsuite name="relay"><testcase name="relay opens"><failure message="still closed"/></testcase></testsuite>'
    const passing = '<testsuite name="relay"><testcase name="relay opens"/></testsuite>'
    await build(1, failing)
    expect(await found('relay opens fails')).toEqual([])
    await build(2, failing)
    await build(3, failing)
    const [item] = await found('relay opens fails')
    expect(await found('relay opens fails')).toHaveLength(1)
    const row = (await ines('/triage?limit=500&source=failing-test')).body.rows.find(
      (entry: { item: { key: string } }) => entry.item.key === item.key,
    )
    expect(row.source).toBe('failing-test')
    await build(4, passing)
    await build(5, failing)
    await build(6, failing)
    expect(await found('relay opens fails')).toHaveLength(2)
  })

  test('findings of a SARIF log are logged once each; a log that is none is refused with the place', async () => {
    const send = (body: unknown) =>
      app.call(`/receive/reports/sarif?repository=kiln&commit=${sha}`, {
        method: 'POST',
        raw: typeof body === 'string' ? body : JSON.stringify(body),
        headers: intake(),
      })
    const result = (ruleId: string, level: string, line: number) => ({
      ruleId,
      level,
      message: { text: `Unvalidated redirect by ${ruleId}. Check the address.` },
      locations: [{ physicalLocation: { artifactLocation: { uri: 'src/sign-in.js' }, region: { startLine: line } } }],
    })
    const log = (line: number) => ({
      version: '2.1.0',
      runs: [
        {
          tool: { driver: { name: 'scan' } },
          results: [result('X1', 'error', line), result('X2', 'note', 3), { ...result('X3', 'error', 1), kind: 'pass' }],
        },
      ],
    })
    expect((await send(log(4))).body).toEqual({ kind: 'findings', results: 2, logged: 1, notes: [] })
    expect((await send(log(9))).body).toEqual({ kind: 'findings', results: 2, logged: 0, notes: [] })
    const [item] = await found('Unvalidated redirect by X1')
    expect((await ines(`/items/${item.key}`)).body.description).toContain('src/sign-in.js:4')
    expect((await send('{')).body.code).toBe('malformed-body')
    expect((await send({ version: '1.0.0', runs: [] })).body.detail).toContain('version: only SARIF 2.1.0 is read')
    expect((await send({ version: '2.1.0', runs: [{ tool: {} }] })).body.detail).toContain('runs.0.tool.driver')
  })
})

describe('proposals', () => {
  test('a requirement is proposed by words and by what a look-alike is tied to', async () => {
    const known = await log({ title: 'Thermocouple open and nobody noticed', description: 'The probe was unplugged.' })
    await post(ines, `/items/${known}/accept`, { ...accept, requirement: 'SAF-1' })
    await likenessWorker(app.ctx).call('refresh', { keys: [known] })
    const key = await log({ title: 'Nobody noticed the unplugged thermocouple', description: 'The probe was open for an hour.' })
    const { body } = await ines(`/items/${key}/proposals`)
    expect(body.requirements.map((row: { value: string }) => row.value)).toEqual(expect.arrayContaining(['SAF-1', 'SAF-3']))
    expect(body.requirements.find((row: { value: string }) => row.value === 'SAF-1').reason).toContain(known)
    expect(body.owners.find((row: { value: string }) => row.value === 'rafe').reason).toContain(known)
  })
})
