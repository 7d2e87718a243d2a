import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Browser, Page } from 'playwright-core'
import { axeFindings } from './browser.js'
import { verifyData, type Demo } from './demo-process.js'
import { drag, dragByTouch, importProbes, startJourney, type Journey } from './journey.js'

let journey: Journey
let demo: Demo
let browser: Browser
let page: Page
let other: Page
let files: string

beforeAll(async () => {
  journey = await startJourney(['ines', 'rafe'])
  ;({ demo, browser } = journey)
  ;[page, other] = journey.pages as [Page, Page]
  files = mkdtempSync(join(tmpdir(), 'dystracer-files-'))
}, 180_000)
afterAll(async () => {
  await journey?.end()
  if (files) rmSync(files, { recursive: true, force: true })
}, 60_000)

const filter = () => page.getByRole('combobox', { name: 'Filter' })
const list = () => page.getByRole('listbox', { name: 'Items' })
const found = async () => Number(/(\d+) found/.exec(await page.getByRole('heading', { name: /Items/ }).innerText())?.[1] ?? -1)

describe('finding', () => {
  test('fields and values complete by keyboard while they are typed, and the filter stands in the address', async () => {
    await page.goto(`${demo.baseUrl}/items`)
    await list().waitFor()
    const before = await found()
    await filter().fill('open defect mil')
    await page.getByRole('listbox', { name: 'Completions' }).getByText('milestone=').waitFor()
    expect(await axeFindings(page)).toEqual([])
    await page.keyboard.press('Tab')
    await page.getByRole('listbox', { name: 'Completions' }).getByText('4.2').waitFor()
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press('Enter')
    await page.keyboard.press('Enter')
    await page.waitForFunction(() => decodeURIComponent(location.pathname).endsWith('/items~open defect milestone=4.2'))
    await page.waitForFunction((all) => Number(/(\d+) found/.exec(document.body.innerText)?.[1] ?? all) < all, before)
  })

  test('a mistake is shown at its word, and what was found before stays', async () => {
    await filter().fill('open colour=red')
    await page.getByText('“colour” is no field.').waitFor()
    expect(await page.locator('mark').innerText()).toBe('colour')
    expect(await list().getByRole('option').count()).toBeGreaterThan(0)
    await page.keyboard.press('Escape')
    await page.keyboard.press('Escape')
    expect(await filter().inputValue()).toBe('open defect milestone=4.2')
  })

  test('a condition goes by a click on it', async () => {
    await page.getByRole('button', { name: 'Without milestone=4.2' }).click()
    await page.waitForFunction(() => decodeURIComponent(location.pathname).endsWith('/items~open type=defect'))
    expect(await axeFindings(page)).toEqual([])
  })

  test('words of comments are found', async () => {
    await page.goto(`${demo.baseUrl}/items~${encodeURIComponent('"told me the same"')}`)
    await list().waitFor()
    expect(await found()).toBeGreaterThan(5)
  })
})

