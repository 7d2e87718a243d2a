import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Browser, Page } from 'playwright-core'
import { axeFindings, newPage, signIn, startBrowser } from './browser.js'
import { removeData, startDemo, verifyData, type Demo } from './demo-process.js'

const PORT = 4780
let demo: Demo
let browser: Browser
let page: Page
let other: Page
let complaints: string[]
let files: string

beforeAll(async () => {
  demo = await startDemo(PORT)
  browser = await startBrowser()
  ;({ page, complaints } = await newPage(browser))
  ;({ page: other } = await newPage(browser))
  await signIn(page, demo.baseUrl, 'ines')
  await signIn(other, demo.baseUrl, 'rafe')
  files = mkdtempSync(join(tmpdir(), 'dystracer-files-'))
}, 180_000)
afterAll(async () => {
  await browser?.close()
  await demo?.stop()
  if (demo) removeData(demo.dataDir)
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
    expect(await (await fetch(calendar)).text()).toContain('4.2 is due')
    expect(await (await fetch(activity)).text()).toContain('<feed xmlns="http://www.w3.org/2005/Atom">')
  })
})

describe('importing', () => {
  test('a messy file is shown, tried with every problem by row, imported with progress, and not twice', async () => {
    const path = join(files, 'studio list.csv')
    writeFileSync(
      path,
      '\uFEFFId;Summary;Assignee;Due date;Parent\n1;Shelf wobbles;Rafe Varga;24.12.2026;\n2;Lamp flickers;Somebody;soon;1\n2;Lamp again;;;\n',
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
    await outcome.getByText(/2 new items, 0 known already, 1 row left out, 1 part tied/).waitFor()
    await page.getByRole('button', { name: 'Try it' }).click()
    await outcome.getByText(/0 new items, 2 known already/).waitFor()
    await page.goto(`${demo.baseUrl}/items~${encodeURIComponent('"Shelf wobbles"')}`)
    await list().getByText('Shelf wobbles').waitFor()
    expect(await found()).toBe(1)
  })
})

test('nothing went wrong in the page meanwhile, and the journal rebuilds the tables', () => {
  expect(complaints).toEqual([])
  expect(verifyData(demo.dataDir)).toMatchObject({ status: 0 })
})
