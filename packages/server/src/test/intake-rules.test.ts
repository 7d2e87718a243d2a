import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { exceptionRequest, startApp, until, type App, type Ask } from './app-harness.js'

/** What is done about faults by itself and by hand: rules with budgets, tried on what came; silence, judgement, ties. */
let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
const RULES = '/projects/EMB/intake-rules'
const MINUTE_MS = 60_000

beforeAll(async () => {
  app = await startApp()
  ;[ines, rafe, wren] = await Promise.all([app.asks('ines'), app.asks('rafe'), app.asks('wren')])
  await ines(`${RULES}/live-faults`, { method: 'DELETE' })
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const put = (ask: Ask, path: string, body: object, method = 'PUT') => ask(path, { method, body })
const act = (ask: Ask, faults: string[], body: object) => ask('/faults/acts', { method: 'POST', body: { faults, act: body } })
/** An error at a place of its own, so many times a minute later than the last. */
async function throws(place: string, count: number, given: { environment?: string; file?: string; type?: string } = {}) {
  app.clock.nowMs += MINUTE_MS
  const { file = place, type = `${place}Error`, ...rest } = given
  await app.call('/otlp/v1/logs', {
    method: 'POST',
    body: exceptionRequest({
      atMs: app.clock.nowMs,
      count,
      place: `${place} (/srv/kiln/src/${file}.js:5:3)`,
      type,
      environment: 'production',
      ...rest,
    }),
    headers: { authorization: `Bearer ${app.token('telemetry')}` },
  })
  return faultOf(type)
}
async function faultOf(words: string) {
  let fault: { fault: string; item: { key: string } | null; state: string; occurrences: number } | undefined
  await until(`the fault of ${words}`, async () => {
    fault = (await ines(`/faults?state=any&q=${words}`)).body.rows[0]
    return fault !== undefined
  })
  return fault as { fault: string; item: { key: string } | null; state: string; occurrences: number }
}
const itemOf = async (words: string) => (await faultOf(words)).item?.key ?? null
const loggedFor = async (words: string) => {
  await until(`the item of ${words}`, async () => (await itemOf(words)) !== null)
  return (await itemOf(words)) ?? ''
}

describe('a rule', () => {
  const rule = { name: 'Valves', countAtLeast: 2, windowMinutes: 10, where: 'type=valve' }

  test('says what is wrong before it is kept', async () => {
    const wrong = await put(ines, `${RULES}/valves`, { ...rule, where: 'typo=valve' })
    expect([wrong.status, wrong.body.fields]).toEqual([422, { where: '“typo” is not understood here (character 1)' }])
    const nobody = await put(ines, `${RULES}/valves`, { ...rule, deed: { ownerId: 'nobody', component: 'Nowhere', type: 'wish' } })
    expect(Object.keys(nobody.body.fields).sort()).toEqual(['deed.component', 'deed.ownerId', 'deed.type'])
    expect((await put(rafe, `${RULES}/valves`, rule)).status).toBe(403)
  })

  test('logs what meets its condition, as it says, and tells whom it names', async () => {
    const deed = { labels: ['from-running'], severity: 2, ownerId: 'rafe', component: 'Kiln control', isAccepted: true, tellIds: ['rafe'] }
    await put(ines, `${RULES}/valves`, { ...rule, deed })
    await throws('lid', 5)
    await throws('valveA', 2)
    const key = await loggedFor('valveAError')
    expect((await ines(`/items/${key}`)).body).toMatchObject({
      severity: 2,
      ownerId: 'rafe',
      component: 'Kiln control',
      labels: ['from-running'],
      stage: 'accepted',
    })
    expect((await ines(`/items/${key}`)).body.description).toContain('**Where it broke**')
    expect(await itemOf('lidError')).toBeNull()
    const { rows } = (await rafe('/inbox')).body
    expect(JSON.stringify(rows)).toContain('rule “Valves”')
    const listed = (await ines(RULES)).body
    expect(listed.rows[0]).toMatchObject({ ruleId: 'valves', fired: 1, week: { logged: 1, gathered: 0, other: 0 } })
    expect(listed.budget).toMatchObject({ perHour: null, usedHour: 1 })
  })

  test('writes what its own text says, with what is known in its room', async () => {
    const latches = { ...rule, name: 'Latches', countAtLeast: 1, where: 'type=latch' }
    const refused = await put(ines, `${RULES}/latches`, { ...latches, deed: { text: 'It is {weather}.' } })
    expect([refused.status, refused.body.fields['deed.text']]).toEqual([422, expect.stringContaining('{weather} is not known of a fault')])
    await put(ines, `${RULES}/latches`, {
      ...latches,
      deed: { text: 'Of {service}: {type}, {count} times.\n\n**Who looks:** the kiln team' },
    })
    await throws('latchA', 1)
    const { description } = (await ines(`/items/${await loggedFor('latchAError')}`)).body
    expect(description).toMatch(/^Of kiln: latchAError, 1 times\.\n\n\*\*Who looks:\*\* the kiln team\n\nLogged from fault F-\d+ of kiln/)
    await ines(`${RULES}/latches`, { method: 'DELETE' })
  })

  test('as a draft does nothing, and is asked in its place in the order', async () => {
    await put(ines, `${RULES}/a-draft`, { ...rule, name: 'Drafted', where: 'type=hinge', isDraft: true })
    await throws('hingeA', 3)
    expect(await itemOf('hingeAError')).toBeNull()
    expect((await put(ines, RULES, { ruleIds: ['a-draft', 'valves'] })).body.rows.map((row: { ruleId: string }) => row.ruleId)).toEqual([
      'a-draft',
      'valves',
    ])
    expect((await put(ines, RULES, { ruleIds: ['valves'] })).status).toBe(409)
    await ines(`${RULES}/a-draft`, { method: 'DELETE' })
  })

  test('opens a rejected item again when its fault goes on, and remarks on it', async () => {
    const again = { countAtLeast: 3, windowMinutes: 1, where: 'type=piston', goesOn: true }
    await put(ines, `${RULES}/pistons`, { ...again, name: 'Pistons', deed: {}, countAtLeast: 1 })
    await throws('piston', 1)
    const key = await loggedFor('pistonError')
    await ines(`/items/${key}/reject`, { method: 'POST', body: { disposition: 'cannot-reproduce', words: 'Once' } })
    app.clock.nowMs += 10 * MINUTE_MS
    expect((await put(ines, `${RULES}/mute`, { ...again, name: 'Mute', deed: { act: 'remark' } })).body.fields['deed.remark']).toBe(
      'Which words?',
    )
    await put(ines, `${RULES}/pistons-again`, { ...again, name: 'Pistons again', deed: { act: 'reopen' } })
    await put(ines, `${RULES}/pistons-say`, {
      ...again,
      name: 'Say so',
      deed: { act: 'remark', remark: 'Three in a minute: look at the seal.' },
    })
    await throws('piston', 4)
    await until('it is open again', async () => (await ines(`/items/${key}`)).body.disposition === null)
    await until('it is remarked on', async () => (await ines(`/items/${key}/comments`)).body.rows.length === 1)
    expect((await ines(`/items/${key}/comments`)).body.rows[0]).toMatchObject({
      text: 'Three in a minute: look at the seal.',
      by: 'rule:pistons-say',
    })
    const { rows } = (await ines(`/items/${key}/history`)).body
    expect(rows.find(({ kind }: { kind: string }) => kind === 'item-reopened')).toMatchObject({
      by: 'rule:pistons-again',
      cause: 'Pistons again',
    })
    for (const id of ['pistons', 'pistons-again', 'pistons-say']) await ines(`${RULES}/${id}`, { method: 'DELETE' })
  })

  test('beyond its budget gathers in one item with a table, to which all are tied', async () => {
    await put(ines, `${RULES}/flood`, { ...rule, name: 'Flood', countAtLeast: 1, where: 'type=flood', perHour: 2 })
    for (const at of [1, 2, 3, 4, 5]) await throws(`flood${at}`, 1)
    const keys = await Promise.all([1, 2, 3, 4, 5].map((at) => loggedFor(`flood${at}Error`)))
    expect(new Set(keys).size).toBe(3)
    expect(new Set(keys.slice(2)).size).toBe(1)
    const gathering = (await ines(`/items/${keys[2]}`)).body
    expect(gathering.title).toBe('More faults than the rule “Flood” may log')
    for (const at of [3, 4, 5]) expect(gathering.description).toContain(`flood${at}Error`)
    expect((await ines(RULES)).body.rows.find((row: { ruleId: string }) => row.ruleId === 'flood').week).toEqual({
      logged: 2,
      gathered: 3,
      other: 0,
    })
  })

  test('of a project with a budget logs no more than that, whichever rule it is', async () => {
    const { budget } = (await put(ines, '/projects/EMB/intake-budget', { perHour: 3, perDay: null })).body
    expect(budget).toMatchObject({ perHour: 3, perDay: null, usedHour: 3 })
    await throws('valveB', 2)
    expect((await ines(`/items/${await loggedFor('valveBError')}`)).body.title).toContain('More faults than')
    await put(ines, '/projects/EMB/intake-budget', { perHour: null, perDay: null })
  })

  test('ties a fault at the same place of the code to the open item, where it says so', async () => {
    await put(ines, `${RULES}/doors`, { ...rule, name: 'Doors', countAtLeast: 1, where: 'path=door', deed: { tiesAlike: true } })
    await throws('doorOpens', 1, { file: 'door', type: 'FirstDoorError' })
    await throws('doorOpens', 1, { file: 'door', type: 'SecondDoorError' })
    expect(await loggedFor('SecondDoorError')).toBe(await loggedFor('FirstDoorError'))
  })

  test('raises the item that stands for a fault, only ever for the worse', async () => {
    const key = await loggedFor('FirstDoorError')
    await put(ines, `${RULES}/worse`, {
      ...rule,
      name: 'Worse',
      countAtLeast: 4,
      where: 'path=door open',
      deed: { act: 'raise', severity: 1 },
    })
    await throws('doorOpens', 4, { file: 'door', type: 'FirstDoorError' })
    await until('the raise', async () => (await ines(`/items/${key}`)).body.severity === 1)
  })

  test('opens an incident, one for all that fail in the same service meanwhile', async () => {
    await put(ines, `${RULES}/bell`, {
      ...rule,
      name: 'Bell',
      countAtLeast: 2,
      where: 'type=bell',
      goesOn: true,
      deed: { act: 'incident', severity: 1 },
    })
    const incidents = async () => (await ines('/projects/EMB/incidents')).body.rows
    await throws('bellRings', 2)
    await until('an incident', async () => (await incidents()).length === 1)
    const [opened] = await incidents()
    expect(opened).toMatchObject({ severity: 1, service: 'kiln', environment: 'production', overAtMs: null })
    const detail = async () => (await ines(`/projects/EMB/incidents/${opened.number}`)).body
    expect((await detail()).openedBy).toBe('rule:bell')
    await throws('bellBreaks', 2)
    await until('the note', async () => (await detail()).entries.some((entry: { kind: string }) => entry.kind === 'note'))
    expect(await incidents()).toHaveLength(1)
    await put(ines, `/projects/EMB/incidents/${opened.number}/end`, { overAtMs: app.clock.nowMs })
    await throws('bellFalls', 2)
    await until('another incident', async () => (await incidents()).length === 2)
    await ines(`${RULES}/bell`, { method: 'DELETE' })
  })

  test('silences what it says, and warns of what cannot be meant', async () => {
    await put(ines, `${RULES}/noise`, { ...rule, name: 'Noise', countAtLeast: 1, where: 'type=noise', deed: { act: 'silence' } })
    await throws('noise', 1)
    await until('the silence', async () => (await faultOf('noiseError')).state === 'silenced')
    const all = await put(ines, `${RULES}/all`, { name: 'All', countAtLeast: 1, windowMinutes: 5, environmentKind: 'any' })
    expect(all.body.rows.at(-1).warnings).toEqual([expect.stringContaining('takes every fault')])
    const never = await put(ines, `${RULES}/all`, { ...rule, name: 'All', where: 'service=kiln service=glaze' })
    expect(never.body.rows.at(-1).warnings).toEqual([expect.stringContaining('exclude each other')])
    await ines(`${RULES}/all`, { method: 'DELETE' })
  })
})

describe('a trial', () => {
  test('says what a rule would have done, beside what it does as it stands, and writes nothing', async () => {
    const before = app.ctx.db.prepare('SELECT count(*) AS n FROM journal').get()
    const standing = { name: 'Flood', countAtLeast: 1, windowMinutes: 10, where: 'type=flood', perHour: 2 }
    const same = (await put(ines, `${RULES}/trial`, { ...standing, ruleId: 'flood' }, 'POST')).body
    // What came then, decided anew by the same code: as it was decided.
    expect(same.outcomes).toEqual({
      logged: 2,
      gathered: 3,
      tied: 0,
      reopened: 0,
      raised: 0,
      remarked: 0,
      silenced: 0,
      told: 0,
      incident: 0,
    })
    expect(same.standing).toEqual(same.outcomes)
    expect(same.noLonger).toEqual([])
    const stricter = (await put(ines, `${RULES}/trial`, { ...standing, where: 'type=flood1', ruleId: 'flood' }, 'POST')).body
    expect(stricter.rows.map((row: { type: string }) => row.type)).toEqual(['flood1Error'])
    expect(stricter.noLonger.map((row: { type: string }) => row.type)).toEqual(['flood2Error', 'flood3Error', 'flood4Error', 'flood5Error'])
    expect(app.ctx.db.prepare('SELECT count(*) AS n FROM journal').get()).toEqual(before)
  })

  test('names what people logged by hand and the rule would have missed', async () => {
    const { fault } = await faultOf('lidError')
    const { key } = (await rafe(`/faults/${fault}/item`, { method: 'POST', body: { title: 'The lid jams' } })).body
    expect((await rafe(`/items/${key}`)).body.title).toBe('The lid jams')
    const trial = (await put(ines, `${RULES}/trial`, { name: 'x', countAtLeast: 900, windowMinutes: 5 }, 'POST')).body
    expect(trial.standing).toBeNull()
    expect(trial.missed).toEqual([expect.objectContaining({ fault, key, judgement: 'waiting' })])
  })
})

describe('the record of a rule', () => {
  test('says what people did with what it logged, and what it could ask for', async () => {
    const record = async () => (await ines(`${RULES}/flood`)).body
    expect(await record()).toMatchObject({ taken: 0, rejected: 0, waiting: 2, proposal: null })
    await put(ines, `${RULES}/flood`, { name: 'Flood', countAtLeast: 1, windowMinutes: 10, where: 'type=flood' })
    for (const at of [6, 7, 8]) await throws(`flood${at}`, at === 8 ? 9 : 1)
    for (const at of [1, 6, 7]) {
      const key = await loggedFor(`flood${at}Error`)
      await ines(`/items/${key}/reject`, { method: 'POST', body: { disposition: 'cannot-reproduce', words: 'once only' } })
    }
    const eighth = await loggedFor('flood8Error')
    await ines(`/items/${eighth}/accept`, { method: 'POST', body: { severity: 2 } })
    expect(await record()).toMatchObject({
      rejected: 3,
      proposal: { what: 'people', atLeast: 2, rejectedAvoided: 3, rejected: 3, takenLost: 0 },
    })
    expect((await record()).rows.find((row: { judgement: string }) => row.judgement === 'rejected').words).toContain('once only')
  })
})

describe('a fault by hand', () => {
  test('is silenced until it occurs so often, and out of the list meanwhile', async () => {
    const { fault, occurrences } = await throws('relay', 2)
    const done = (await act(rafe, [fault], { act: 'silence', moreTimes: 3, reason: 'the relay is being changed' })).body
    expect(done).toEqual({ done: [fault], refused: [], seqs: [expect.any(Number)] })
    expect((await ines('/faults?q=relayError')).body.rows).toEqual([])
    expect((await ines('/faults?q=relayError&state=silenced')).body.rows[0]).toMatchObject({
      fault,
      silence: { sinceCount: occurrences, moreTimes: 3, reason: 'the relay is being changed' },
    })
    await throws('relay', 3)
    expect((await ines('/faults?q=relayError')).body.rows[0].state).toBe('new')
  })

  test('a silenced one is logged by no rule; heard again it is', async () => {
    await put(ines, `${RULES}/probes`, { name: 'Probes', countAtLeast: 2, windowMinutes: 5, where: 'type=probe' })
    const { fault } = await throws('probe', 1)
    await act(rafe, [fault], { act: 'silence' })
    await throws('probe', 3)
    expect(await itemOf('probeError')).toBeNull()
    await act(rafe, [fault], { act: 'hear' })
    expect((await act(rafe, [fault], { act: 'hear' })).body.refused).toEqual([{ fault, why: expect.stringContaining('not silenced') }])
    await throws('probe', 1)
    await loggedFor('probeError')
  })

  test('is said to be fixed in a release, and comes back by an occurrence of it or a later one', async () => {
    const { fault } = await throws('clock', 1)
    await act(rafe, [fault], { act: 'fixed', release: '9.0.0' })
    expect((await faultOf('clockError')).state).toBe('fixed')
    await act(rafe, [fault], { act: 'fixed', release: '0.9' })
    expect((await faultOf('clockError')).state).toBe('came-back')
    await act(rafe, [fault], { act: 'unjudge' })
    expect((await faultOf('clockError')).state).toBe('new')
  })

  test('several at once are assigned, and each is taken back unless somebody decided since', async () => {
    const first = await throws('gasA', 1)
    const second = await throws('gasB', 1)
    const { seqs } = (await act(rafe, [first.fault, second.fault], { act: 'assign', ownerId: 'rafe' })).body
    expect(seqs).toHaveLength(2)
    await act(ines, [second.fault], { act: 'assign', ownerId: 'ines' })
    expect((await rafe('/undo', { method: 'POST', body: { seq: seqs[0] } })).status).toBe(200)
    const late = await rafe('/undo', { method: 'POST', body: { seq: seqs[1] } })
    expect([late.status, late.body.detail]).toEqual([409, expect.stringContaining('decided something else')])
    const owners = await Promise.all(
      ['gasAError', 'gasBError'].map(async (words) => (await ines(`/faults?q=${words}`)).body.rows[0].ownerId),
    )
    expect(owners).toEqual([null, 'ines'])
  })

  test('is tied to an item and untied, also from the one that was logged for it', async () => {
    const { fault } = await throws('fan', 1)
    const { key } = (await put(rafe, '/items', { title: 'The fan stands still' }, 'POST')).body
    const tied = await act(rafe, [fault], { act: 'tie', key })
    expect(tied.body.done).toEqual([fault])
    expect(await itemOf('fanError')).toBe(key)
    expect((await act(rafe, [fault], { act: 'tie', key })).body.refused[0].why).toContain('stands for it already')
    await act(rafe, [fault], { act: 'untie', key })
    expect(await itemOf('fanError')).toBeNull()
    const logged = (await rafe(`/faults/${fault}/item`, { method: 'POST', body: {} })).body.key
    await act(rafe, [fault], { act: 'untie', key: logged })
    expect(await itemOf('fanError')).toBeNull()
    expect((await act(rafe, [fault], { act: 'untie', key: logged })).body.refused[0].why).toContain('is not tied')
  })

  test('is nobody else’s to decide: a reader may not, a stray program has no project, an unknown one is named', async () => {
    const { fault } = await throws('grate', 1)
    expect((await act(wren, [fault], { act: 'not-ours', reason: 'no' })).status).toBe(403)
    const mixed = (await act(rafe, [fault, 'F-99999'], { act: 'not-ours', reason: 'the host' })).body
    expect(mixed).toMatchObject({ done: [fault], refused: [{ fault: 'F-99999' }] })
    expect((await act(rafe, [fault], { act: 'not-ours', reason: ' ' })).status).toBe(422)
  })
})
