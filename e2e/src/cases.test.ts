import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Page } from 'playwright-core'
import { axeFindings } from './browser.js'
import { verifyData } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

let journey: Journey
let page: Page
beforeAll(async () => {
  journey = await startJourney(['mara'])
  page = journey.pages[0] as Page
}, 180_000)
afterAll(() => journey?.end(), 60_000)

test('a case is written, planned and done by keys alone; what fails is logged with its steps', async () => {
  await page.goto(`${journey.demo.baseUrl}/tests~cases`)
  await page.getByRole('listbox', { name: 'Test cases' }).waitFor()
  await page.getByRole('button', { name: 'Write a case…' }).click()
  const writing = page.getByRole('dialog', { name: 'A test case' })
  await writing.getByLabel('Title').fill('Ring the bell')
  await writing.getByLabel(/^Steps/).fill('Press the bell => It rings\nWait a minute => It is quiet')
  await writing.getByLabel(/^Verifies/).fill('NIX-4')
  await writing.getByRole('button', { name: 'Write it' }).click()
  await writing.getByText('NIX-4 is no requirement and no item').waitFor()
  await writing.getByLabel(/^Verifies/).fill('SAF-11')
  expect(await axeFindings(page)).toEqual([])
  await writing.getByRole('button', { name: 'Write it' }).click()
  await page.getByRole('heading', { name: /Ring the bell/ }).waitFor()

  await page.goto(`${journey.demo.baseUrl}/tests`)
  await page.getByRole('button', { name: 'Plan a test…' }).click()
  const planning = page.getByRole('dialog', { name: 'Plan a test' })
  await planning.getByLabel('Name').fill('Bells')
  await planning.getByLabel('Cases with').fill('bell')
  await planning.getByRole('button', { name: 'choose all of these' }).click()
  await planning.getByText('1 case chosen').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await planning.getByRole('button', { name: 'Plan it' }).click()

  await page.getByRole('button', { name: /^Go on with case/ }).click()
  await page.getByRole('list', { name: /^Steps/ }).focus()
  await page.keyboard.press('p')
  await page.keyboard.press('f')
  await page.getByText('failed at step 2').waitFor()
  await page.keyboard.type('It goes on ringing')
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('button', { name: 'Save it, and go on' }).click()
  await page.getByText(/failed; EMB-\d+ is logged/).waitFor()
  await page.getByRole('article', { name: 'Bells' }).or(page.locator('[data-pane="1"]')).first().getByText('failed').first().waitFor()
})

test('the defect says what was done, expected and seen, and the requirement shows what was found', async () => {
  await page.goto(`${journey.demo.baseUrl}/requirements/requirement~SAF-11`)
  await page.getByText('by hand in staging').waitFor()
  const broken = page.getByRole('paragraph').filter({ hasText: 'Ring the bell: It is quiet' })
  await broken.getByRole('link', { name: /^EMB-/ }).click()
  // The item's history says the same words again, as soon as it has come: the defect's own text is meant.
  await page.getByRole('paragraph').filter({ hasText: 'Seen: It goes on ringing' }).waitFor()
  await page.getByText('Press the bell').first().waitFor()
})

test('nothing went wrong in the page meanwhile, and the journal rebuilds the tables', () => {
  expect(journey.complaints).toEqual([])
  expect(verifyData(journey.demo.dataDir)).toMatchObject({ status: 0 })
})
