import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Browser, Page } from 'playwright-core'
import { axeFindings, newPage } from './browser.js'
import { makeToken, verifyData, type Demo } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

const MANY = 200
let journey: Journey
let demo: Demo
let browser: Browser
let page: Page
let other: Page
let token: string

beforeAll(async () => {
  journey = await startJourney(['ines', 'rafe'])
  ;({ demo, browser } = journey)
  ;[page, other] = journey.pages as [Page, Page]
  token = makeToken(demo.dataDir, 'write')
}, 180_000)
afterAll(async () => {
  await journey?.end()
}, 60_000)

const api = async (path: string) => (await page.request.get(`${demo.baseUrl}/api/v1${path}`)).json()
async function log(title: string, fields: object = {}): Promise<string> {
  const response = await fetch(`${demo.baseUrl}/api/v1/items`, {
    method: 'POST',
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    body: JSON.stringify({ title, ...fields }),
  })
  return ((await response.json()) as { key: string }).key
}
/** Logs as a person who can be asked. */
async function logAs(on: Page, title: string): Promise<string> {
  await on.keyboard.press('Alt+n')
  await on.getByRole('dialog', { name: 'Log an item' }).getByLabel('Title').fill(title)
  await on.keyboard.press('Control+Enter')
  await on.getByRole('heading', { name: title }).waitFor()
  return /item~([A-Z]+-\d+)/.exec(on.url())?.[1] ?? ''
}
/** The decisions on an item that stand in its history, in the order in which they were taken. */
const decisionsOn = async (key: string): Promise<string[]> =>
  (await api(`/items/${key}/history?limit=50`)).rows
    .filter((row: { kind: string }) => row.kind === 'triage-decided')
    .sort((a: { seq: number }, b: { seq: number }) => a.seq - b.seq)
    .map((row: { facts: { decision: string } }) => row.facts.decision)
const queue = (on: Page = page) => on.getByRole('listbox', { name: 'Triage' })
const decision = (key: string, on: Page = page) => on.getByRole('region', { name: `Decide ${key}` })
const openKey = (on: Page = page) => /decision~([A-Z]+-\d+)/.exec(on.url())?.[1] ?? ''
/** The key of what the queue opened by itself. */
async function firstOpened(): Promise<string> {
  await page.waitForURL(/decision~/)
  return openKey()
}
/** Opens one decision with the keyboard in the queue. */
async function decideOn(key: string, on: Page = page): Promise<void> {
  // The keys of the form choose among proposals, which come after it.
  const proposed = on.waitForResponse((answer) => answer.url().endsWith(`/items/${key}/proposals`))
  await on.goto(`${demo.baseUrl}/triage/decision~${key}`)
  await decision(key, on).getByRole('form', { name: 'Decision' }).waitFor()
  await proposed
  await queue(on).focus()
}

