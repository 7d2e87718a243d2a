import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Page } from 'playwright-core'
import { axeFindings, signIn } from './browser.js'
import type { Demo } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

let journey: Journey
let demo: Demo
let page: Page

beforeAll(async () => {
  journey = await startJourney([null])
  ;({ demo } = journey)
  ;[page] = journey.pages as [Page]
}, 180_000)
afterAll(async () => {
  await journey?.end()
}, 60_000)

const api = async (path: string) => (await page.request.get(`${demo.baseUrl}/api/v1${path}`)).json()

describe('the demo is worth reading', () => {
  test('it has the size of a year’s work', async () => {
    expect((await api('/items?filter=&limit=1')).total).toBeGreaterThanOrEqual(150)
    expect((await api('/requirements')).rows.length).toBeGreaterThanOrEqual(40)
    expect((await api('/faults?limit=200')).rows.length).toBeGreaterThanOrEqual(30)
    expect((await api('/builds?limit=500')).rows.length).toBeGreaterThanOrEqual(60)
    const { rows } = await api('/repositories')
    expect(rows.reduce((sum: number, row: { commits: number }) => sum + row.commits, 0)).toBeGreaterThanOrEqual(120)
    const board = await api('/releases')
    expect(board.services.flatMap((service: { releases: object[] }) => service.releases).length).toBeGreaterThanOrEqual(8)
    const authors = new Set((await api('/commits?limit=500')).rows.map((row: { author: string }) => row.author))
    expect(authors.size).toBe(6)
  })
})

const PLACES: [string, string][] = [
  ['Desk', 'desk'],
  ['Triage', 'triage'],
  ['Items', 'items'],
  ['Faults', 'faults'],
  ['Pull requests', 'code'],
  ['Builds', 'builds'],
  ['Requirements', 'requirements~table'],
  ['Trace', 'trace'],
]

