// Takes the pictures of docs/screenshots from a fresh demo whose day is pinned. usage: node e2e/dist/take-screenshots.js [FOLDER]
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import type { Page } from 'playwright-core'
import { newPage, signIn, startBrowser } from './browser.js'
import { removeData, startDemo } from './demo-process.js'

const target = process.argv[2] ?? join(import.meta.dirname, '../../docs/screenshots')

/** Name of the picture and the address it shows. */
const VIEWS: [string, string][] = [
  ['desk', '/desk'],
  ['triage', '/triage/decision~'],
  ['items', '/items~open%3Fshow%3Dseverity%2Ctype%2Cdue%2Cstair%2Cowner/item~EMB-40'],
  ['faults', '/faults/fault~F-3'],
  ['code', '/code/pull-request~kiln-controller,14/review~kiln-controller,14'],
  ['builds', '/builds~broke%20main/build~kiln-controller,21'],
  ['incidents', '/incidents/incident~EMB,1'],
  ['releases', '/releases/release~kiln-controller@4.1.3'],
  ['requirements', '/requirements/requirement~SAF-3'],
  ['trace', '/trace/thread~requirement%3ASAF-3'],
  ['matrix', '/matrix'],
  ['figures', '/figures'],
  ['tests', '/tests/test-plan~'],
]

/** Waits until nothing on screen is still being read, and what moves has come to rest. */
async function takePicture(page: Page, file: string): Promise<void> {
  await page.waitForTimeout(900)
  await page.waitForFunction(() => !document.body.innerText.includes('Reading …'))
  await page.waitForTimeout(300)
  await page.screenshot({ path: join(target, file) })
}

mkdirSync(target, { recursive: true })
const demo = await startDemo()
const browser = await startBrowser()
try {
  const { page } = await newPage(browser)
  await signIn(page, demo.baseUrl, 'ines')
  for (const [name, address] of VIEWS) {
    await page.goto(`${demo.baseUrl}${address.replace(/[~,]$/, '').replace(/\/(?:decision|test-plan|build~kiln-controller)$/, '')}`)
    await page.getByRole('heading').or(page.getByRole('listbox')).or(page.getByRole('grid')).first().waitFor()
    // A list whose first row decides what stands beside it is opened by the keyboard, as a person would.
    if (/[~,]$/.test(address)) {
      await page.getByRole('listbox').first().focus()
      await page.keyboard.press('ArrowDown')
    }
    await takePicture(page, `${name}.png`)
  }
  await page.goto(`${demo.baseUrl}/settings~errors/rule~EMB,live-faults`)
  await page.getByLabel('At least so many people').fill('12')
  await page.getByRole('button', { name: 'Try it on 30 days' }).click()
  await page.getByRole('region', { name: 'No longer' }).waitFor()
  await takePicture(page, 'rule.png')
  await page.goto(`${demo.baseUrl}/items`)
  await page.getByRole('listbox', { name: 'Items' }).waitFor()
  await page.keyboard.press('Alt+n')
  await page.getByLabel('Title').fill('Thermocouple wire burnt through and kiln went on heating')
  await page.getByRole('region', { name: 'Look-alikes' }).waitFor()
  await takePicture(page, 'log.png')
  await page.getByRole('button', { name: 'Keep the draft for later' }).click()
  for (const [name, address] of [
    ['board', '/board'],
    ['calendar', '/calendar~open%3Fmonth%3D2026-12'],
    ['settings', '/settings'],
    ['inbox', '/inbox'],
  ]) {
    await page.goto(`${demo.baseUrl}${address}`)
    if (name === 'inbox') await page.getByRole('button', { name: 'all', exact: true }).click()
    await takePicture(page, `${name}.png`)
  }
} finally {
  await browser.close()
  await demo.stop()
  removeData(demo.dataDir)
}
