import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Page } from 'playwright-core'
import { axeFindings } from './browser.js'
import { verifyData } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

/** One point of colour. */
const PICTURE = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64')
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

test('somebody explores: points are ticked, a picture is pasted into a note, trouble is logged, and it is ended', async () => {
  await page.goto(`${journey.demo.baseUrl}/tests~exploring`)
  await page.getByRole('option', { name: /Does a kiln keep its day plan/ }).waitFor()
  await page.getByRole('button', { name: 'Explore…' }).click()
  const writing = page.getByRole('dialog', { name: 'Explore' })
  await writing.getByLabel('What it is to find out').fill('What does a visitor hear?')
  await writing.getByLabel(/^Points to look at/).fill('at the door\nin the yard')
  await writing.getByLabel(/^At most so many minutes/).fill('45')
  expect(await axeFindings(page)).toEqual([])
  await writing.getByRole('button', { name: 'Begin' }).click()
  const pane = page.getByRole('region', { name: 'Exploration' })
  await pane.getByRole('button', { name: 'Begin to look' }).click()
  await pane.getByRole('button', { name: 'Stop the clock' }).waitFor()
  await pane.getByRole('checkbox', { name: 'in the yard' }).click()
  await pane.getByRole('checkbox', { name: 'in the yard', checked: true }).waitFor()
  const note = pane.getByRole('textbox', { name: /What you note/ })
  await note.fill('The bell is loud')
  await note.press('End')
  await pane.locator('input[type=file]').first().setInputFiles({ name: 'bell.png', mimeType: 'image/png', buffer: PICTURE })
  await page.waitForFunction(
    (box) => (box as HTMLTextAreaElement).value.startsWith('The bell is loud\n![bell](pictures/EMB/'),
    await note.elementHandle(),
  )
  await note.press('Control+Enter')
  const picture = pane.getByRole('img', { name: 'bell' })
  await picture.waitFor()
  await page.waitForFunction((img) => (img as HTMLImageElement).naturalWidth === 1, await picture.elementHandle())
  await pane.getByRole('button', { name: 'trouble' }).click()
  await note.fill('It cannot be heard in the yard')
  await note.press('Control+Enter')
  await page.getByText(/EMB-\d+ is logged/).waitFor()
  await pane.getByText('It cannot be heard in the yard').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await pane.getByRole('textbox', { name: /What was found out/ }).fill('Louder, please')
  await pane.getByRole('button', { name: 'It is over' }).click()
  await pane.getByRole('button', { name: 'it goes on' }).waitFor()
})

test('a failure is read closely, a finding is set aside, and a chart is pinned', async () => {
  await page.goto(`${journey.demo.baseUrl}/builds~broke%20main`)
  await page.getByRole('option').first().click()
  const build = page.getByRole('region', { name: /^Build / })
  await build.getByText('assert.equal(zoneSpread').first().waitFor()
  await build.getByText('the code of the test').waitFor()
  await build.getByRole('region', { name: 'Findings' }).waitFor()
  expect(await axeFindings(page)).toEqual([])
  await build.getByRole('button', { name: 'trends' }).click()
  await page.getByRole('button', { name: 'pin: Flaky tests, of a hundred that ran' }).click()
  await page.getByRole('button', { name: 'unpin: Flaky tests, of a hundred that ran' }).waitFor()
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Pinned' }).click()
  await page.getByRole('region', { name: /kiln-controller: Flaky tests/ }).waitFor()
  expect(await axeFindings(page)).toEqual([])
})

test('nothing went wrong in the page meanwhile, and the journal rebuilds the tables', () => {
  expect(journey.complaints).toEqual([])
  expect(verifyData(journey.demo.dataDir)).toMatchObject({ status: 0 })
})