describe('views', () => {
  test('a way of looking is kept with its columns, stands in the index, and is everybody’s once it is shared', async () => {
    await page.goto(`${demo.baseUrl}/items~${encodeURIComponent('open severity<=2')}`)
    await list().waitFor()
    await page.getByRole('button', { name: 'View…' }).click()
    const dialog = page.getByRole('dialog', { name: 'This way of looking' })
    await dialog.getByRole('checkbox', { name: 'component' }).click()
    await dialog.getByLabel('Keep it as a view, by the name').fill('Bad ones')
    await dialog.getByRole('checkbox', { name: 'for everybody' }).click()
    expect(await axeFindings(page)).toEqual([])
    await dialog.getByRole('button', { name: 'Keep the view' }).click()
    await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Bad ones' }).waitFor()
    await page.goto(`${demo.baseUrl}/items`)
    await page.getByRole('link', { name: 'Bad ones' }).click()
    await list().getByText('Kiln control').first().waitFor()
    await other.goto(`${demo.baseUrl}/items~${encodeURIComponent('open severity<=2')}`)
    await other.getByRole('button', { name: 'Bad ones' }).click()
    await other.getByRole('checkbox', { name: 'in my index' }).waitFor()
  })

  test('a view goes out as CSV, as a calendar and as a feed by private link', async () => {
    await page.goto(`${demo.baseUrl}/items~${encodeURIComponent('open severity<=2')}`)
    await page.getByRole('button', { name: 'Bad ones' }).click()
    const downloading = page.waitForEvent('download')
    await page.getByRole('link', { name: 'as CSV' }).click()
    const path = join(files, 'items.csv')
    await (await downloading).saveAs(path)
    const lines = readFileSync(path, 'utf8').trim().split('\r\n')
    expect(lines[0]).toMatch(/^key,type,title,/)
    expect(lines.length).toBeGreaterThan(5)
    await page.getByRole('button', { name: /Private links/ }).click()
    const calendar = await page.getByLabel('Due days, as a calendar').inputValue()
    const activity = await page.getByLabel('What moved, as a feed').inputValue()
    // Nobody is signed in where these are read.
    expect(await (await fetch(calendar)).text()).toMatch(/SUMMARY:EMB-\d+ /)
    expect(await (await fetch(activity)).text()).toContain('<feed xmlns="http://www.w3.org/2005/Atom">')
  })
})

describe('importing', () => {
  test('a messy file is shown, tried with every problem by row, imported with progress, and not twice', async () => {
    const path = join(files, 'studio list.csv')
    writeFileSync(
      path,
      '\uFEFFId;Summary;Assignee;Due date;Parent\n1;Shelf wobbles;Rafe Varga;24.12.2026;\n' +
        '2;Lamp flickers;Somebody;soon;1\n2;Lamp again;;;\n',
    )
    await page.goto(`${demo.baseUrl}/settings`)
    await page.getByRole('button', { name: 'Items from a CSV or JSON Lines file' }).click()
    await page.getByLabel('File').setInputFiles(path)
    await page.getByRole('region', { name: 'Columns' }).getByText('studio list.csv: 3 rows').waitFor()
    expect(await page.getByRole('combobox', { name: 'Summary becomes' }).inputValue()).toBe('title')
    expect(await axeFindings(page)).toEqual([])
    await page.getByRole('button', { name: 'Try it' }).click()
    const outcome = page.getByRole('region', { name: 'What comes of it' })
    await outcome.getByText('This would happen').waitFor()
    for (const text of ['nobody here is called so', 'is no day', 'stood above already']) await outcome.getByText(text).waitFor()
    expect(await axeFindings(page)).toEqual([])
    await page.getByRole('button', { name: 'Import 2 items' }).click()
    await outcome.getByText('Done:').waitFor()
    await outcome.getByText(/2 new items, 0 known already, 1 row left out, 1 tie to other rows/).waitFor()
    await page.getByRole('button', { name: 'Try it' }).click()
    await outcome.getByText(/0 new items, 2 known already/).waitFor()
    await page.goto(`${demo.baseUrl}/items~${encodeURIComponent('"Shelf wobbles"')}`)
    await list().getByText('Shelf wobbles').waitFor()
    await page.getByRole('heading', { name: /Items.*\b1 found/ }).waitFor()
  })
})

