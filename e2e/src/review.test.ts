import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { execFile } from 'node:child_process'
import { join } from 'node:path'
import { promisify } from 'node:util'
import type { Browser, Page } from 'playwright-core'
import { axeFindings, newPage } from './browser.js'
import type { Demo } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

/** A whole review by keyboard, with its author watching in another browser: remarks, an objection, answers, agreement, the merge. */
const PULL_REQUEST = 'kiln-controller,14'
let journey: Journey
let demo: Demo
let browser: Browser
let rafe: Page
let ines: Page

beforeAll(async () => {
  journey = await startJourney(['rafe', 'ines'])
  ;({ demo, browser } = journey)
  ;[rafe, ines] = journey.pages as [Page, Page]
}, 180_000)
afterAll(async () => {
  await journey?.end()
}, 60_000)

test('a reviewer walks the changes, remarks on a line and asks for changes, without a mouse', async () => {
  await ines.goto(`${demo.baseUrl}/code/pull-request~${PULL_REQUEST}`)
  await ines.getByRole('heading', { name: /clock within two seconds/ }).waitFor()
  await rafe.goto(`${demo.baseUrl}/code/pull-request~${PULL_REQUEST}/review~${PULL_REQUEST}`)
  const files = rafe.getByRole('region', { name: /^Files of/ })
  await files.getByText('clockDriftMs').first().waitFor()
  await files.locator('[tabindex="0"]').first().focus()
  await rafe.keyboard.press('j')
  await rafe.keyboard.press('j')
  await rafe.keyboard.press('c')
  await rafe.getByLabel(/^Remark on line 1 of test\/clock.test.js/).fill('What if the clock runs **backwards**?')
  await rafe.keyboard.press('Control+Enter')
  await files.getByText('not sent yet', { exact: false }).first().waitFor()
  expect(await axeFindings(rafe)).toEqual([])
  await files.locator('[tabindex="0"]').first().focus()
  await rafe.keyboard.press('w')
  const dialog = rafe.getByRole('dialog', { name: 'Say what you found' })
  await dialog.getByLabel('In words').fill('One case is missing.')
  expect(await axeFindings(rafe)).toEqual([])
  await dialog.getByRole('button', { name: 'Send' }).click()
  await files.getByText('backwards').waitFor()
})

test('its author sees it at once, why it cannot be merged, answers and settles', async () => {
  await ines.getByRole('region', { name: 'Before the merge' }).getByText('Rafe Varga asks for changes').waitFor()
  await ines.getByText('One case is missing.').waitFor()
  expect(await axeFindings(ines)).toEqual([])
  await ines.getByRole('button', { name: 'files' }).click()
  const files = ines.getByRole('region', { name: /^Files of/ })
  await files.getByRole('button', { name: 'Answer…' }).click()
  await files.getByLabel('Your answer').fill('It counts the distance, either way.')
  await files.getByRole('button', { name: 'Answer', exact: true }).click()
  await rafe.getByText('either way').waitFor()
  await files.getByRole('button', { name: 'Settled', exact: true }).click()
  await files.getByText('settled by Ines Okafor').waitFor()
})

test('a file that was seen folds, until it is looked at again', async () => {
  const files = rafe.getByRole('region', { name: /^Files of/ })
  await files.getByLabel('seen: src/clock.js').check()
  await files.getByText('module.exports').waitFor({ state: 'detached' })
  await files.getByLabel('seen: src/clock.js').uncheck()
  await files.getByText('module.exports').waitFor()
})

test('a lead sets the gates, wants it merged, and it merges by itself once the reviewer agrees', async () => {
  await ines.goto(`${demo.baseUrl}/settings~code`)
  const gates = ines.getByRole('region', { name: 'Before a merge' })
  await gates.getByLabel('How many agree in kiln-controller').selectOption('one person')
  await ines.getByText('Saved for kiln-controller').waitFor()
  expect(await axeFindings(ines)).toEqual([])
  await ines.goto(`${demo.baseUrl}/code/pull-request~${PULL_REQUEST}`)
  await ines.getByText('0 of 1 person who wrote none of it agree').waitFor()
  await ines.getByRole('button', { name: 'Merge once all holds…' }).click()
  await ines.getByRole('dialog').getByRole('button', { name: 'Merge once all holds' }).click()
  await rafe.getByText('Ines Okafor wants it merged once all holds').first().waitFor()
  await rafe
    .getByRole('region', { name: /^Files of/ })
    .locator('[tabindex="0"]')
    .first()
    .focus()
  await rafe.keyboard.press('a')
  await rafe.getByRole('dialog').getByRole('button', { name: 'Send' }).click()
  await ines.getByRole('region', { name: 'Pull request 14' }).getByText('merged', { exact: true }).waitFor({ timeout: 30_000 })
  await ines.getByRole('region', { name: 'Who has looked' }).getByText('Rafe Varga agrees').waitFor()
})

test('its code host shows what it waits for, once, with ways back to it and its items', async () => {
  const outside = (await newPage(browser)).page
  await outside.goto(demo.outsideUrl)
  const row = outside.getByRole('row').filter({ hasText: 'Dystracer:' }).first()
  await row.waitFor()
  expect((await row.innerText()).match(/Dystracer:/g)).toHaveLength(1)
  await row.getByRole('link', { name: /^(?:waiting|ready)$/ }).click()
  await outside
    .getByRole('region', { name: /^Pull request \d+$/ })
    .getByText(/^Its code host shows this, too/)
    .waitFor()
  await outside.close()
})

test('the code host that ships with it holds to the interface that adapters are held to', async () => {
  const script = join(import.meta.dirname, '../../scripts/check-adapter.mjs')
  const outside = new URL(demo.baseUrl)
  outside.port = String(Number(outside.port) + 1)
  const { stdout } = await promisify(execFile)(process.execPath, [
    script,
    outside.origin,
    '--repository',
    'glaze-lab',
    '--branch',
    'feature/EMB-153-sort-photos',
  ])
  expect(stdout).toContain('The adapter holds to the interface.')
  expect(stdout).not.toContain('FAILS')
})
