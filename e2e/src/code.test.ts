import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Page } from 'playwright-core'
import { axeFindings } from './browser.js'
import type { Demo } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

/** Code as a developer reads it: found by filter, explained, asked of each line, proposed anew, taken back. */
let journey: Journey
let demo: Demo
let ines: Page
let rafe: Page

beforeAll(async () => {
  journey = await startJourney(['ines', 'rafe'])
  ;({ demo } = journey)
  ;[ines, rafe] = journey.pages as [Page, Page]
}, 180_000)
afterAll(async () => {
  await journey?.end()
}, 60_000)

test('commits that no item asked for stand in a list of their own, and one key lets one be', async () => {
  await ines.goto(`${demo.baseUrl}/code~unexplained`)
  const list = ines.getByRole('listbox', { name: 'Commits without an item' })
  const releases = list.getByRole('option', { name: /Release/ })
  await releases.first().waitFor()
  const before = await releases.count()
  await list.focus()
  await ines.keyboard.press('ArrowDown')
  await ines.getByRole('region', { name: /^Commit / }).waitFor()
  expect(await axeFindings(ines)).toEqual([])
  await list.focus()
  await ines.keyboard.press('n')
  await ines
    .getByText(/needs no item/)
    .first()
    .waitFor()
  for (let turn = 0; turn < 50 && (await releases.count()) === before; turn++) await ines.waitForTimeout(100)
  expect(await releases.count()).toBe(before - 1)
})

test('a wrong tie is untied where it shows, and tied again by words', async () => {
  await ines.goto(`${demo.baseUrl}/code/pull-request~kiln-controller,14`)
  const why = ines.getByRole('region', { name: 'What it is for' })
  await why.getByRole('button', { name: 'Untie EMB-150' }).click()
  await why.getByText('nothing says why').waitFor()
  await why.getByRole('button', { name: 'Tie to an item…' }).click()
  const dialog = ines.getByRole('dialog', { name: 'What is it for?' })
  await dialog.getByLabel(/Key of the item/).fill('EMB-150')
  await dialog.getByRole('button', { name: /EMB-150/ }).waitFor()
  expect(await axeFindings(ines)).toEqual([])
  await ines.keyboard.press('Enter')
  await why.getByText('tied by Ines Okafor').waitFor()
})

test('code is found by a filter and by its text; a line tells who asked for it', async () => {
  await ines.goto(`${demo.baseUrl}/code~commits`)
  const filter = ines.getByRole('combobox', { name: 'Filter of commits' })
  await filter.fill('path=src/probe author=tam not merge')
  await filter.press('Enter')
  await ines.getByRole('listbox', { name: 'Commits' }).getByRole('option').first().waitFor()
  expect(await axeFindings(ines)).toEqual([])
  await ines.getByRole('tab', { name: 'find' }).click()
  await ines.getByLabel('Find in code').fill('limiterOpens(')
  const found = ines.getByRole('listbox', { name: 'Lines found' })
  await found.getByRole('option').first().waitFor()
  await found.focus()
  await ines.keyboard.press('ArrowDown')
  const file = ines.getByRole('region', { name: /^File / })
  await file
    .getByRole('region', { name: /^Who asked for line/ })
    .getByText(/^for /)
    .waitFor()
  await file.getByText('asked for by').waitFor()
  expect(await axeFindings(ines)).toEqual([])
  await file.getByRole('listbox', { name: 'Lines' }).focus()
  await ines.keyboard.press('ArrowDown')
  await ines.waitForURL(/(?:%3A|:)\d+$/)
})

test('what a remark proposes is taken into the change by a click', async () => {
  const id = 'kiln-controller,14'
  await rafe.goto(`${demo.baseUrl}/code/pull-request~${id}/review~${id}`)
  const files = rafe.getByRole('region', { name: /^Files of/ })
  await files.getByText('clockDriftMs').first().waitFor()
  await files.getByText('Math.abs').click()
  await files.locator('.diff-gutter-insert').nth(7).click()
  await rafe.getByRole('button', { name: 'Propose what it should be' }).click()
  await rafe.getByLabel('What should stand there instead').fill('// The studio’s clock is the measure.')
  expect(await axeFindings(rafe)).toEqual([])
  await rafe.getByRole('button', { name: 'Keep for the review' }).click()
  await files.getByRole('button', { name: 'Say what you found…' }).click()
  const dialog = rafe.getByRole('dialog', { name: 'Say what you found' })
  await dialog.getByLabel('In words').fill('One line.')
  await dialog.getByRole('button', { name: 'Send' }).click()
  await files.getByRole('button', { name: 'Take it into the change' }).click()
  await rafe.getByText(/1 proposal taken/).waitFor()
  await files.getByText('The studio’s clock is the measure.').first().waitFor()
})

test('a merged change is taken back by a pull request of its own', async () => {
  await ines.goto(`${demo.baseUrl}/code/pull-request~kiln-controller,13`)
  await ines.getByRole('button', { name: 'Take it back…' }).click()
  const dialog = ines.getByRole('dialog', { name: 'Take it back' })
  await dialog.getByLabel('On').selectOption('main')
  expect(await axeFindings(ines)).toEqual([])
  await dialog.getByRole('button', { name: 'Take it back' }).click()
  await ines.getByRole('heading', { name: /^Revert/ }).waitFor()
  await ines
    .getByText(/→ main/)
    .last()
    .waitFor()
})

test('the whole change of an item is read as one list of files, and what is found goes to its pull requests at once', async () => {
  await ines.goto(`${demo.baseUrl}/items/item~EMB-150`)
  await ines.getByRole('region', { name: 'Code' }).getByRole('button', { name: 'the whole change' }).click()
  const whole = ines.getByRole('region', { name: 'The whole change of EMB-150' })
  await whole.getByText('clockDriftMs').first().waitFor()
  await whole.locator('.diff-gutter-insert').nth(3).click()
  await whole.getByLabel(/^Remark on line/).fill('Which of the two is right?')
  expect(await axeFindings(ines)).toEqual([])
  await whole.getByRole('button', { name: 'Keep for the review' }).click()
  await whole.getByRole('button', { name: 'Say what you found…' }).click()
  const dialog = ines.getByRole('dialog', { name: 'Say what you found in EMB-150' })
  await dialog.getByRole('checkbox', { name: /kiln-controller\/14.*with 1 remark/ }).waitFor()
  await dialog.getByLabel('In words').fill('One question.')
  expect(await axeFindings(ines)).toEqual([])
  await dialog.getByRole('button', { name: 'Send' }).click()
  await ines.getByText('Sent to 1 pull request').waitFor()
  await whole.getByText('Which of the two is right?').waitFor()
})

test('which commit broke a test is found from its failure, by what builds tell', async () => {
  await rafe.goto(`${demo.baseUrl}/builds/build~kiln-controller,21`)
  const reason = rafe.getByRole('region', { name: 'Reason 1' })
  await reason.getByRole('button', { name: 'Find it by building' }).click()
  const found = reason.getByRole('region', { name: 'Found by building' })
  await found.getByText('this commit broke it').waitFor()
  await found.getByText(/Merge pull request 10/).waitFor()
  expect(await axeFindings(rafe)).toEqual([])
})
