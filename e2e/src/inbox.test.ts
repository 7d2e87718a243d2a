import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Page } from 'playwright-core'
import { axeFindings } from './browser.js'
import { makeToken, verifyData, type Demo } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

let journey: Journey
let demo: Demo
let page: Page
let other: Page

beforeAll(async () => {
  journey = await startJourney(['tam', 'ines'])
  ;({ demo } = journey)
  ;[page, other] = journey.pages as [Page, Page]
}, 180_000)
afterAll(async () => {
  await journey?.end()
}, 60_000)

const inbox = () => page.getByRole('listbox', { name: 'Inbox' })
const row = (key: string) => inbox().locator(`[id="row-Inbox-${key}"]`)
async function comment(on: Page, key: string, text: string): Promise<void> {
  await on.goto(`${demo.baseUrl}/items/item~${key}`)
  const form = on.getByRole('form', { name: 'Write a comment' })
  await form.locator('.cm-content').click()
  await on.keyboard.insertText(text)
  // The words stand in the editor already: only the server's answer says that they are kept, and the draft goes after it.
  const kept = on.waitForResponse((response) => response.request().method() === 'POST' && response.url().endsWith('/comments'))
  await form.getByRole('button', { name: 'Comment' }).click()
  expect((await kept).ok()).toBe(true)
  await on.waitForFunction((draft) => localStorage.getItem(draft) === null, `comment-${key}`)
}

describe('the inbox', () => {
  test('gathers by item what Ines wrote to Tam while he looks, and `e` marks it read', async () => {
    await page.goto(`${demo.baseUrl}/inbox`)
    await page.getByRole('heading', { name: 'Inbox' }).waitFor()
    await comment(other, 'EMB-141', 'Please have a look, @tam.')
    await comment(other, 'EMB-141', 'And at the drawing, @tam, when you can.')
    await comment(other, 'EMB-139', 'This too, @tam.')
    await row('EMB-141').getByText('×2').waitFor()
    await row('EMB-141').getByText('Ines Okafor: And at the drawing').waitFor()
    expect(await axeFindings(page)).toEqual([])
    await row('EMB-141').click()
    await inbox().focus()
    await page.keyboard.press('e')
    await row('EMB-141').waitFor({ state: 'detached' })
    await page.getByRole('button', { name: 'all', exact: true }).click()
    await row('EMB-141').waitFor()
  })

  test('`l` puts an item off; it stands under later and can be brought back', async () => {
    await page.goto(`${demo.baseUrl}/inbox/item~EMB-139`)
    await row('EMB-139').waitFor()
    await inbox().focus()
    await page.keyboard.press('l')
    await page.getByText(/EMB-139 comes back/).waitFor()
    await row('EMB-139').waitFor({ state: 'detached' })
    await page.goto(`${demo.baseUrl}/inbox`)
    await page.getByRole('button', { name: 'later', exact: true }).click()
    await row('EMB-139').click()
    await page.getByRole('button', { name: 'Bring EMB-139 back' }).click()
    await page.getByRole('button', { name: 'unread', exact: true }).click()
    await row('EMB-139').waitFor()
  })

  test('what a person chose to hear nothing of does not come, and what they want by mail alone stands in the mailbox only', async () => {
    await page.goto(`${demo.baseUrl}/inbox/choices`)
    await page.getByRole('radio', { name: 'I am mentioned: nothing' }).click()
    await page.getByRole('radio', { name: 'An item is given to me: mail', exact: true }).click()
    expect(await axeFindings(page)).toEqual([])
    await comment(other, 'EMB-133', 'Unheard, @tam.')
    await other.goto(`${demo.baseUrl}/items/item~EMB-133`)
    await other.getByRole('combobox', { name: 'Owner' }).selectOption('tam')
    const mails = async () =>
      (await (await fetch(`${demo.outsideUrl}/api/mail`)).json()) as { to: string; subject: string; html: string; text: string }[]
    let mail: Awaited<ReturnType<typeof mails>>[number] | undefined
    for (let turn = 0; turn < 30 && !mail; turn++) {
      await page.waitForTimeout(500)
      mail = (await mails()).find((entry) => entry.to === 'tam@emberwick.example' && entry.subject.startsWith('EMB-133 '))
    }
    expect(mail?.text).toContain('Ines Okafor gave it to you')
    expect(mail?.text).not.toContain('Unheard')
    expect(mail?.html).toContain('/items/item~EMB-133')
    await page.goto(`${demo.baseUrl}/inbox`)
    await page.getByRole('button', { name: 'all', exact: true }).click()
    await row('EMB-141').waitFor()
    expect(await row('EMB-133').count()).toBe(0)
  })
})

