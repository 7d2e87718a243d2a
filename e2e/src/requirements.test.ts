import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Page } from 'playwright-core'
import { axeFindings } from './browser.js'
import { verifyData, type Demo } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

let journey: Journey
let demo: Demo
let page: Page

beforeAll(async () => {
  journey = await startJourney(['ines'])
  ;({ demo } = journey)
  ;[page] = journey.pages as [Page]
}, 180_000)
afterAll(() => journey?.end(), 60_000)

const part = (name: string) => page.getByRole('region', { name, exact: true })

test('a baseline is made of what stands, and agreed to', async () => {
  await page.goto(`${demo.baseUrl}/requirements~baselines`)
  const form = page.getByRole('form', { name: 'Make a baseline' })
  await form.getByLabel(/by the name/).fill('4.1')
  await form.getByLabel('What it is for').fill('the audit in December')
  await form.getByRole('button', { name: 'Make the baseline' }).click()
  await page.getByRole('button', { name: 'I agree to 4.1' }).click()
  const made = page.getByRole('list', { name: 'Baselines' }).getByRole('listitem').filter({ hasText: 'the audit in December' })
  await made.getByText(/agreed by Ines Okafor/).waitFor()
  expect(await axeFindings(page)).toEqual([])
})

test('the document is walked by arrows; a sentence is changed with the reason, and its ties ask to be looked at', async () => {
  await page.goto(`${demo.baseUrl}/requirements`)
  const document = page.getByRole('list', { name: 'The document' })
  await document.getByRole('button', { name: /^SAF-2/ }).click()
  await page.keyboard.press('ArrowDown')
  await page.waitForURL(/requirement~SAF-3/)
  await part('SAF-3').getByRole('button', { name: 'edit', exact: true }).click()
  const text = part('SAF-3').getByLabel('Requirement text')
  await text.fill((await text.inputValue()).replace('10 s', '5 s'))
  await part('SAF-3').getByLabel('Why it changes').fill('the limiter cuts in after 6 s')
  await part('SAF-3')
    .getByText(/carries weight/)
    .waitFor()
  await part('SAF-3').getByRole('button', { name: 'Save revision 2' }).click()
  await document.getByRole('button', { name: /^SAF-3 .*look again: 2 ties/ }).waitFor()
  const older = part('Made for an older text')
  await older.locator('ins', { hasText: '5' }).waitFor()
  await older.getByText('Because: the limiter cuts in after 6 s').waitFor()
  expect(await axeFindings(page)).toEqual([])
})

test('a tie is said to hold from the requirement, another from the item; both ends show it', async () => {
  await part('Made for an older text').getByRole('button', { name: 'EMB-7 holds' }).click()
  await page.getByText('EMB-7 holds for revision 2').waitFor()
  await page.goto(`${demo.baseUrl}/items/item~EMB-17`)
  await page.getByRole('button', { name: 'It still holds for SAF-3' }).click()
  await page.getByText('It holds for SAF-3 as it is now').waitFor()
  await page.goto(`${demo.baseUrl}/requirements/requirement~SAF-3`)
  await part('Revisions').getByRole('button', { name: 'What changed in revision 2' }).click()
  await part('Revisions').locator('del', { hasText: '10' }).waitFor()
  await page.waitForFunction(() => !document.querySelector('[aria-label="Made for an older text"]'))
})

test('gaps are listed by kind; one is agreed to with a reason, and taken back', async () => {
  await page.goto(`${demo.baseUrl}/requirements~gaps`)
  await part('Broken by an open item').getByRole('link', { name: 'SAF-11' }).waitFor()
  const lacking = part('No item implements it')
  await lacking.getByRole('button', { name: 'Agree to SAF-13' }).click()
  const form = page.getByRole('form', { name: 'Agree to a gap' })
  await form.getByLabel(/Why it may stay/).fill('bought in')
  expect(await axeFindings(page)).toEqual([])
  await form.getByRole('button', { name: 'It may stay' }).click()
  await page.getByRole('button', { name: '1 gap agreed, show' }).click()
  await lacking.getByText(/agreed by Ines Okafor: bought in/).waitFor()
  await lacking.getByRole('button', { name: 'It may not stay: SAF-13' }).click()
  await lacking.getByRole('button', { name: 'Agree to SAF-13' }).waitFor()
})