describe('the queue', () => {
  test('says why each stands where it stands; a report’s screen shows everything for its decision without scrolling', async () => {
    await page.goto(`${demo.baseUrl}/triage`)
    await queue().focus()
    await page.keyboard.press('ArrowDown')
    await decision(await firstOpened()).waitFor()
    expect(await queue().innerText()).toMatch(/severity 2 guess, 19 people, new in/)
    const form = page.getByRole('form', { name: 'Decision' })
    await form.getByText('looks right').waitFor()
    for (const region of ['Likely brought in by', 'Already known?']) await page.getByRole('region', { name: region }).waitFor()
    await form.getByText(/the failing line came with/).waitFor()
    for (const thing of [form.getByRole('button', { name: /^Accept at/ }), page.getByRole('heading', { name: 'Likely brought in by' })]) {
      const box = await thing.boundingBox()
      expect((box?.y ?? 9999) + (box?.height ?? 0)).toBeLessThanOrEqual(800)
    }
    expect(await axeFindings(page)).toEqual([])
  })

  test('a proposal is taken by one key, and what was changed is what is accepted', async () => {
    const key = await log('Thermocouple open and the kiln at full power')
    await decideOn(key)
    const form = decision(key).getByRole('form', { name: 'Decision' })
    const breaks = () => form.getByRole('combobox', { name: 'Breaks' }).inputValue()
    for (let turn = 0; turn < 50 && (await breaks()) === ''; turn++) await page.waitForTimeout(100)
    const before = await breaks()
    await page.keyboard.press('r')
    for (let turn = 0; turn < 50 && (await breaks()) === before; turn++) await page.waitForTimeout(100)
    const requirement = await breaks()
    expect(requirement).not.toBe(before)
    await page.keyboard.press('m')
    expect(await form.getByRole('combobox', { name: 'Milestone' }).inputValue()).toBe('4.2')
    await page.keyboard.press('2')
    await page.getByText(`${key} is accepted at 2`).waitFor()
    const item = await api(`/items/${key}`)
    expect(item).toMatchObject({ severity: 2, milestone: '4.2', stage: 'accepted' })
    expect(item.links.some((link: { to: { id: string } }) => link.to.id === requirement)).toBe(true)
  })

  test('each decision can be undone with one key, and opens again', async () => {
    const key = await log('Door card refused at the studio')
    await decideOn(key)
    await page.keyboard.press('X')
    await page.getByText(`${key} is rejected`).waitFor()
    expect(openKey()).not.toBe(key)
    await queue().focus()
    await page.keyboard.press('z')
    await page.getByText(`Your last decision on ${key} is taken back`).waitFor()
    expect(openKey()).toBe(key)
    expect((await api(`/items/${key}`)).disposition).toBeNull()
  })

  test('the same as another, asking and rejecting go by dialog and keyboard; a split brings a merged one back', async () => {
    const into = await log('Recipe printer prints the wrong year on labels')
    const key = await log('Labels with the wrong year from the recipe printer')
    await decideOn(key)
    await page.keyboard.press('s')
    const dialog = page.getByRole('dialog', { name: `${key} is the same as` })
    await dialog.waitFor()
    expect(await axeFindings(page)).toEqual([])
    await dialog.getByLabel('Key of the item').fill(into)
    await page.keyboard.press('Enter')
    await page.getByText(`${key} is the same as ${into}`).first().waitFor()
    expect(await decisionsOn(key)).toEqual(['same-as'])
    await page.goto(`${demo.baseUrl}/items/item~${key}`)
    await page.getByRole('button', { name: `Split from ${into}` }).click()
    await page.getByText(`${key} is split from ${into}`).waitFor()
    expect((await api(`/items/${key}`)).mergedInto).toBeNull()

    await decideOn(key)
    await page.keyboard.press('x')
    await page.getByRole('dialog', { name: `Reject ${key}` }).waitFor()
    await page.getByLabel('Why').selectOption('works-as-required')
    await page.getByLabel('Words to the reporter').fill('The year is that of the harvest.')
    await page.getByRole('button', { name: 'Reject it' }).press('Enter')
    await page.getByText(`${key} is rejected`).waitFor()
    expect((await api(`/items/${key}`)).disposition).toBe('works-as-required')
    expect(await decisionsOn(key)).toEqual(['same-as', 'reject'])
  })

  test('nobody is asked where nobody reported it', async () => {
    const key = await log('Logged by a script, no reporter to ask')
    await decideOn(key)
    await page.keyboard.press('q')
    await page.getByText('Nobody can be asked: no other person reported it.').first().waitFor()
    expect(await decision(key).getByRole('button', { name: 'Ask…' }).isDisabled()).toBe(true)
    expect(await page.getByRole('dialog').count()).toBe(0)
    expect(openKey()).toBe(key)
  })

  test('arrows pressed faster than the screen follows lose no step', async () => {
    await page.goto(`${demo.baseUrl}/triage`)
    await queue().focus()
    await page.keyboard.press('Home')
    await page.waitForFunction(() => location.pathname.includes('decision~'))
    const keys = (await api('/triage?limit=10')).rows.map((row: { item: { key: string } }) => row.item.key)
    await queue().evaluate((list) => {
      for (let turn = 0; turn < 4; turn++)
        list.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true, cancelable: true }))
    })
    await page.waitForFunction((key) => location.pathname.endsWith(`decision~${key}`), keys[4])
  })

  test('several are decided at once, chosen by keyboard', async () => {
    const keys = [await log('First of many'), await log('Second of many'), await log('Third of many')]
    await page.goto(`${demo.baseUrl}/triage`)
    for (const key of keys) {
      const row = queue().locator(`[id="row-Triage-${key}"]`)
      await row.click()
      await queue().focus()
      await page.keyboard.press(' ')
    }
    const bar = page.getByRole('toolbar', { name: 'Chosen reports' })
    await bar.getByText('3 chosen').waitFor()
    expect(await axeFindings(page)).toEqual([])
    await page.keyboard.press('4')
    await page.getByText('3 items accepted at 4').waitFor()
    for (const key of keys) expect((await api(`/items/${key}`)).severity).toBe(4)
  })

  test(`${MANY} decisions go by keyboard alone, the next one open each time`, async () => {
    for (let start = 0; start < MANY; start += 20)
      await Promise.all(Array.from({ length: 20 }, (_, index) => log(`Report number ${start + index} of the long day`, { severity: 1 })))
    await page.goto(`${demo.baseUrl}/triage`)
    await queue().getByText('Report number').first().waitFor()
    await queue().focus()
    await page.keyboard.press('Home')
    await page.waitForFunction(() => location.pathname.includes('decision~'))
    const before = (await api('/triage?limit=1')).total
    await watchDecisions(page)
    for (let turn = 0; turn < MANY; turn++) {
      const key = openKey()
      await page.keyboard.press(turn % 3 === 2 ? 'X' : String(1 + (turn % 5)))
      await page.waitForFunction((decided) => !location.pathname.endsWith(decided), `decision~${key}`, { polling: 'raf' })
      await decision(openKey()).getByRole('form', { name: 'Decision' }).waitFor()
    }
    await page.waitForFunction(
      (expected) => document.querySelector('[aria-label="Triage"] [role="status"]')?.textContent?.startsWith(`${expected} `),
      before - MANY,
    )
    // The page counts what was decided at once; the server has the last of it a moment later.
    await page.waitForFunction(async (expected) => (await (await fetch('/api/v1/triage?limit=1')).json()).total === expected, before - MANY)
    const spent = await page.evaluate(() => (window as unknown as { decisionsMs: number[] }).decisionsMs.sort((a, b) => a - b))
    expect(spent.length).toBeGreaterThan(MANY * 0.9)
    const at = (share: number) => Math.round(spent[Math.floor(spent.length * share)] ?? 0)
    console.log(`the next decision stood there after ${at(0.5)} ms (median), ${at(0.95)} ms (95th percentile)`)
  }, 300_000)
})

