import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { strToU8, unzipSync, zipSync } from 'fflate'
import { elementsOf, localName, readXml, type XmlElement } from '@dystracer/core/text/xml-tree'
import { verifyTables } from '#verify-tables'
import { startApp, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
let wren: Ask
beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
  wren = await app.asks('wren')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const send = (body: string | Uint8Array, query: string, ask = ines) =>
  ask(`/projects/EMB/requirement-imports?${query}`, { method: 'POST', raw: body, headers: { 'content-type': 'application/octet-stream' } })
const reqif = (objects: string, further: { places?: string; relations?: string; level?: string } = {}) =>
  `<?xml version="1.0" encoding="UTF-8"?><REQ-IF ` +
  `xmlns="http://www.omg.org/spec/ReqIF/20110401/reqif.xsd"><THE-HEADER><REQ-IF-HEADER ` +
  `IDENTIFIER="works"><TITLE>Works</TITLE></REQ-IF-HEADER></THE-HEADER><CORE-CONTENT><REQ-IF-CONTENT>
<DATATYPES><DATATYPE-DEFINITION-XHTML IDENTIFIER="dx"/><DATATYPE-DEFINITION-ENUMERATION ` +
  `IDENTIFIER="de"><SPECIFIED-VALUES><ENUM-VALUE IDENTIFIER="e1" LONG-NAME="ASIL A"/><ENUM-VALUE IDENTIFIER="e2" ` +
  `LONG-NAME="ASIL B"/>${
    further.level ? `<ENUM-VALUE IDENTIFIER="e3" LONG-NAME="${further.level}"/>` : ''
  }</SPECIFIED-VALUES></DATATYPE-DEFINITION-ENUMERATION></DATATYPES>
<SPEC-TYPES><SPEC-OBJECT-TYPE IDENTIFIER="t"><SPEC-ATTRIBUTES><ATTRIBUTE-DEFINITION-XHTML IDENTIFIER="ax" ` +
  `LONG-NAME="ReqIF.Text"><TYPE><DATATYPE-DEFINITION-XHTML-REF>dx</DATATYPE-DEFINITION-XHTML-REF></TYPE>` +
  `</ATTRIBUTE-DEFINITION-XHTML><ATTRIBUTE-DEFINITION-ENUMERATION IDENTIFIER="ae" LONG-NAME="Level"><TYPE>` +
  `<DATATYPE-DEFINITION-ENUMERATION-REF>de</DATATYPE-DEFINITION-ENUMERATION-REF></TYPE>` +
  `</ATTRIBUTE-DEFINITION-ENUMERATION></SPEC-ATTRIBUTES></SPEC-OBJECT-TYPE><SPEC-RELATION-TYPE IDENTIFIER="tr" ` +
  `LONG-NAME="derives"/></SPEC-TYPES>
<SPEC-OBJECTS>${objects}</SPEC-OBJECTS><SPEC-RELATIONS>${further.relations ?? ''}</SPEC-RELATIONS>
<SPECIFICATIONS><SPECIFICATION IDENTIFIER="s" LONG-NAME="Works"><CHILDREN>${further.places ?? ''}</CHILDREN>` +
  `</SPECIFICATION></SPECIFICATIONS></REQ-IF-CONTENT></CORE-CONTENT></REQ-IF>`
const object = (id: string, text: string, level = 'e1') =>
  `<SPEC-OBJECT IDENTIFIER="${id}" ` +
  `LAST-CHANGE="2026-03-02T10:00:00Z"><TYPE><SPEC-OBJECT-TYPE-REF>t</SPEC-OBJECT-TYPE-REF></TYPE><VALUES>` +
  `<ATTRIBUTE-VALUE-XHTML><DEFINITION><ATTRIBUTE-DEFINITION-XHTML-REF>ax</ATTRIBUTE-DEFINITION-XHTML-REF></DEFINITION>` +
  `<THE-VALUE><div xmlns="http://www.w3.org/1999/xhtml">${text}</div></THE-VALUE>` +
  `</ATTRIBUTE-VALUE-XHTML>${
    level &&
    `<ATTRIBUTE-VALUE-ENUMERATION><DEFINITION>` +
      `<ATTRIBUTE-DEFINITION-ENUMERATION-REF>ae</ATTRIBUTE-DEFINITION-ENUMERATION-REF></DEFINITION><VALUES>` +
      `<ENUM-VALUE-REF>${level}</ENUM-VALUE-REF></VALUES></ATTRIBUTE-VALUE-ENUMERATION>`
  }</VALUES></SPEC-OBJECT>`
const place = (id: string, inside = '') =>
  `<SPEC-HIERARCHY ` +
  `IDENTIFIER="h-${id}"><OBJECT><SPEC-OBJECT-REF>${id}</SPEC-OBJECT-REF>` +
  `</OBJECT>${inside && `<CHILDREN>${inside}</CHILDREN>`}</SPEC-HIERARCHY>`
const relation = (id: string, from: string, to: string) =>
  `<SPEC-RELATION IDENTIFIER="${id}"><TYPE><SPEC-RELATION-TYPE-REF>tr</SPEC-RELATION-TYPE-REF></TYPE><SOURCE>` +
  `<SPEC-OBJECT-REF>${from}</SPEC-OBJECT-REF></SOURCE><TARGET><SPEC-OBJECT-REF>${to}</SPEC-OBJECT-REF></TARGET></SPEC-RELATION>`
const first = reqif(
  object('o1', 'The <b>heater</b> shall stop.') + object('o2', 'It shall stop within 2 s.', 'e2') + object('o3', 'It shall say so.', ''),
  {
    places: place('o1', place('o2') + place('o3')),
    relations: relation('r1', 'o2', 'o1'),
  },
)

describe('an exchange file', () => {
  test('is tried first, with new attributes and relations, and then taken in one go', async () => {
    const tried = await send(first, 'format=reqif&prefix=WRK&trial=true')
    expect(tried.status).toBe(200)
    expect(tried.body).toMatchObject({
      new: [{ key: 'WRK-1' }, { key: 'WRK-2', parent: 'WRK-1', attributes: { Level: 'ASIL B' } }, { key: 'WRK-3', parent: 'WRK-1' }],
      changed: [],
      problems: [],
      attributes: [{ name: 'Level', kind: 'choice', choices: ['ASIL A', 'ASIL B'], isMany: false }],
      relations: [{ name: 'derives', from: 'WRK-2', to: 'WRK-1' }],
    })
    expect((await ines('/requirements/WRK-1')).status).toBe(404)
    await send(first, 'format=reqif&prefix=WRK')
    expect((await ines('/requirements/WRK-2')).body).toMatchObject({
      text: 'It shall stop within 2 s.',
      attributes: { Level: 'ASIL B' },
      relations: [{ name: 'derives', isOut: true, other: { key: 'WRK-1' } }],
    })
    expect((await ines('/requirements/WRK-1')).body.text).toBe('The **heater** shall stop.')
  })

  test('sent once more does nothing; a later one says what is new, changed, moved, gone', async () => {
    const again = (await send(first, 'format=reqif')).body
    expect(again).toMatchObject({ new: [], changed: [], moved: [], gone: [], same: 3, relations: [], attributes: [] })
    const later = reqif(
      object('o4', 'It shall ring.') + object('o1', 'The <b>heater</b> shall stop.', '') + object('o3', 'It shall say it.', 'e3'),
      {
        places: place('o4') + place('o3') + place('o1'),
        level: 'ASIL D',
      },
    )
    const { body } = await send(later, 'format=reqif')
    expect(body).toMatchObject({
      new: [{ key: 'WRK-4', parent: null }],
      changed: [
        { key: 'WRK-3', what: ['title', 'text', 'Level'] },
        { key: 'WRK-1', what: ['Level'] },
      ],
      moved: [{ key: 'WRK-3', from: 'WRK-1', to: null }],
      gone: [{ key: 'WRK-2' }],
      attributes: [{ name: 'Level', choices: ['ASIL A', 'ASIL B', 'ASIL D'] }],
    })
    expect((await ines('/requirements/WRK-1')).body).toMatchObject({ revision: 1, attributes: {} })
    expect((await ines('/requirements/WRK-3')).body).toMatchObject({ revision: 2, parent: null, attributes: { Level: 'ASIL D' } })
    const order = (await ines('/requirements')).body.rows
      .map(({ key }: { key: string }) => key)
      .filter((key: string) => key.startsWith('WRK'))
    expect(order).toEqual(['WRK-4', 'WRK-3', 'WRK-1', 'WRK-2'])
  })

  test('goes out again with identifiers and types as they were', async () => {
    const answer = await ines('/requirements.reqif?project=EMB')
    expect(answer.headers.get('content-type')).toContain('application/xml')
    const ids = (name: string) => all(readXml(answer.text), name).map((one) => one.attributes.IDENTIFIER)
    expect(ids('SPEC-OBJECT')).toEqual(expect.arrayContaining(['o1', 'o2', 'o3', 'o4']))
    expect(ids('SPECIFICATION')).toEqual(['s'])
    expect(ids('SPEC-OBJECT-TYPE')).toEqual(expect.arrayContaining(['t']))
    expect((await send(answer.text, 'format=reqif&trial=true')).body).toMatchObject({
      new: [],
      changed: [],
      moved: [],
      problems: [],
      relations: [],
    })
    expect((await wren('/requirements.reqif?project=NONE')).text).not.toContain('SPEC-OBJECT IDENTIFIER')
  })

  test('stands in the history by its name, not with all that it held', async () => {
    const { history } = (await ines('/threads/requirement:WRK-3')).body
    const described = history.find(({ kind }: { kind: string }) => kind === 'requirement-described')
    expect(described.facts.origin).toEqual({ document: 'works', object: 'o3' })
  })

  test.each([
    ['format=reqif', '<!DOCTYPE a [<!ENTITY x "y">]><REQ-IF/>', 'document type'],
    ['format=reqif', '<REQ-IF><CORE', 'not well-formed'],
    ['format=reqif', '<svg/>', 'no file of requirements'],
    ['format=reqifz', 'no archive', 'no archive'],
    ['format=csv', new Uint8Array([0xff, 0x41, 0xfe]), 'cannot be read'],
  ])('that is hostile or broken is refused with the reason: %s %#', async (query, body, words) => {
    const answer = await send(body, query)
    expect(answer.status).toBe(400)
    expect(answer.body.detail).toContain(words)
    expect(answer.body.detail).toContain('Nothing was taken')
  })

  test('in an archive brings its pictures, which are shown and leave with it', async () => {
    const png = new Uint8Array([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 1])
    const archive = zipSync({
      'works.reqif': strToU8(
        reqif(object('o9', 'As in <object data="files/curve.png" type="image/png">the curve</object>.'), {
          places: place('o9'),
        }).replaceAll('"works"', '"pictures"'),
      ),
      'files/curve.png': png,
      'run.exe': strToU8('MZ'),
    })
    const { body } = await send(archive, 'format=reqifz')
    expect(body).toMatchObject({ pictures: ['files/curve.png'], problems: [{ words: expect.stringContaining('run.exe is no picture') }] })
    expect((await ines(`/requirements/${body.new[0].key}`)).body.text).toBe('As in ![the curve](files/curve.png).')
    const picture = await ines('/projects/EMB/requirement-pictures/files/curve.png')
    expect(picture.headers.get('content-type')).toBe('image/png')
    expect((await ines('/projects/EMB/requirement-pictures/files/none.png')).status).toBe(404)
    const authorization = `Bearer ${app.token('read')}`
    const out = await fetch(`${app.url}/api/v1/requirements.reqifz?project=EMB`, { headers: { authorization } })
    expect(Object.keys(unzipSync(new Uint8Array(await out.arrayBuffer())))).toEqual(['EMB.reqif', 'files/curve.png'])
  })
})

test('a table’s columns are named where their names do not say what they are', async () => {
  const table = 'Nr,Wording,Criticality\r\nTAB-7,The lid shall lock.,2\r\n'
  expect((await send(table, 'format=csv&trial=true')).body).toMatchObject({
    headings: ['Nr', 'Wording', 'Criticality'],
    problems: [{ words: 'No column is called title or text; name one so' }],
  })
  const { body } = await send(table, 'format=csv&textColumn=Wording&keyColumn=Nr')
  expect(body).toMatchObject({ new: [{ key: 'TAB-7', title: 'The lid shall lock.' }], attributes: [{ name: 'Criticality', kind: 'line' }] })
  expect((await ines('/requirements/TAB-7')).body.attributes).toEqual({ Criticality: '2' })
  expect((await send(table, 'format=csv&textColumn=Words')).body.detail).toContain('There is no column “Words”')
})

test('lines of JSON go out and come in without a change, relations too', async () => {
  const { text } = await ines('/requirements.jsonl?project=EMB')
  const lines = text
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line))
  expect(lines.find(({ key }) => key === 'WRK-2')).toMatchObject({ relations: [{ name: 'derives', to: 'WRK-1' }] })
  expect((await send(text, 'format=jsonl&trial=true')).body).toMatchObject({ new: [], changed: [], moved: [], problems: [], relations: [] })
  expect((await send('{"title":"A"\n[1]', 'format=jsonl&trial=true')).body.problems).toHaveLength(2)
  const relations = [
    { name: 'derives', to: 'NIX-1' },
    { name: 'derives', to: 'wrk-1' },
  ]
  const loose = `${JSON.stringify({ id: 'x1', title: 'A', relations })}\n`
  expect((await send(loose, 'format=jsonl&trial=true')).body).toMatchObject({
    problems: [{ line: 1, column: 'relations', words: expect.stringContaining('NIX-1') }],
    relations: [{ name: 'derives', to: 'WRK-1' }],
  })
})