test('the baseline says what changed since', async () => {
  await page.goto(`${demo.baseUrl}/requirements~baselines`)
  await page.getByRole('list', { name: 'Baselines' }).getByRole('button', { name: '4.1', exact: true }).click()
  const changed = part('Changed')
  await changed.getByRole('link', { name: 'SAF-3' }).waitFor()
  await changed.locator('ins', { hasText: '5' }).waitFor()
  expect(await axeFindings(page)).toEqual([])
})

test('the document is written in place by keys: one more behind, in and out, split and joined', async () => {
  await page.goto(`${demo.baseUrl}/requirements`)
  const document = page.getByRole('list', { name: 'The document' })
  const order = async () =>
    (await document.locator('[data-sentence]').evaluateAll((all) => all.map((one) => (one as HTMLElement).dataset.sentence))).join(' ')
  await document.getByRole('button', { name: /^SAF-12/ }).focus()
  await page.keyboard.press('n')
  await page.keyboard.type('The fan shall run on for 10 minutes after a firing. It shall be heard in the studio below 40 dB.')
  expect(await axeFindings(page)).toEqual([])
  await page.keyboard.press('Control+Enter')
  await document.getByRole('button', { name: /^SAF-14 The fan shall run on/ }).waitFor()
  expect(await order()).toContain('SAF-12 SAF-14 SAF-13')
  // The new one has the keyboard: it goes below the one before it, and out again.
  const press = async (keys: string): Promise<string | null> => {
    const placed = page.waitForResponse((answer) => answer.url().endsWith('/requirements/SAF-14/place'))
    await page.keyboard.press(keys)
    return (await (await placed).json()).parent
  }
  expect(await press('Alt+ArrowRight')).toBe('SAF-12')
  await document.locator('[data-sentence="SAF-14"]:focus').waitFor()
  expect(await press('Alt+ArrowLeft')).toBe('SAF-1')
  await document.locator('[data-sentence="SAF-14"]:focus').waitFor()
  await page.keyboard.press('e')
  const text = document.getByRole('form', { name: 'Text of SAF-14' }).getByLabel('Its text')
  await text.evaluate((area: HTMLTextAreaElement) =>
    area.setSelectionRange(area.value.indexOf(' It shall'), area.value.indexOf(' It shall')),
  )
  await page.keyboard.press('Alt+Enter')
  await document.getByRole('button', { name: /^SAF-15 It shall be heard/ }).waitFor()
  await page.keyboard.press('e')
  await document.getByRole('form', { name: 'Text of SAF-15' }).waitFor()
  await page.keyboard.press('Alt+Backspace')
  await document.getByRole('button', { name: /^SAF-14 The fan .*40 dB/s }).waitFor()
  await document.getByRole('button', { name: /^SAF-15 .*retired/ }).waitFor()
  expect(await axeFindings(page)).toEqual([])
})

test('people are asked to agree: by keys, with a remark on marked words, until a set is ended', async () => {
  await page.goto(`${demo.baseUrl}/desk`)
  await page.getByRole('listbox', { name: 'Desk' }).getByText('Safety of controller 4.2').click()
  await page.getByRole('link', { name: 'Safety of controller 4.2' }).click()
  const pane = part('Agreement')
  const line = (key: string) => pane.locator(`[data-asked="${key}"]`)
  await pane.getByText('“a realistic remaining time”').waitFor()
  expect(await axeFindings(page)).toEqual([])
  const kept = page.waitForResponse((answer) => answer.url().endsWith('/verdicts'))
  await line('SAF-4').focus()
  await page.keyboard.press('a')
  expect((await kept).status()).toBe(200)
  await line('SAF-5').and(page.locator(':focus')).waitFor()
  await line('SAF-4')
    .getByText(/✓.*Ines Okafor/)
    .waitFor()
  // SAF-3 was written anew a moment ago: what Rafe agreed to was another text.
  await line('SAF-3')
    .getByText(/to an older text: Rafe Varga/)
    .waitFor()
  await line('SAF-7').getByText('Elements shall be without power').selectText()
  await line('SAF-7').getByRole('button', { name: 'Remark on SAF-7' }).click()
  await line('SAF-7').getByLabel('What you say').fill('Within which time?')
  await line('SAF-7').getByRole('button', { name: 'Say it' }).click()
  await line('SAF-7').getByText('Within which time?').waitFor()
  await pane.getByText('2 remarks still open.').waitFor()
  await pane.getByLabel('What came of it').fill('asked again with minutes')
  await pane.getByRole('button', { name: 'End it unagreed' }).click()
  await pane.getByText(/asked again with minutes/).waitFor()
  expect(await axeFindings(page)).toEqual([])
})