/** Notes in the page how long it is from a key to the next decision's form. */
async function watchDecisions(on: Page): Promise<void> {
  await on.evaluate(() => {
    const decisionsMs: number[] = []
    Object.assign(window, { decisionsMs })
    const shown = () =>
      document.querySelector('[aria-label^="Decide "] form[aria-label="Decision"]')?.closest('[aria-label^="Decide "]')?.ariaLabel ?? ''
    let startedAt = 0
    let before = ''
    window.addEventListener(
      'keydown',
      () => {
        startedAt = performance.now()
        before = shown()
      },
      true,
    )
    new MutationObserver(() => {
      if (startedAt === 0 || shown() === before || shown() === '') return
      decisionsMs.push(performance.now() - startedAt)
      startedAt = 0
    }).observe(document.body, { childList: true, subtree: true, attributes: true })
  })
}

describe('two people', () => {
  test('the second sees at once what the first decided, and does not overwrite it', async () => {
    const key = await log('Both of us look at this one')
    await decideOn(key)
    await decideOn(key, other)
    await other.keyboard.press('2')
    await other.getByText(`${key} is accepted at 2`).waitFor()
    await decision(key).getByText('accepted it').waitFor()
    await decision(key).getByText('Rafe Varga').first().waitFor()
    expect(await decision(key).getByRole('button', { name: 'Take it back' }).isDisabled()).toBe(true)
    await queue().focus()
    expect((await api(`/items/${key}`)).severity).toBe(2)
  })

  test('a question goes to the reporter’s desk and inbox, and their answer brings the report back', async () => {
    const key = await logAs(other, 'Shelf shows free but booking refused')
    await decideOn(key)
    await page.keyboard.press('q')
    await page.getByLabel('Question to Rafe Varga').fill('Which shelf was it?')
    await page.keyboard.press('Control+Enter')
    await page.getByText(`The reporter of ${key} is asked`).waitFor()
    expect(await decisionsOn(key)).toEqual(['ask'])
    await other.goto(`${demo.baseUrl}/desk`)
    await other.getByText('you are asked: Which shelf was it?').waitFor()
    await other.goto(`${demo.baseUrl}/items/item~${key}`)
    await other.getByText('Waits for its reporter').waitFor()
    const form = other.getByRole('form', { name: 'Write a comment' })
    await form.locator('.cm-content').click()
    await other.keyboard.insertText('The lowest, by the window.')
    await form.getByRole('button', { name: 'Comment' }).click()
    await page.goto(`${demo.baseUrl}/triage`)
    await queue()
      .getByText(/answered/)
      .first()
      .waitFor()
  })
})