describe('the board', () => {
  const column = (value: string) => page.locator(`[data-column="${value}"]`)
  const card = (key: string) => page.locator(`[data-card="${key}"]`)
  const item = async (key: string) => (await page.request.get(`${demo.baseUrl}/api/v1/items/${key}`)).json()

  test('a card goes to another column by keyboard, and a stage that only evidence decides is claimed', async () => {
    await page.goto(`${demo.baseUrl}/board`)
    const first = column('accepted').locator('[data-card]').first()
    await first.waitFor()
    expect(await axeFindings(page)).toEqual([])
    const key = (await first.getAttribute('data-card')) ?? ''
    await first.focus()
    await page.keyboard.press('ArrowDown')
    expect(await page.evaluate(() => document.activeElement?.getAttribute('data-card'))).not.toBe(key)
    await page.keyboard.press('ArrowUp')
    await page.keyboard.press('Alt+ArrowRight')
    await page.getByText(`${key}: underway is claimed, until evidence shows it`).waitFor()
    expect((await item(key)).ladder.treads.find((tread: { stage: string }) => tread.stage === 'underway').state).toBe('claimed')
  })

  test('a card is dragged by mouse to another owner, by lanes of severity', async () => {
    await page.getByRole('combobox', { name: 'Columns are' }).selectOption('owner')
    await page.getByRole('combobox', { name: 'Lanes are' }).selectOption('severity')
    const lane = page.getByRole('region', { name: 'severity 2' })
    const from = lane.locator('[data-column="mara"] [data-card]').first()
    await from.waitFor()
    expect(await axeFindings(page)).toEqual([])
    const key = (await from.getAttribute('data-card')) ?? ''
    await drag(page, from, lane.locator('[data-column="noor"]'), { x: 60, y: 80 })
    await page.getByText(`${key} stands under “Noor Castell” now`).waitFor()
    expect((await item(key)).ownerId).toBe('noor')
    await lane.locator('[data-column="noor"]').locator(`[data-card="${key}"]`).waitFor()
  })

  test('what a stage needs is said while the card is over it, and nothing is changed', async () => {
    await page.request.put(`${demo.baseUrl}/api/v1/projects/EMB/stage-rules`, {
      data: { stage: 'accepted', needs: ['milestone'] },
      headers: { 'x-dystracer-csrf': (await (await page.request.get(`${demo.baseUrl}/api/v1/me`)).json()).csrfToken },
    })
    await page.goto(`${demo.baseUrl}/board`)
    const from = column('logged').locator('[data-card]').first()
    await from.waitFor()
    const key = (await from.getAttribute('data-card')) ?? ''
    const [start, end] = [await from.boundingBox(), await column('accepted').boundingBox()]
    if (!start || !end) throw new Error('nothing to drag')
    await page.mouse.move(start.x + 30, start.y + 20)
    await page.mouse.down()
    await page.mouse.move(end.x + 50, end.y + 200, { steps: 12 })
    await column('accepted').getByText(`${key} needs a milestone first`).waitFor()
    await page.mouse.up()
    await page.getByText(`${key} needs a milestone first`).first().waitFor()
    expect((await item(key)).stage).toBe('logged')
    await card(key).waitFor()
  })

  test('columns are labels, of which a few are shown in the order that one wants; a card with two labels stands under both', async () => {
    await page.goto(`${demo.baseUrl}/board~open%3Fcards%3Dlabels`)
    const first = column('hardware').locator('[data-card]').first()
    await first.waitFor()
    const key = (await first.getAttribute('data-card')) ?? ''
    const csrf = (await (await page.request.get(`${demo.baseUrl}/api/v1/me`)).json()).csrfToken
    const data = { labels: ['hardware', 'safety'] }
    await page.request.patch(`${demo.baseUrl}/api/v1/items/${key}`, { data, headers: { 'x-dystracer-csrf': csrf } })
    await column('safety').locator(`[data-card="${key}"]`).waitFor()
    await column('hardware').locator(`[data-card="${key}"]`).focus()
    await page.keyboard.press('Alt+ArrowRight')
    await page.getByText(`${key} stands under “member-reported” now`).waitFor()
    expect((await item(key)).labels).toEqual(['member-reported', 'safety'])
    await page.getByRole('button', { name: 'which…' }).click()
    expect(await axeFindings(page)).toEqual([])
    await page.getByRole('checkbox', { name: 'no labels' }).click()
    await page.getByRole('button', { name: 'earlier: safety' }).click()
    await page.keyboard.press('Escape')
    await page.getByText(/stand in columns that are not shown/).waitFor()
    const heads = page.locator('[data-column] > div:first-child')
    expect((await heads.allTextContents()).map((text) => text.replace(/\d.*$/, ''))).toEqual(['hardware', 'safety', 'member-reported'])
  })

  test('a card is moved by touch', async () => {
    const context = await browser.newContext({
      viewport: { width: 1280, height: 800 },
      hasTouch: true,
      storageState: await page.context().storageState(),
    })
    const touched = await context.newPage()
    await touched.goto(`${demo.baseUrl}/board`)
    await touched.getByRole('combobox', { name: 'Columns are' }).selectOption('severity')
    const from = touched.locator('[data-column="4"] [data-card]').first()
    await from.waitFor()
    const key = (await from.getAttribute('data-card')) ?? ''
    await dragByTouch(touched, from, touched.locator('[data-column="5"]'), { x: 50, y: 150 })
    await touched.getByText(`${key} stands under “severity 5” now`).waitFor()
    expect((await item(key)).severity).toBe(5)
    await context.close()
  })

  test('an item is added in place, and a limit warns where a column holds more', async () => {
    await page.goto(`${demo.baseUrl}/board`)
    await page.getByRole('combobox', { name: 'Columns are' }).selectOption('component')
    await page.getByLabel('Title of a new item in Glaze lab').fill('Scale shows nothing')
    await page.keyboard.press('Enter')
    await page.getByText(/EMB-\d+ is logged/).waitFor()
    await page.waitForFunction(() =>
      fetch('/api/v1/items?filter=%22Scale%20shows%20nothing%22').then(
        async (answer) => (await answer.json()).rows[0]?.component === 'Glaze lab',
      ),
    )
    await page.getByRole('button', { name: /in Glaze lab. Set how many at most/ }).click()
    await page.getByLabel('At most in Glaze lab').fill('2')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: /\d+ of 2 in Glaze lab/ }).waitFor()
  })
})