test('a document goes out as Markdown and as a page; nothing in it acts', async () => {
  await ines('/requirements/TAB-7', { method: 'PUT', body: { title: '<script>x</script>', text: 'A <script>alert(1)</script> **lid**' } })
  expect((await ines('/requirements.md?project=EMB')).text).toContain('**TAB-7**')
  const page = (await ines('/requirements.html?project=EMB')).text
  expect(page).toContain('<strong>lid</strong>')
  expect(page).not.toContain('<script>')
})

describe('what a requirement says beside its text', () => {
  const patch = (attributes: object, ask = ines) => ask('/requirements/WRK-4/attributes', { method: 'PATCH', body: { attributes } })

  test('is set, changed and taken away; what does not fit is refused by name', async () => {
    expect((await patch({ Rationale: 'It **burns**', Priority: 'must' })).body.attributes).toMatchObject({
      Rationale: 'It **burns**',
      Priority: 'must',
    })
    expect((await patch({ Priority: '' })).body.attributes).not.toHaveProperty('Priority')
    expect((await patch({ Priority: 'soon', Level: ['a'], Colour: 'red' })).body.fields).toEqual({
      Priority: expect.stringContaining('must, should, may'),
      Level: 'Level holds one value',
      Colour: 'This project has no attribute Colour',
    })
    expect((await patch({ Rationale: 'x' }, wren)).status).toBe(403)
  })

  test('is the project’s to say', async () => {
    const { rows } = (await ines('/projects/EMB/requirement-attributes')).body
    expect(rows.map(({ name }: { name: string }) => name)).toEqual(expect.arrayContaining(['Rationale', 'Level', 'Criticality']))
    const own = rows.filter(({ isOwn }: { isOwn: boolean }) => isOwn).map(({ isOwn: _, ...one }: { isOwn: boolean }) => one)
    const define = (attributes: object[]) => ines('/projects/EMB/requirement-attributes', { method: 'PUT', body: { attributes } })
    expect((await define([...own, { name: 'Since', kind: 'date' }])).status).toBe(200)
    expect((await patch({ Since: 'spring' })).body.fields.Since).toContain('a day such as')
    expect((await patch({ Since: '2026-03-01' })).body.attributes.Since).toBe('2026-03-01')
    expect((await define([{ name: 'Mood', kind: 'choice' }])).body.fields.attributes).toContain('words to choose from')
    expect(
      (
        await define([
          { name: 'A', kind: 'line' },
          { name: 'a', kind: 'line' },
        ])
      ).body.fields.attributes,
    ).toContain('twice')
  })

  test('joins it to others, never in a circle', async () => {
    const relate = (key: string, to: string, name = 'refines') =>
      ines(`/requirements/${key}/relations`, { method: 'POST', body: { name, to, words: 'By reasoning' } })
    const made = await relate('WRK-4', 'WRK-3')
    expect(made.body.relations).toMatchObject([{ name: 'refines', isOut: true, other: { key: 'WRK-3' }, words: 'By reasoning' }])
    expect((await ines('/requirements/WRK-3')).body.relations).toMatchObject([{ name: 'refines', isOut: false, other: { key: 'WRK-4' } }])
    expect((await relate('WRK-4', 'WRK-3')).status).toBe(409)
    expect((await relate('WRK-3', 'WRK-4')).body.fields.to).toContain('circle')
    expect((await relate('WRK-4', 'WRK-4')).body.fields.to).toContain('itself')
    expect((await relate('WRK-4', 'NON-1')).body.fields).toHaveProperty('to')
    const path = `/requirements/WRK-3/relations/${made.body.relations[0].relationId}`
    expect((await ines(path, { method: 'DELETE' })).body.relations).toEqual([])
    expect((await ines(path, { method: 'DELETE' })).status).toBe(404)
  })

  test('may be a picture, whatever its name says', async () => {
    const add = (path: string, body: Uint8Array) =>
      ines(`/projects/EMB/requirement-pictures?path=${encodeURIComponent(path)}`, { method: 'POST', raw: body })
    expect((await add('../../etc/a.svg', strToU8('<svg xmlns="http://www.w3.org/2000/svg"/>'))).body).toMatchObject({
      path: 'etc/a.svg',
      mediaType: 'image/svg+xml',
    })
    expect((await ines('/projects/EMB/requirement-pictures/etc/a.svg')).headers.get('content-security-policy')).toContain('sandbox')
    expect((await add('a.png', strToU8('<html>'))).body.fields.path).toContain('no picture')
  })
})

test('a finding of how a requirement is written may stand with a reason, until it counts again', async () => {
  const put = (body: object, ask = ines) =>
    ask('/projects/EMB/accepted-writing', { method: 'PUT', body: { key: 'WRK-1', code: 'passive', words: 'shall be kept', ...body } })
  expect((await put({ reason: 'The law says so' })).body.accepted).toMatchObject([
    { key: 'WRK-1', code: 'passive', reason: 'The law says so', by: 'person:ines' },
  ])
  expect((await put({ reason: '' })).body.fields.reason).toBe('Say why')
  expect((await put({ key: 'NIX-1', reason: 'x' })).body.fields).toHaveProperty('key')
  expect((await put({ reason: 'x' }, wren)).status).toBe(403)
  expect((await put({ reason: null })).body.accepted).toEqual([])
})

function all(root: XmlElement, name: string): XmlElement[] {
  return [...(localName(root) === name ? [root] : []), ...elementsOf(root).flatMap((child) => all(child, name))]
}