describe('a reporter without an account', () => {
  test('follows the report by a private link, is asked, and answers there; and by mail', async () => {
    await page.goto(`${demo.baseUrl}/settings`)
    const box = page.getByRole('checkbox', { name: /People without an account/ })
    if (!(await box.isChecked())) await box.click()
    const guest = (await newPage(browser)).page
    await guest.goto(`${demo.baseUrl}/report/EMB`)
    await guest.getByLabel('In one line').fill('Kiln 5 hums all night')
    await guest.getByLabel(/e-mail address/).fill('anwen@elsewhere.example')
    await guest.getByRole('button', { name: 'Send the report' }).click()
    await guest.getByRole('link', { name: 'this private link' }).click()
    await guest.getByText('It waits for somebody to look at it.').waitFor()
    expect(await axeFindings(guest)).toEqual([])

    const key = (await api('/items?filter=hums&sort=newest')).rows[0].key as string
    await decideOn(key)
    await page.keyboard.press('q')
    await page.getByLabel('Question to anwen@elsewhere.example').fill('Since when does it hum?')
    await page.keyboard.press('Control+Enter')
    await page.getByText(`The reporter of ${key} is asked`).waitFor()
    await guest.reload()
    await guest.getByText('Since when does it hum?').waitFor()
    await guest.getByLabel('Your answer').fill('Since Sunday.')
    await guest.getByRole('button', { name: 'Send' }).click()
    await guest.getByText('It waits for somebody to look at it.').waitFor()

    const thread = guest.getByRole('article').filter({ hasText: 'Your report: Kiln 5 hums all night' })
    // Mail is gathered for some seconds before it goes out, and that of the long day above goes before it.
    await guest.goto(`${demo.outsideUrl}/mail`)
    await thread.getByText('Since when does it hum?').first().waitFor({ timeout: 60_000 })
    await thread.getByLabel('Answer as anwen@elsewhere.example').fill('And louder now.')
    await thread.getByRole('button', { name: 'Send the answer' }).click()
    await guest.getByText('The answer is sent.').waitFor()
    await page.goto(`${demo.baseUrl}/items/item~${key}`)
    await page.getByText('And louder now.').waitFor()
    expect((await api(`/items/${key}/comments`)).rows.map((row: { text: string }) => row.text)).toEqual(
      expect.arrayContaining(['Since when does it hum?', 'Since Sunday.', 'And louder now.']),
    )
    await guest.close()
  })
})

describe('leads', () => {
  test('set up routing and duty, and see in the weekly look what came of it', async () => {
    await page.goto(`${demo.baseUrl}/triage/routing`)
    const form = page.getByRole('form', { name: 'New rule' })
    await form.getByLabel('New rule').fill('Door cards')
    await form.getByLabel('and it says').fill('door card')
    await form.getByLabel('owner').selectOption('tam')
    await form.getByRole('button', { name: 'Add the rule' }).click()
    await page.getByText('says “door card” → owner Tam Adeyemi').waitFor()
    const duty = page.getByRole('region', { name: 'On duty' }).getByRole('combobox').first()
    await duty.selectOption('mara')
    expect(await axeFindings(page)).toEqual([])
    const key = await log('The door card blinks red')
    expect((await api(`/items/${key}`)).ownerId).toBe('tam')
    await page.goto(`${demo.baseUrl}/triage/weeks`)
    const weeks = page.getByRole('region', { name: 'Week by week' })
    await weeks.getByText('· accepted').waitFor()
    await page.getByRole('region', { name: 'Proposals' }).getByText('severity').waitFor()
    await page.getByRole('region', { name: 'Routing rules' }).getByText('Door cards').waitFor()
    expect(await axeFindings(page)).toEqual([])
  })
})

test('nothing went wrong in the page meanwhile, and the journal rebuilds the tables', async () => {
  expect(journey.complaints).toEqual([])
  expect(verifyData(demo.dataDir)).toMatchObject({ status: 0 })
})