test('a word is explained, and where a text says another is told; a report is kept and reads as it did then', async () => {
  await page.goto(`${demo.baseUrl}/requirements~words`)
  await page.getByRole('button', { name: 'Explain a word…' }).click()
  const form = page.getByRole('form', { name: 'A new word' })
  await form.getByLabel(/^The word/).fill('safety contactor')
  await form.getByLabel(/^What it means/).fill('What takes the power from all elements at once.')
  await form.getByLabel(/^Said in its place/).fill('main relay, relay')
  await form.getByRole('button', { name: 'Keep it' }).click()
  await page.getByText(/1 requirement says it; not “main relay”, “relay”/).waitFor()
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('button', { name: 'writing', exact: true }).click()
  await page.getByText('the glossary calls it “safety contactor”').first().waitFor()
  await page.goto(`${demo.baseUrl}/requirements~baselines`)
  const kept = part('Kept reports')
  await kept.getByLabel('What it is for').fill('for the insurer')
  await kept.getByRole('button', { name: 'Keep one now' }).click()
  const line = kept.getByRole('listitem').filter({ hasText: 'for the insurer' })
  const address = await line.getByRole('link', { name: /^page of/ }).getAttribute('href')
  expect(await axeFindings(page)).toEqual([])
  // The second that it belongs to has to be over.
  await page.waitForFunction((at) => Date.now() > Date.parse(at), address?.split('/')[3] ?? '', { polling: 100 })
  const report = await page.request.get(`${demo.baseUrl}${address}`)
  expect(report.status()).toBe(200)
  expect(await report.text()).toContain('SAF-3')
})

test('everything is looked back to as it stood, with nothing to change, and back to now', async () => {
  await page.goto(`${demo.baseUrl}/requirements~gaps`)
  await page.getByRole('navigation', { name: 'Places' }).getByRole('button', { name: 'An earlier day…' }).click()
  const dialog = page.getByRole('dialog', { name: 'Look back to…' })
  await dialog.getByRole('link', { name: 'kiln-controller 4.1.0' }).waitFor()
  expect(await axeFindings(page)).toEqual([])
  await dialog.getByRole('link', { name: 'kiln-controller 4.1.0' }).click()
  const band = page.getByRole('region', { name: 'Looking back' })
  await band.getByText(/what was known here then/).waitFor()
  expect(new URL(page.url()).pathname).toMatch(/^\/past\/2026-05-\d\dT[\d:]+Z\/requirements~gaps$/)
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Releases' }).click()
  await page.getByRole('link', { name: '4.1.0', exact: true }).click()
  await part('What it holds').waitFor()
  expect(await page.getByRole('link', { name: '4.1.3', exact: true }).count()).toBe(0)
  expect(await page.getByRole('button', { name: /withdraw it|New release|Log a defect/ }).count()).toBe(0)
  expect(await axeFindings(page)).toEqual([])
  // SAF-3 was written anew a moment ago, and reads as it did in May.
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Requirements' }).click()
  await page
    .getByRole('list', { name: 'The document' })
    .getByRole('button', { name: /^SAF-3.*within 10 s/ })
    .click()
  await part('SAF-3').getByText('revision 1', { exact: false }).first().waitFor()
  await page.getByRole('link', { name: 'back to now' }).click()
  await page
    .getByRole('list', { name: 'The document' })
    .getByRole('button', { name: /^SAF-3.*within 5 s/ })
    .waitFor()
  expect(new URL(page.url()).pathname).toBe('/requirements/requirement~SAF-3')
})

test('nothing went wrong in the page meanwhile, and the journal rebuilds the tables', () => {
  expect(journey.complaints).toEqual([])
  expect(verifyData(demo.dataDir)).toMatchObject({ status: 0 })
})