describe('every place', () => {
  test.each(PLACES)('%s: a guest walks its rows by keyboard, each opens to the right, and axe finds nothing', async (label, path) => {
    await page.goto(`${demo.baseUrl}/${path}`)
    const list = page.getByRole('listbox', { name: label })
    await list.waitFor()
    await list.focus()
    await page.keyboard.press('ArrowDown')
    await page.locator('[data-pane="1"]').waitFor()
    const first = page.url()
    await page.keyboard.press('ArrowDown')
    await page.waitForFunction((before) => location.href !== before, first)
    await page.keyboard.press('ArrowRight')
    expect(await page.evaluate(() => document.activeElement?.closest('[data-pane]')?.getAttribute('data-pane'))).toBe('1')
    await page.locator('[data-pane="1"]').getByRole('status', { name: 'Reading …' }).waitFor({ state: 'detached' })
    expect(await axeFindings(page)).toEqual([])
    await page.keyboard.press('Backspace')
    await page.locator('[data-pane="1"]').waitFor({ state: 'detached' })
  })

  test('Releases: a guest reads, axe finds nothing', async () => {
    await page.goto(`${demo.baseUrl}/releases/release~kiln-controller@4.1.3`)
    await page.getByRole('list', { name: 'Items in it' }).getByRole('link', { name: 'EMB-99' }).waitFor()
    await page.getByRole('region', { name: 'Its record in production' }).getByText('Look at it.').waitFor()
    await page.getByRole('region', { name: 'Notes' }).getByText('Stop by hand within one second').waitFor()
    expect(await axeFindings(page)).toEqual([])
  })

  test('Figures: a guest reads how well is delivered, over a year, axe finds nothing', async () => {
    await page.goto(`${demo.baseUrl}/figures`)
    await page.getByLabel('In which time').selectOption('365')
    await page
      .getByRole('region', { name: 'From commit to production' })
      .getByText(/counted/)
      .waitFor()
    await page.getByRole('region', { name: 'By week' }).getByText('as a table').click()
    expect(await axeFindings(page)).toEqual([])
  })

  test('Matrix: a guest walks its cells by keyboard, folds a chapter, opens a requirement, axe finds nothing', async () => {
    await page.goto(`${demo.baseUrl}/matrix`)
    const grid = page.getByRole('grid', { name: 'Matrix' })
    await grid.focus()
    await page.keyboard.press('ArrowDown')
    await page.getByText('verified', { exact: true }).waitFor()
    await page.keyboard.press('ArrowUp')
    await page.keyboard.press('Space')
    await grid.getByRole('gridcell', { name: /^SAF-1, EMB-1: / }).waitFor()
    expect(await grid.getByRole('rowheader', { name: /SAF-2/ }).count()).toBe(0)
    expect(await axeFindings(page)).toEqual([])
    await page.keyboard.press('Enter')
    await page.getByRole('region', { name: /SAF-1/ }).or(page.locator('[data-pane="1"]')).first().waitFor()
    await page.getByLabel('Requirements against').selectOption('test')
    await grid.getByRole('columnheader', { name: /SAF-3/ }).first().waitFor()
  })

  test('in the dark theme the text keeps its contrast', async () => {
    await page.emulateMedia({ colorScheme: 'dark' })
    for (const address of ['/items/item~EMB-7', '/triage', '/trace/thread~requirement%3ASAF-3', '/faults/fault~F-3']) {
      await page.goto(`${demo.baseUrl}${address}`)
      await page.locator('[data-pane="0"]').waitFor()
      await page.getByText('Reading …').first().waitFor({ state: 'detached' })
      expect(await axeFindings(page)).toEqual([])
    }
    await page.emulateMedia({ colorScheme: 'light' })
  })

  test('on a narrow window one pane shows at a time, and the trail line leads back', async () => {
    await page.setViewportSize({ width: 800, height: 800 })
    await page.goto(`${demo.baseUrl}/items/item~EMB-7`)
    await page.locator('[data-pane="1"]').waitFor()
    expect(await page.locator('[data-pane]').count()).toBe(1)
    await page.getByRole('navigation', { name: 'Trail' }).getByRole('button', { name: 'Items' }).click()
    await page.locator('[data-pane="0"]').waitFor()
    await page.setViewportSize({ width: 1280, height: 800 })
  })

  test('“/” finds by key, by hash and by words, and does things', async () => {
    await page.goto(`${demo.baseUrl}/desk`)
    await page.getByRole('listbox', { name: 'Desk' }).waitFor()
    await page.keyboard.press('/')
    await page.getByRole('combobox').fill('EMB-7')
    await page
      .getByRole('option', { name: /EMB-7 / })
      .first()
      .waitFor()
    const { rows } = await api('/commits?limit=1')
    await page.getByRole('combobox').fill(rows[0].sha.slice(0, 8))
    await page.getByRole('option', { name: new RegExp(rows[0].sha.slice(0, 7)) }).waitFor()
    await page.getByRole('combobox').fill('log a def')
    await page.getByRole('option', { name: 'Log a defect' }).click()
    await page.getByRole('dialog', { name: 'Log an item' }).waitFor()
    expect(await axeFindings(page)).toEqual([])
    await page.keyboard.press('Escape')
  })
})

describe('people and outside', () => {
  test('a missed webhook is made up for by polling', async () => {
    await signIn(page, demo.baseUrl, 'ines')
    const act = (deed: string, fields: Record<string, string>) =>
      fetch(`${demo.outsideUrl}/do/${deed}`, { method: 'POST', body: new URLSearchParams(fields), redirect: 'manual' })
    await page.goto(`${demo.baseUrl}/items/item~EMB-160`)
    await page.locator('[data-stage="underway"][data-state="waiting"]').waitFor()
    await act('mute', { on: 'yes' })
    await act('push', { branch: 'fix/EMB-160-quiet', change: 'guard', message: 'Mend it quietly\n\nRefs: EMB-160' })
    await page.locator('[data-stage="underway"][data-state="proved"]').waitFor({ timeout: 30_000 })
    await act('mute', { on: '' })
  })

  test('the page “Outside” and the mailbox answer, and a new owner gets a mail', async () => {
    await page.goto(`${demo.baseUrl}/items/item~EMB-160`)
    await page.getByRole('combobox', { name: 'Owner' }).selectOption('rafe')
    await page.goto(`${demo.outsideUrl}/`)
    await page.getByRole('heading', { name: 'Outside' }).waitFor()
    const mail = page.getByRole('article').filter({ hasText: 'EMB-160' })
    // Mail is gathered for some seconds before it goes out.
    await page.goto(`${demo.outsideUrl}/mail`)
    await expect(mail.getByText('gave it to you').first().waitFor()).resolves.toBeUndefined()
  })

  test('nothing went wrong in the page meanwhile', () => {
    expect(journey.complaints).toEqual([])
  })
})