describe('in hand', () => {
  test('time in hand is booked only when Tam says so; another item parks the first with its branch, resuming brings it back', async () => {
    await page.goto(`${demo.baseUrl}/desk`)
    const hand = page.getByRole('region', { name: 'In hand' })
    await hand.getByText(/in hand, since/).waitFor()
    expect(await axeFindings(page)).toEqual([])
    const first = (await hand.getByRole('link').first().textContent()) ?? ''
    const before = (await (await page.request.get(`${demo.baseUrl}/api/v1/items/${first}`)).json()).spentMinutes
    await hand.getByRole('button', { name: new RegExp(`^Book .* on ${first}`) }).click()
    await page.getByText(`are booked on ${first}`).waitFor()
    const after = (await (await page.request.get(`${demo.baseUrl}/api/v1/items/${first}`)).json()).spentMinutes
    expect(after - before).toBeGreaterThanOrEqual(90)
    await page.goto(`${demo.baseUrl}/items/item~EMB-141`)
    await page.getByRole('button', { name: 'Take in hand' }).click()
    await page.getByText(`EMB-141 is in hand, ${first} is parked`).waitFor()
    await page.getByText('In hand: EMB-141').waitFor()
    await page.goto(`${demo.baseUrl}/desk`)
    await hand.getByText(/parked .*on .*\//).waitFor()
    await hand.getByRole('button', { name: `Resume ${first}` }).click()
    await hand.getByRole('button', { name: `Park ${first}` }).waitFor()
    await hand.getByRole('button', { name: 'Put down EMB-141' }).click()
    await hand.getByText('EMB-141').waitFor({ state: 'detached' })
  })
})

describe('private notes', () => {
  test('a note is its writer’s alone: not on another’s screen, in the API of others, the live stream, history or search', async () => {
    const secret = 'quietly ask the electrician'
    await page.goto(`${demo.baseUrl}/items/item~EMB-141`)
    await page.getByRole('button', { name: 'Write a note for yourself' }).click()
    await page.getByLabel('Note for yourself').fill(secret)
    await page.keyboard.press('Control+Enter')
    await page.getByRole('region', { name: 'My note' }).getByText(secret).waitFor()
    await other.goto(`${demo.baseUrl}/items/item~EMB-141`)
    await other.getByRole('button', { name: 'Write a note for yourself' }).waitFor()
    expect(await other.getByText(secret).count()).toBe(0)
    const token = makeToken(demo.dataDir, 'read')
    const ask = async (path: string) =>
      (await fetch(`${demo.baseUrl}/api/v1${path}`, { headers: { authorization: `Bearer ${token}` } })).text()
    for (const path of [
      '/items/EMB-141',
      '/items/EMB-141/history',
      '/items/EMB-141/comments',
      '/items/EMB-141/note',
      `/search?q=${encodeURIComponent(secret)}`,
    ])
      expect(await ask(path)).not.toContain(secret)
    await page.reload()
    await page.getByRole('region', { name: 'My note' }).getByText(secret).waitFor()
  })
})

test('nothing went wrong in the page meanwhile, and the journal rebuilds the tables', () => {
  expect(journey.complaints).toEqual([])
  expect(verifyData(demo.dataDir)).toMatchObject({ status: 0 })
})