test('a list of thousands stays as it was read while others work, says so, and is read again on demand', async () => {
  await importProbes(page, demo.baseUrl, 2300)
  await page.goto(`${demo.baseUrl}/items~${encodeURIComponent('"reads low"')}`)
  await list().getByRole('option').first().waitFor()
  await list().focus()
  await page.keyboard.press('End')
  // Each page that is read lets the end lie further away; on a busy machine one may take seconds to come.
  let last = ''
  for (let quiet = 0; quiet < 15; quiet = page.url() === last ? quiet + 1 : 0) {
    last = page.url()
    await page.keyboard.press('End')
    await page.waitForTimeout(200)
  }
  const shown = await list().getByRole('option', { selected: true }).textContent()
  const { csrfToken } = await (await other.request.get(`${demo.baseUrl}/api/v1/me`)).json()
  await other.request.post(`${demo.baseUrl}/api/v1/items`, {
    data: { title: 'Probe of Rafe reads low' },
    headers: { 'x-dystracer-csrf': csrfToken },
  })
  const note = page.getByRole('status').filter({ hasText: 'Since this list was read, 1 item came.' })
  await note.waitFor()
  expect(await list().getByRole('option', { selected: true }).textContent()).toBe(shown)
  expect(await axeFindings(page)).toEqual([])
  await note.getByRole('button', { name: 'Read it again' }).click()
  await note.waitFor({ state: 'detached' })
  expect(await list().getByRole('option', { selected: true }).textContent()).toBe(shown)
  // Bringing thousands in and reading every page of them takes a minute on a slow machine.
}, 240_000)

test('nothing went wrong in the page meanwhile, and the journal rebuilds the tables', () => {
  expect(journey.complaints).toEqual([])
  expect(verifyData(demo.dataDir)).toMatchObject({ status: 0 })
})
