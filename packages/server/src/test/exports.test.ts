import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { parse } from 'csv-parse/sync'
import fc from 'fast-check'
import ICAL from 'ical.js'
import { SaxesParser } from 'saxes'
import { asCsv } from '#platform/csv'
import { withPlainTexts } from '#platform/atom-text'
import { startApp, type App, type Ask } from './app-harness.js'

/** Every export and feed, read by parsers that know nothing of ours: what people wrote comes out as text, and nothing of it acts. */
const STARTS = ['=1+1', '+1', '-1', '@sum(1)', '\t=1', '\r=1', '\n=1', '＝1', '']
const hostile = fc
  .tuple(
    fc.constantFrom(...STARTS),
    fc.string({
      unit: fc.constantFrom('a', 'é', '"', ',', ';', '\n', '\r', '\t', '<', '>', '&', ']]>', '=', "'", '\\', '</title>', '😀'),
      maxLength: 12,
    }),
  )
  .map((parts) => parts.join(''))
const isFormula = (cell: string) => /^[=+\-@\t\r\n＝＋－＠]/.test(cell)

describe('CSV', () => {
  test('gives back every text, and none that a spreadsheet would take for a formula', () =>
    fc.assert(
      fc.property(fc.array(fc.record({ a: hostile, b: hostile }), { minLength: 1, maxLength: 4 }), (rows) => {
        const text = asCsv(['a', 'b'], rows)
        const read = parse(text, { columns: true, record_delimiter: '\r\n' }) as { a: string; b: string }[]
        expect(read).toHaveLength(rows.length)
        for (const [at, row] of read.entries())
          for (const name of ['a', 'b'] as const) {
            expect(isFormula(row[name])).toBe(false)
            const given = rows[at]?.[name] ?? ''
            expect(row[name]).toBe(isFormula(given) ? `'${given}` : given)
          }
      }),
      { numRuns: 500 },
    ))
})

/** The titles of an Atom feed with their types, as an XML parser reads them; throws for what is no XML. */
function titlesOf(xml: string): { type: string; text: string }[] {
  const titles: { type: string; text: string }[] = []
  const parser = new SaxesParser()
  let open = false
  parser.on('error', (error) => {
    throw error
  })
  parser.on('opentag', ({ name, attributes }) => {
    open = name === 'title'
    if (open) titles.push({ type: String(attributes.type ?? 'text'), text: '' })
  })
  const add = (text: string) => {
    const last = titles.at(-1)
    if (open && last) last.text += text
  }
  parser.on('text', add)
  parser.on('cdata', add)
  parser.on('closetag', () => {
    open = false
  })
  parser.write(xml).close()
  return titles
}

describe('Atom', () => {
  test('has titles that are text, whatever they hold', () =>
    fc.assert(
      fc.property(hostile, (title) => {
        const cdata = title.replaceAll(']]>', ']]]]><![CDATA[>')
        const xml = withPlainTexts(`<feed><title type="html"><![CDATA[${cdata}]]></title></feed>`)
        // XML reads the ends of lines as one sign.
        expect(titlesOf(xml)).toEqual([{ type: 'text', text: title.replace(/\r\n?/g, '\n') }])
      }),
      { numRuns: 500 },
    ))
})

describe('over HTTP', () => {
  const TITLES = ['=HYPERLINK("http://x")', '<img src=x onerror=alert(1)> & "co" ]]> </title>', "-2+3;\\n,'", '@here']
  let app: App
  let ines: Ask
  beforeAll(async () => {
    app = await startApp()
    ines = await app.asks('ines')
    for (const title of TITLES)
      await ines('/items', { method: 'POST', body: { title, description: `=1+1\n${title}\r\n\t+2`, labels: ['=x'], dueOn: '2031-02-03' } })
  })
  afterAll(() => app.stop())

  test('items in CSV hold no formula, and every title', async () => {
    const rows = parse((await ines('/items.csv')).text, { columns: true }) as Record<string, string>[]
    expect(rows.flatMap((row) => Object.values(row)).filter(isFormula)).toEqual([])
    expect(rows.map((row) => row.title?.replace(/^'(?=[=+\-@])/, '')).sort()).toEqual([...TITLES].sort())
  })

  test('the feed is XML whose titles are the texts of the items, and the calendar’s too', async () => {
    const links = (await ines('/feed-links?filter=open')).body as { calendar: string; activity: string }
    const path = (address: string) => new URL(address).pathname
    const titles = titlesOf((await app.call(path(links.activity))).text).slice(1)
    expect(titles.every(({ type }) => type === 'text')).toBe(true)
    expect(titles.map(({ text }) => text.replace(/^EMB-\d+ /, '')).sort()).toEqual([...TITLES].sort())
    const feed = (await app.call(path(links.activity))).text
    expect(feed).toContain(`rel="self" href="${links.activity}"`)
    expect(feed).toMatch(/<author>\s*<name>Dystracer<\/name>/)
    const calendar = new ICAL.Component(ICAL.parse((await app.call(path(links.calendar))).text))
    const summaries = calendar.getAllSubcomponents('vevent').map((event) => String(event.getFirstPropertyValue('summary')))
    expect(summaries.map((text) => text.replace(/^EMB-\d+ /, '')).sort()).toEqual([...TITLES].sort())
  })

  test('texts enter without control characters, wherever they stand in what is sent; tabs and line breaks stay', async () => {
    const { key } = (
      await ines('/items', { method: 'POST', body: { title: 'Bell\u0007 and\u0000 null', description: 'a\tb\nc\u001b[31m' } })
    ).body
    expect((await ines(`/items/${key}`)).body).toMatchObject({ title: 'Bell and null', description: 'a\tb\nc' })
    await ines(`/items/${key}`, { method: 'PATCH', body: { labels: ['ho\u0008t'] } })
    expect((await ines(`/items/${key}`)).body.labels).toEqual(['hot'])
    await ines(`/items/${key}/reject`, { method: 'POST', body: { disposition: 'will-not-fix', words: 'no' } })
    const deep = await ines('/items', {
      method: 'POST',
      raw: `{"title":${'['.repeat(100_000)}${']'.repeat(100_000)}}`,
      headers: { 'content-type': 'application/json' },
    })
    expect(deep.body.code).toBe('malformed-body')
  })

  test('the calendar holds every due day of its filter, however many items changed; milestones only where asked for', async () => {
    expect(
      (
        await ines('/projects/EMB/milestones', {
          method: 'PUT',
          body: { milestone: { name: '4.2', startsOn: null, dueOn: '2031-03-01', isClosed: false } },
        })
      ).status,
    ).toBe(200)
    app.ctx.journal.write((writer) => {
      for (let at = 0; at < 700; at++)
        writer.append({
          kind: 'item-logged',
          actor: 'person:ines',
          subjects: [`item:EMB-${1000 + at}`],
          body: {
            key: `EMB-${1000 + at}`,
            project: 'EMB',
            number: 1000 + at,
            type: 'task',
            title: `Later ${at}`,
            description: '',
            severity: null,
            component: null,
            milestone: null,
            labels: [],
            foundIn: null,
            cause: 'person',
            reporterId: 'ines',
            fault: null,
          },
        })
    })
    const read = async (filter: string) => {
      const { calendar } = (await ines(`/feed-links?filter=${encodeURIComponent(filter)}`)).body
      return (await app.call(new URL(calendar).pathname)).text
    }
    const open = await read('open')
    expect(open.match(/BEGIN:VEVENT/g)).toHaveLength(TITLES.length)
    expect(open).not.toContain('4.2 is due')
    expect(await read('')).toContain('4.2 is due')
  })
})
