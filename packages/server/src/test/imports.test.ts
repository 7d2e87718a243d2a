import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { mailerSlot } from '#platform/mail/mailer.slot'
import { replaced } from '#platform/context'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { OutgoingMail } from '#platform/mail/mailer'
import { verifyTables } from '#verify-tables'
import { startApp, until, type App, type Ask } from './app-harness.js'

let app: App
const mails: OutgoingMail[] = []
let ines: Ask
let rafe: Ask
beforeAll(async () => {
  app = await startApp({
    replacements: [replaced(mailerSlot, { send: async (mail) => void mails.push(mail) })],
    config: { allowedHosts: ['127.0.0.1'] },
  })
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const headers = { 'content-type': 'application/octet-stream' }
const begin = (raw: string, ask = ines) => ask('/projects/EMB/imports?name=list.csv', { method: 'POST', raw, headers })
/** Runs or tries an import and waits until it is through. */
async function through(importId: string, mapping: object, isTrial: boolean, values: object = {}) {
  const started = await ines(`/imports/${importId}/run`, { method: 'POST', body: { mapping, values, isTrial } })
  if (started.status !== 200) return started.body
  let body = started.body
  const isThrough = async () => {
    body = (await ines(`/imports/${importId}`)).body
    return !['trying', 'running'].includes(body.phase)
  }
  // Thousands of rows on a machine that does other work as well.
  await until('the import is through', isThrough, 30_000)
  return body
}
const MESSY = `\uFEFFTicket;Summary;Text;Assignee;Parent;Due;Type;Tags
7;Relay sticks;"Two
lines; and a ""quote""";Rafe Varga;9;1.12.2026;Bug;a, b
8;Door card;<p>It <b>blinks</b></p>;Nobody Known;7;31/12/2026;Wish;
9;Firing safety;;;;soon;Epic;
9;Firing safety again;;;;;Epic;
;;;;;;;
10;Lost child;;;404;;Task;
11;Loop;;;11;;Task;
`

describe('an import of a messy file', () => {
  let importId = ''
  let mapping: Record<string, string> = {}

  test('is read with its columns, a guess of what each is, and its first rows', async () => {
    const { status, body } = await begin(MESSY)
    expect(status).toBe(201)
    importId = body.importId
    mapping = body.mapping
    expect(body.columns).toEqual(['Ticket', 'Summary', 'Text', 'Assignee', 'Parent', 'Due', 'Type', 'Tags'])
    expect(mapping).toEqual({
      Ticket: 'id',
      Summary: 'title',
      Text: 'description',
      Assignee: 'owner',
      Parent: 'parent',
      Due: 'due',
      Type: 'type',
      Tags: 'labels',
    })
    expect(body).toMatchObject({ rows: 6, phase: 'read' })
    expect(body.sample[0].Text).toBe('Two\nlines; and a "quote"')
    expect((await begin(MESSY, rafe)).body.code).toBe('not-allowed')
  })

  test('is tried: every problem is listed by row, nothing is logged', async () => {
    const tried = await through(importId, mapping, true)
    expect(tried).toMatchObject({ phase: 'tried', fresh: 5, known: 0, leftOut: 1, linked: 2 })
    expect(
      tried.problems.map((problem: { row: number; column: string; code: string }) => [problem.row, problem.column, problem.code]),
    ).toEqual([
      [3, 'Assignee', 'unknown-person'],
      [4, 'Due', 'wrong-day'],
      [5, 'Ticket', 'doubled-id'],
      [7, 'Parent', 'unknown-parent'],
      [8, 'Parent', 'parent-loop'],
    ])
    expect((await ines('/items?filter=')).body.total).toBe(0)
  })

  test('logs what it can, parents that stand below their parts included, and waits in Triage as imported', async () => {
    const done = await through(importId, mapping, false)
    expect(done).toMatchObject({ phase: 'done', fresh: 5, leftOut: 1, linked: 2 })
    const find = async (words: string) =>
      (await ines(`/items/${(await ines(`/items?filter=${encodeURIComponent(words)}`)).body.rows[0].key}`)).body
    const relay = await find('"relay sticks"')
    expect(relay).toMatchObject({
      type: 'defect',
      ownerId: 'rafe',
      dueOn: '2026-12-01',
      labels: ['a', 'b'],
      description: 'Two\nlines; and a "quote"',
    })
    const epic = await find('"firing safety"')
    expect(epic.type).toBe('epic')
    expect(epic.children.map((child: { key: string }) => child.key)).toEqual([relay.key])
    expect((await find('"door card"')).description).toBe('It blinks')
    expect((await ines('/triage?source=import')).body.total).toBe(5)
  })

  test('run twice logs nothing twice, by whoever', async () => {
    expect(await through(importId, mapping, false)).toMatchObject({ phase: 'done', fresh: 0, known: 5 })
    const again = (await begin(MESSY)).body.importId
    expect(await through(again, mapping, false)).toMatchObject({ fresh: 0, known: 5 })
    expect((await ines('/items?filter=')).body.total).toBe(5)
  })
})

describe('files', () => {
  test('of JSON Lines are read; a line that is none is named', async () => {
    const { body } = await begin('{"title":"From a line","labels":["x","y"],"severity":2}\n{"title":"Another"}\n')
    expect(body).toMatchObject({ format: 'jsonl', rows: 2, mapping: { title: 'title', labels: 'labels', severity: 'severity' } })
    expect(await through(body.importId, body.mapping, false)).toMatchObject({ fresh: 2, problemCount: 0 })
    const bad = (await begin('{"title":"Good line"}\nnonsense\n[1]\n')).body
    expect(bad).toMatchObject({ rows: 3, columns: ['title'] })
    expect(await through(bad.importId, bad.mapping, true)).toMatchObject({
      fresh: 1,
      leftOut: 2,
      problems: [
        { row: 2, code: 'not-json', value: 'nonsense' },
        { row: 3, code: 'not-json', value: '[1]' },
      ],
    })
    expect((await begin('{nonsense\n')).body.detail).toContain('row 1 holds “{nonsense”')
    expect((await begin('title\n')).body.detail).toContain('no row')
    expect(
      (await ines(`/imports/${body.importId}/run`, { method: 'POST', body: { mapping: {}, isTrial: true } })).body.fields.mapping,
    ).toContain('title')
  })

  test('that were exported come back whole: what goes out goes in', async () => {
    const key = (
      await rafe('/items', {
        method: 'POST',
        body: {
          title: '=1+1, "round" trip',
          description: 'a\nb;c',
          type: 'task',
          severity: 4,
          component: 'Kiln control',
          labels: ['p', 'q'],
          dueOn: '2027-01-02',
          ownerId: 'rafe',
          points: 5,
        },
      })
    ).body.key
    const lines = (await ines(`/items.jsonl?filter=key%3D${key}`)).text.replace(`"key":"${key}"`, '"key":"other-1"')
    const { body } = await begin(lines)
    expect(body.mapping).toMatchObject({ key: 'id', title: 'title', due: 'due', owner: 'owner', labels: 'labels' })
    await through(body.importId, { ...body.mapping, stage: 'sprint' }, true)
    const { stage: _stage, disposition: _disposition, ...mapping } = body.mapping
    await through(body.importId, mapping, false)
    const { rows } = (await ines(`/items?filter=${encodeURIComponent('"round trip"')}&sort=newest`)).body
    expect(rows).toHaveLength(2)
    const [first, second] = await Promise.all(rows.map(async (row: { key: string }) => (await ines(`/items/${row.key}`)).body))
    for (const field of ['title', 'description', 'type', 'severity', 'component', 'labels', 'dueOn', 'ownerId', 'points'])
      expect(first[field]).toEqual(second[field])
  })

  test('that are broken are refused with the place, never half taken; other encodings are read, and said', async () => {
    expect((await begin('id,title\n1,"Relay\n2,Door\n')).body.detail).toContain('In row 2 a quotation mark is opened and never closed')
    expect((await begin('id,title\n1,5" pipe\n')).status).toBe(201)
    const uneven = (await begin('id,title\nu1,Short of nothing\nu2\nu3,One,too many\n')).body
    expect((await through(uneven.importId, uneven.mapping, true)).problems).toMatchObject([
      { row: 3, code: 'too-few-cells', value: '1 of 2' },
      { row: 3, code: 'no-title' },
      { row: 4, code: 'too-many-cells', value: '3 of 2' },
    ])
    const old = await ines('/projects/EMB/imports', {
      method: 'POST',
      raw: Buffer.from('id,title\nl1,Größe stimmt nicht\n', 'latin1') as never,
      headers,
    })
    expect(old.body).toMatchObject({ encoding: 'windows-1252', sample: [{ title: 'Größe stimmt nicht' }] })
    const wide = Buffer.from('\uFEFFid,title\nw1,Größe\n', 'utf16le')
    expect((await ines('/projects/EMB/imports', { method: 'POST', raw: wide as never, headers })).body).toMatchObject({
      encoding: 'utf-16le',
      sample: [{ id: 'w1', title: 'Größe' }],
    })
    expect((await begin('[{"title":"In a list"},{"title":"Too"}]')).body).toMatchObject({ format: 'jsonl', rows: 2 })
    expect((await begin('[{"title":')).body.detail).toContain('begins as a JSON list and is none')
    const guarded = (await begin("id,title\ng1,'=SUM(A1)\ng2,'tis sticky\n")).body
    expect(guarded.sample.map((row: { title: string }) => row.title)).toEqual(['=SUM(A1)', "'tis sticky"])
  })

  test('bring along where items stood, who reported them when, what was said and worked, and what hangs on what', async () => {
    const table = [
      'Id,Summary,State,Resolution,Reporter,Created,Spent,Blocks,Duplicate of,Requirement,Comments',
      'a1,Old and done,Closed,Fixed,rafe,2025-03-01T09:00:00Z,2h,a2,,SAF-3,It was the relay',
      'a2,Still going,In Progress,,Somebody Else,2025-04-01,30m,a1,,NIX-1,',
      'a3,The same,Closed,Duplicate,,,,,a1,,',
      'a4,Odd one,Purple,,,,,zz,,,',
    ].join('\n')
    const { body } = await begin(table)
    expect(body.mapping).toMatchObject({
      State: 'status',
      Resolution: 'resolution',
      Reporter: 'reporter',
      Created: 'created',
      Spent: 'spent',
    })
    const tried = await through(body.importId, body.mapping, true)
    expect(tried.problems.map(({ row, column, code, value }: Record<string, unknown>) => [row, column, code, value])).toEqual([
      [3, 'Reporter', 'unknown-reporter', 'Somebody Else'],
      [5, 'State', 'unknown-status', 'Purple'],
      [3, 'Requirement', 'unknown-requirement', 'NIX-1'],
      [5, 'Blocks', 'unknown-link', 'zz'],
    ])
    expect(tried.seen).toContainEqual({ field: 'status', text: 'In Progress', count: 1, becomes: 'underway', isUnknown: false })
    const done = await through(body.importId, body.mapping, false, { status: { Purple: 'accepted' } })
    expect(done).toMatchObject({ phase: 'done', fresh: 4 })
    const loop = done.problems.find(({ code }: { code: string }) => code === 'parent-loop')
    const of = async (title: string) => {
      const { rows } = (await ines(`/items?filter=${encodeURIComponent(`"${title}"`)}`)).body
      return (await ines(`/items/${rows[0].key}`)).body
    }
    const [old, going, same, odd] = [await of('Old and done'), await of('Still going'), await of('The same'), await of('Odd one')]
    expect(loop.value).toBe(`${going.key} > ${old.key} > ${going.key}`)
    expect(old).toMatchObject({
      stage: 'verified',
      stair: 'ppppppp',
      hasDrift: false,
      reporterId: 'rafe',
      createdAtMs: Date.parse('2025-03-01T09:00:00Z'),
      spentMinutes: 120,
    })
    expect(old.ladder.treads[6].evidence.at(-1)).toMatchObject({ code: 'imported-as', facts: { words: 'Closed, Fixed' } })
    expect(old.links.map(({ kind, to }: { kind: string; to: { id: string } }) => `${kind} ${to.id}`)).toEqual(
      expect.arrayContaining([`blocks ${going.key}`, 'breaks SAF-3']),
    )
    expect((await ines(`/items/${old.key}/comments`)).body.rows).toMatchObject([{ text: 'It was the relay' }])
    expect(going).toMatchObject({ stage: 'underway', reporterId: null, cameFrom: 'Somebody Else', spentMinutes: 30, hasDrift: false })
    expect(same).toMatchObject({ disposition: 'duplicate' })
    expect(odd).toMatchObject({ stage: 'accepted' })
    // What stands beyond Logged does not wait in Triage; opened again, an item stands by its evidence alone.
    expect((await ines('/triage')).body.rows.map(({ item }: { item: { key: string } }) => item.key)).not.toContain(going.key)
    await ines(`/items/${same.key}/reopen`, { method: 'POST', body: { words: 'It is not' } })
    expect((await ines(`/items/${same.key}`)).body).toMatchObject({ stage: 'logged', disposition: null })

    const [line] = (await ines(`/items.jsonl?filter=key%3D${old.key}`)).text.split('\n')
    expect(JSON.parse(line ?? '')).toMatchObject({
      blocks: [going.key],
      requirements: ['SAF-3'],
      spentMinutes: 120,
      reporter: 'rafe',
      comments: [{ text: 'It was the relay', by: 'ines', at: '2025-03-01T09:00:00.000Z' }],
    })
  })

  test('that come again with other values say so; only fields that are chosen are taken; what cannot be read changes nothing', async () => {
    const first = (await begin('id,title,severity,labels,due\nc1,Vent whistles,3,vent,2027-01-02\nc2,Vent sticks,4,,\n')).body
    await through(first.importId, first.mapping, false)
    const { key } = (await ines(`/items?filter=${encodeURIComponent('"Vent whistles"')}`)).body.rows[0]
    await ines(`/items/${key}`, { method: 'PATCH', body: { severity: 1 } })
    const again = (await begin('id,title,severity,labels,due\nc1,Vent whistles loudly,2,"vent, night",soon\nc2,Vent sticks,4,,\n')).body
    const tried = await through(again.importId, again.mapping, true)
    expect(tried).toMatchObject({ fresh: 0, known: 2, renewed: 0, changeCounts: { title: 1, severity: 1, labels: 1 } })
    expect(tried.changes).toEqual([
      { row: 2, key, field: 'title', ours: 'Vent whistles', theirs: 'Vent whistles loudly' },
      { row: 2, key, field: 'severity', ours: '1', theirs: '2' },
      { row: 2, key, field: 'labels', ours: 'vent', theirs: 'vent, night' },
    ])
    const body = { mapping: again.mapping, takes: ['title', 'labels'], isTrial: false }
    await ines(`/imports/${again.importId}/run`, { method: 'POST', body })
    await until('it is through', async () => (await ines(`/imports/${again.importId}`)).body.phase === 'done')
    expect((await ines(`/imports/${again.importId}`)).body.renewed).toBe(1)
    expect((await ines(`/items/${key}`)).body).toMatchObject({
      title: 'Vent whistles loudly',
      severity: 1,
      labels: ['vent', 'night'],
      dueOn: '2027-01-02',
    })
    expect(await through(again.importId, again.mapping, true)).toMatchObject({ changeCounts: { severity: 1 } })
  })

  test('bring their files from the addresses that are theirs; one that cannot be had keeps its address in a comment', async () => {
    const host = createServer((request, response) => {
      if (request.url === '/lid.txt') response.writeHead(200).end('a lid')
      else response.writeHead(404).end()
    })
    await new Promise<void>((resolve) => host.listen(0, '127.0.0.1', resolve))
    const base = `http://127.0.0.1:${(host.address() as AddressInfo).port}`
    try {
      const { body } = await begin(`id,title,attachments,updated\nf1,Lid cracks,${base}/lid.txt ${base}/gone.txt,2025-05-06T07:08:09Z\n`)
      expect(body.mapping).toMatchObject({ attachments: 'attachments', updated: 'updated' })
      expect(await through(body.importId, body.mapping, true)).toMatchObject({ attached: 2, problems: [] })
      const done = await through(body.importId, body.mapping, false)
      expect(done).toMatchObject({ phase: 'done', attached: 1 })
      expect(done.problems).toEqual([
        { row: 2, column: 'attachments', code: 'not-fetched', value: expect.stringMatching(/gone\.txt: 127\.0\.0\.1:\d+ answered 404/) },
      ])
      const { rows } = (await ines(`/items?filter=${encodeURIComponent('"Lid cracks"')}`)).body
      expect((await ines(`/items/${rows[0].key}/attachments`)).body.rows).toMatchObject([{ name: 'lid.txt', sizeBytes: 5 }])
      expect((await ines(`/items/${rows[0].key}/comments`)).body.rows[0].text).toContain(`<${base}/gone.txt>`)
      // Whatever came with it, it was changed last when the file says so.
      expect(rows[0].updatedAtMs).toBe(Math.max(rows[0].createdAtMs, Date.parse('2025-05-06T07:08:09Z')))
    } finally {
      host.close()
    }
  })

  test('of many rows can be stopped, and go on from there', async () => {
    const rows = Array.from({ length: 3000 }, (_, index) => `r${index},Row ${index} of many`).join('\n')
    const { body } = await begin(`id,title\n${rows}\n`)
    await ines(`/imports/${body.importId}/run`, { method: 'POST', body: { mapping: body.mapping, isTrial: false } })
    await until('some are in', async () => (await ines(`/imports/${body.importId}`)).body.fresh >= 200)
    await ines(`/imports/${body.importId}`, { method: 'DELETE' })
    await until('it stopped', async () => (await ines(`/imports/${body.importId}`)).body.phase === 'cancelled')
    const stopped = (await ines(`/imports/${body.importId}`)).body
    expect(stopped.fresh).toBeLessThan(3000)
    const done = await through(body.importId, body.mapping, false)
    expect(done).toMatchObject({ known: stopped.fresh, fresh: 3000 - stopped.fresh })
  })
})

describe('people and components that are not here yet', () => {
  test('are shown by the trial, invited and added by the run; the invited sign up by the link in their mail, once', async () => {
    const { body } = await begin(
      'id,title,owner,component\nq1,Lamp stays dark,Odile Brandt <odile@emberwick.example>,Lamps\n' +
        'q2,Lamp too bright,odile@emberwick.example,Lamps\n',
    )
    const tried = await through(body.importId, body.mapping, true)
    expect(
      tried.seen.map((word: { field: string; count: number; isUnknown: boolean }) => [word.field, word.count, word.isUnknown]),
    ).toEqual([
      ['component', 2, true],
      ['owner', 1, true],
      ['owner', 1, true],
    ])
    const values = {
      component: { Lamps: '+add' },
      owner: { 'Odile Brandt <odile@emberwick.example>': '+invite', 'odile@emberwick.example': '+invite' },
    }
    expect(await through(body.importId, body.mapping, false, values)).toMatchObject({ phase: 'done', fresh: 2, problemCount: 0 })
    const { rows } = (await ines('/items?filter=component%3DLamps')).body
    expect(rows.map((row: { ownerId: string }) => row.ownerId)).toEqual(['odile-brandt', 'odile-brandt'])
    await until('the mail went out', () => mails.length > 0)
    expect(mails.every((mail) => mail.to === 'odile@emberwick.example')).toBe(true)
    const secrets = mails.map((mail) => /sign-up\/([\w-]+)/.exec(mail.text)?.[1] ?? '')
    const secret = secrets.at(-1) ?? ''
    // Whoever is invited anew holds the newer link alone.
    if (secrets.length > 1) expect((await app.call(`/api/v1/sign-up/${secrets[0]}`)).body.code).toBe('wrong-token')
    expect((await app.call(`/api/v1/sign-up/${secret}`)).body).toEqual({
      needsProject: false,
      name: 'Odile Brandt',
      email: 'odile@emberwick.example',
    })
    const signUp = () =>
      app.call('/api/v1/sign-up', {
        method: 'POST',
        body: { secret, name: 'Odile Brandt', email: 'odile@emberwick.example', password: 'quite long enough' },
      })
    expect((await signUp()).body.person).toMatchObject({ personId: 'odile-brandt', role: 'member' })
    expect((await signUp()).body.code).toBe('wrong-token')
  })
})

describe('a project from nothing', () => {
  test('needs a name and a prefix alone; its maker is its administrator; a prefix in use is refused', async () => {
    const create = (body: object, ask = ines) => ask('/projects', { method: 'POST', body })
    expect((await create({ name: 'Kiln sharing', prefix: 'ks' })).body).toEqual({ prefix: 'KS', firstItem: null, repository: null })
    expect((await create({ name: 'Again', prefix: 'KS' })).body.fields.prefix).toContain('taken')
    expect((await create({ name: 'Again', prefix: 'SAF' })).body.fields.prefix).toContain('taken')
    expect((await create({ name: 'Again', prefix: 'F' })).status).toBe(422)
    expect((await create({ name: 'Mine', prefix: 'MM' }, rafe)).body.code).toBe('not-allowed')
    expect((await create({ name: 'Files', prefix: 'FL', repositoryUrl: 'file:///etc' })).body.code).toBe('invalid-input')
    expect((await create({ name: 'Helper', prefix: 'HP', repositoryUrl: 'ext::sh -c id' })).body.code).toBe('invalid-input')
    const made = (
      await create({
        name: 'Shelves',
        prefix: 'SHF',
        component: 'Shelf plan',
        firstItem: 'Show free shelves',
        repositoryUrl: 'http://127.0.0.1:9/git/shelves.git',
      })
    ).body
    expect(made).toEqual({ prefix: 'SHF', firstItem: 'SHF-1', repository: 'shelves' })
    expect((await ines('/items/SHF-1')).body).toMatchObject({
      title: 'Show free shelves',
      component: 'Shelf plan',
      ownerId: 'ines',
      proposedRepository: 'shelves',
    })
    expect((await rafe('/projects/SHF/components', { method: 'PUT', body: { name: 'x' } })).body.code).toBe('not-found')
    expect((await ines('/projects/SHF/components', { method: 'PUT', body: { name: 'Racks' } })).status).toBe(200)
  })
})
