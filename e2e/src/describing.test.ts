import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Browser, Page } from 'playwright-core'
import { axeFindings, newPage, signIn } from './browser.js'
import { verifyData, type Demo } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

let journey: Journey
let demo: Demo
let browser: Browser
let page: Page
let files: string

beforeAll(async () => {
  journey = await startJourney(['ines'])
  ;({ demo, browser } = journey)
  ;[page] = journey.pages as [Page]
  files = mkdtempSync(join(tmpdir(), 'dystracer-files-'))
}, 180_000)
afterAll(async () => {
  await journey?.end()
  if (files) rmSync(files, { recursive: true, force: true })
}, 60_000)

const api = async (path: string) => (await page.request.get(`${demo.baseUrl}/api/v1${path}`)).json()
const dialog = () => page.getByRole('dialog', { name: 'Log an item' })
const pane = (key: string) => page.getByRole('region', { name: key, exact: true })
const keyOnScreen = () => /item~([A-Z]+-\d+)/.exec(page.url())?.[1] ?? ''
async function open(key: string, on: Page = page): Promise<void> {
  await on.goto(`${demo.baseUrl}/items/item~${key}`)
  await on.getByLabel('History').waitFor()
}
async function write(form: ReturnType<Page['locator']>, text: string): Promise<void> {
  await form.locator('.cm-content').click()
  await page.keyboard.insertText(text)
}
async function logQuickly(title: string): Promise<string> {
  await page.keyboard.press('Alt+n')
  await dialog().getByLabel('Title').fill(title)
  await page.keyboard.press('Control+Enter')
  await page.getByRole('heading', { name: title }).waitFor()
  return keyOnScreen()
}

describe('logging', () => {
  test('what looks alike stands below the title while it is typed, with why; “it is this one” joins the report to it', async () => {
    await page.keyboard.press('Alt+n')
    await dialog().getByLabel('Title').fill('Thermocouple wire burnt through, kiln at full power')
    const alike = dialog().getByRole('region', { name: 'Look-alikes' })
    await alike
      .getByText(/both say .*“thermocouple”/)
      .first()
      .waitFor()
    expect(await axeFindings(page)).toEqual([])
    await alike
      .getByRole('button', { name: /^It is this one: EMB-/ })
      .first()
      .click()
    await page.getByRole('article').getByText('Reported again: Thermocouple wire burnt through').waitFor()
    await page.getByRole('button', { name: 'Stop following' }).waitFor()
  })

  test('a draft survives a reload, “keep going” stays open with type and milestone, everything by keyboard', async () => {
    await page.keyboard.press('Alt+n')
    await page.keyboard.type('Zebra one is striped')
    await page.waitForFunction(() => localStorage.getItem('draft/log')?.includes('Zebra one'))
    await page.reload()
    await page.getByRole('listbox', { name: 'Items' }).waitFor()
    await page.keyboard.press('Alt+n')
    expect(await dialog().getByLabel('Title').inputValue()).toBe('Zebra one is striped')
    await dialog().getByLabel('Type').selectOption('task')
    await dialog().getByRole('button', { name: /^More/ }).click()
    await dialog().getByLabel('Milestone').fill('4.2')
    await dialog()
      .getByRole('combobox', { name: /^Owner/ })
      .selectOption('rafe')
    await dialog().getByLabel('Priority').selectOption('high')
    await dialog().getByLabel('Labels, with commas').fill('striped, animals')
    await dialog().getByLabel('Keep going').click()
    await dialog().getByRole('button', { name: 'Log it' }).click()
    await page
      .getByText(/EMB-\d+ is logged/)
      .first()
      .waitFor()
    await page.waitForFunction(() => (document.querySelector('[role=dialog] input') as HTMLInputElement | null)?.value === '')
    expect(await dialog().getByLabel('Milestone').inputValue()).toBe('4.2')
    expect(await dialog().getByLabel('Type').inputValue()).toBe('task')
    await dialog().getByLabel('Keep going').click()
    await dialog().getByLabel('Title').fill('Zebra two is striped')
    await dialog().getByLabel('Title').press('Control+Enter')
    await page.getByRole('heading', { name: /Zebra two/ }).waitFor()
    const { rows } = await api(`/items?filter=${encodeURIComponent('zebra')}`)
    expect(rows.find((row: { title: string }) => row.title.startsWith('Zebra one'))).toMatchObject({
      type: 'task',
      ownerId: 'rafe',
      priority: 'high',
      milestone: '4.2',
      labels: ['striped', 'animals'],
    })
  })

  test('a type brings its template, and a title is asked for in words', async () => {
    await page.keyboard.press('Alt+n')
    await dialog().getByLabel('Title').fill('')
    await dialog().getByLabel('Type').selectOption('defect')
    await dialog().getByText('Expected').waitFor()
    await dialog().getByRole('button', { name: 'Log it' }).click()
    await dialog().getByText('A title is needed').waitFor()
    await page.keyboard.press('Escape')
  })

  test('the public form takes a report without an account, once a lead has opened it; it waits in Triage', async () => {
    await page.goto(`${demo.baseUrl}/settings`)
    await page.getByLabel(/People without an account may report/).click()
    await page.getByText('The form is open').waitFor()
    const { page: guest } = await newPage(browser)
    await guest.goto(`${demo.baseUrl}/report/EMB`)
    await guest.getByLabel('In one line').fill('Wheel 3 squeaks')
    await guest.getByLabel('Your e-mail address, if we may ask back').fill('anwen@elsewhere.example')
    expect(await axeFindings(guest)).toEqual([])
    await guest.getByRole('button', { name: 'Send the report' }).click()
    await guest.getByText(/Thank you/).waitFor()
    await guest.close()
    await page.goto(`${demo.baseUrl}/triage`)
    const row = page.getByRole('option', { name: /Wheel 3 squeaks/ })
    await row.waitFor()
    expect(await row.textContent()).toContain('anwen@elsewhere.example')
  })
})

describe('describing', () => {
  let key = ''

  test('fields are edited in place, and another open screen shows it without reload', async () => {
    key = await logQuickly('Lamp on the panel stays lit')
    const { page: other } = await newPage(browser)
    await open(key, other)
    await pane(key).getByRole('combobox', { name: 'Priority' }).selectOption('urgent')
    await other.waitForFunction(
      () => (document.querySelector('select[aria-label="Priority"]') as HTMLSelectElement | null)?.value === 'urgent',
    )
    await pane(key).getByRole('button', { name: 'Change labels' }).click()
    await page.keyboard.type('panel, safety')
    await page.keyboard.press('Enter')
    await other.getByText('safety', { exact: true }).first().waitFor()
    await pane(key).getByRole('button', { name: 'All fields' }).click()
    await pane(key).getByRole('textbox', { name: 'Estimate' }).fill('2h 30m')
    await page.keyboard.press('Enter')
    await pane(key).getByText('2 h 30 left').waitFor()
    await pane(key).getByRole('combobox', { name: 'Kind' }).selectOption('wrong')
    await pane(key).getByRole('combobox', { name: 'Studio' }).selectOption('Quayside')
    await page.waitForFunction(async (path) => {
      const item = await (await fetch(path)).json()
      return item.ownValues.studio === 'Quayside' && item.classification?.kind === 'wrong'
    }, `/api/v1/items/${key}`)
    expect(await axeFindings(page)).toEqual([])
    await other.close()
  })

  test('links are made by words, shown from both sides, and a blocked item says so', async () => {
    const other = await logQuickly('New lamp driver for the panel')
    await open(key)
    await pane(key).getByRole('button', { name: 'Tie to another…' }).click()
    const tie = page.getByRole('dialog', { name: `Tie ${key} to another` })
    await tie.getByRole('combobox').selectOption({ label: 'is blocked by' })
    await tie.getByLabel('Key, hash, repository/number or words').fill('lamp driver')
    await tie.getByRole('button', { name: /New lamp driver/ }).waitFor()
    await page.keyboard.press('Enter')
    await pane(key).getByText(`Blocked by ${other}`, { exact: true }).waitFor()
    await open(other)
    await pane(other)
      .getByText(/^Blocks/)
      .waitFor()
    await pane(other).getByRole('button', { name: 'Tie to another…' }).click()
    const back = page.getByRole('dialog', { name: `Tie ${other} to another` })
    await back.getByRole('combobox').selectOption({ label: 'is blocked by' })
    await back.getByLabel('Key, hash, repository/number or words').fill(key)
    await back.getByRole('button', { name: /Lamp on the panel/ }).click()
    await page.getByText(new RegExp(`loop: ${key} → ${other} → ${key}`)).waitFor()
    await page.keyboard.press('Escape')
  })

  test('pictures have thumbnails and open large; a file that lies is refused in words', async () => {
    await open(key)
    writeFileSync(join(files, 'panel.png'), await page.screenshot())
    writeFileSync(join(files, 'lie.png'), '<script>alert(1)</script>')
    const list = pane(key).getByRole('region', { name: 'Files', exact: true })
    await list.locator('input[type=file]').setInputFiles(join(files, 'panel.png'))
    const thumbnail = list.getByRole('button', { name: 'Show panel.png' })
    await thumbnail.waitFor()
    await thumbnail.focus()
    await page.keyboard.press('Enter')
    await page.locator('.yarl__slide_image').first().waitFor()
    await page.keyboard.press('Escape')
    await page.locator('.yarl__slide_image').first().waitFor({ state: 'detached' })
    await list.locator('input[type=file]').setInputFiles(join(files, 'lie.png'))
    await page.getByText(/is not what its name says/).waitFor()
    expect((await api(`/items/${key}/attachments`)).rows).toHaveLength(1)
  })

  test('a comment says before what it will do, does it, and can be answered, reacted to and edited', async () => {
    await open(key)
    const form = page.getByRole('form', { name: 'Write a comment' })
    await write(form, 'Seen again, @rafe please look.\n\nSeverity: 2\nOwner: nobody\nTime: 45m')
    const deeds = page.getByRole('list', { name: 'What this will do' })
    await deeds.getByText('sets severity 2').waitFor()
    await deeds.getByText('tells Rafe Varga').waitFor()
    await deeds.getByText(/“owner: nobody” will do nothing/).waitFor()
    await page.keyboard.press('Control+Enter')
    const comment = page.getByRole('article', { name: 'Comment by Ines Okafor' }).first()
    await comment.getByText('Seen again').waitFor()
    await page.waitForFunction(() => (document.querySelector('select[aria-label="Severity"]') as HTMLSelectElement | null)?.value === '2')
    await comment.getByRole('button', { name: /^agree/ }).click()
    await comment.getByRole('button', { name: 'agree 1' }).waitFor()
    await comment.getByRole('button', { name: 'edit' }).click()
    await comment.locator('.cm-content').click()
    await page.keyboard.press('Control+End')
    await page.keyboard.insertText('\n\nAnd on Sunday.')
    await comment.getByRole('button', { name: 'Save' }).click()
    await comment.getByRole('button', { name: 'edited' }).click()
    await comment.locator('ins').getByText('And on Sunday.').waitFor()
    await comment.getByRole('button', { name: 'quote' }).click()
    await page.getByText('Answer to Ines Okafor').waitFor()
    await page.locator('form[aria-label="Write a comment"] .cm-content').click()
    await page.keyboard.press('Control+End')
    await page.keyboard.insertText('Yes, on Sunday.')
    await page.keyboard.press('Control+Enter')
    await page.getByRole('article').getByText('Yes, on Sunday.').waitFor()
  })

  test('foreign Markdown runs nothing: raw HTML is text, script links lead nowhere', async () => {
    await open(key)
    await write(
      page.getByRole('form', { name: 'Write a comment' }),
      '<img src=x onerror="window.hit=1"> [click](javascript:window.hit=2) **bold**',
    )
    await page.keyboard.press('Control+Enter')
    await page.getByRole('article').locator('strong', { hasText: 'bold' }).waitFor()
    expect(await page.locator('article img[onerror], article a[href^="javascript"]').count()).toBe(0)
    expect(await page.evaluate(() => (window as unknown as { hit?: number }).hit)).toBeUndefined()
  })

  test('two people edit one text: the second sees both versions, and both changes are kept', async () => {
    const { page: other } = await newPage(browser)
    await signIn(other, demo.baseUrl, 'rafe')
    await page.request.patch(`${demo.baseUrl}/api/v1/items/${key}`, {
      data: { description: 'First line.\n\nMiddle.\n\nLast line.' },
      headers: { 'x-dystracer-csrf': (await api('/me')).csrfToken },
    })
    await open(key)
    await open(key, other)
    for (const [who, mark, where] of [
      [page, 'Ines was here. ', 'Control+Home'],
      [other, ' Rafe was here.', 'Control+End'],
    ] as const) {
      await who.getByRole('button', { name: 'Edit the description' }).click()
      await who.getByRole('textbox', { name: 'Description' }).click()
      await who.keyboard.press(where)
      await who.keyboard.insertText(mark)
    }
    await page.getByRole('button', { name: 'Save', exact: true }).click()
    await pane(key).getByText('Ines was here. First line.').waitFor()
    await other.getByRole('button', { name: 'Save', exact: true }).click()
    const merge = other.getByRole('dialog', { name: 'Someone changed this text meanwhile' })
    await merge.locator('ins').getByText('Ines was here.').waitFor()
    expect(await merge.getByLabel('Merged text').inputValue()).toBe('Ines was here. First line.\n\nMiddle.\n\nLast line. Rafe was here.')
    await merge.getByRole('button', { name: 'Save the merged text' }).click()
    await pane(key).getByText('Last line. Rafe was here.').waitFor()
    await other.close()
  })

  test('time is booked, taken back, added up, and goes out as CSV', async () => {
    await page.goto(`${demo.baseUrl}/items/item~${key}/time~${key}`)
    const form = page.getByRole('form', { name: 'Book time' })
    await form.getByLabel('Time').fill('1h 30m')
    await page.keyboard.press('Enter')
    await page.getByText('2 h 15 spent').waitFor()
    await page.getByRole('button', { name: /^Take back 1 h 30 of/ }).click()
    await page.getByText('45 min spent').waitFor()
    await page.getByRole('button', { name: 'Time of all items' }).click()
    const sums = page.getByRole('region', { name: 'Time', exact: true })
    await sums.getByLabel('Add up by').selectOption('week')
    await sums
      .getByText(/2026-W\d\d/)
      .first()
      .waitFor()
    expect(await axeFindings(page)).toEqual([])
    const csv = await (await page.request.get(`${demo.baseUrl}/api/v1/time.csv`)).text()
    expect(csv).toContain(`${key},ines,`)
  })

  test('the history shows a text change as a redline; one’s own change is taken back there, and by Ctrl+Z', async () => {
    await open(key)
    const history = page.getByLabel('History')
    await history.getByRole('button', { name: 'what changed' }).first().click()
    await history.locator('ins').first().waitFor()
    await pane(key).getByRole('combobox', { name: 'Component' }).selectOption('Glaze lab')
    await history.getByRole('button', { name: /Take back: changed component from nothing to Glaze lab/ }).click()
    await page.waitForFunction(() => (document.querySelector('select[aria-label="Component"]') as HTMLSelectElement | null)?.value === '')
    await pane(key).getByRole('combobox', { name: 'Priority' }).selectOption('low')
    await history.getByText(/changed priority from urgent to low/).waitFor()
    await page.getByRole('heading', { name: /Lamp on the panel/ }).click({ position: { x: 4, y: 4 } })
    await page.keyboard.press('Control+z')
    await page.waitForFunction(
      () => (document.querySelector('select[aria-label="Priority"]') as HTMLSelectElement | null)?.value === 'urgent',
    )
  })

  test('a confidential item is not there for others', async () => {
    const secret = await logQuickly('Token of the panel is printed')
    await pane(secret).getByRole('button', { name: 'All fields' }).click()
    await pane(secret).getByLabel('confidential').click()
    await pane(secret)
      .getByText(/^Confidential:/)
      .waitFor()
    const { page: guest } = await newPage(browser)
    await guest.goto(`${demo.baseUrl}/items/item~${secret}`)
    await guest.getByText(`There is no item ${secret}.`).waitFor()
    await guest.close()
  })

  test('an item moves to another project, its old key still leads to it', async () => {
    await open(key)
    await page.getByRole('button', { name: 'More…' }).click()
    const more = page.getByRole('dialog', { name: key })
    await more.getByRole('combobox').selectOption('STU')
    await more.getByRole('button', { name: 'Move', exact: true }).click()
    await page.getByText('It is STU-1 now').waitFor()
    await open(key)
    await page.getByText(`was ${key}`, { exact: true }).waitFor()
  })
})

describe('several at once, setting up, and what I was told', () => {
  test('rows are chosen by keyboard and archived together; a filter that hides a new item says so', async () => {
    await page.goto(`${demo.baseUrl}/items~${encodeURIComponent('zebra')}`)
    const list = page.getByRole('listbox', { name: 'Items' })
    await list.getByRole('option').nth(1).waitFor()
    await list.focus()
    await page.keyboard.press('ArrowDown')
    await page.locator('[data-pane="1"]').waitFor()
    await page.keyboard.press('Shift+ArrowDown')
    await page.getByText('2 chosen').waitFor()
    await page.getByRole('toolbar', { name: 'Chosen items' }).getByRole('button', { name: 'Archive' }).click()
    await page.getByText('2 items archived').waitFor()
    await page.getByText(/No item fits this filter/).waitFor()
    await page.getByRole('button', { name: 'Undo' }).click()
    await page.getByText('2 items as before').waitFor()
    await list.getByRole('option').nth(1).waitFor()
    await list.focus()
    await page.keyboard.press('Home')
    await page.keyboard.press('Shift+ArrowDown')
    // Both were logged for this milestone.
    await page.getByRole('combobox', { name: 'Set their milestone' }).selectOption('4.2')
    await page.getByText('They stood so already').waitFor()
    await list.focus()
    await page.keyboard.press('Home')
    await page.keyboard.press('Shift+ArrowDown')
    await page.getByRole('combobox', { name: 'Set their component' }).selectOption('Billing')
    await page.getByText('2 items changed').waitFor()
    // What was said of the first taking back must be gone before the second can be told from it; it stays while the mouse is over it.
    await page.mouse.move(640, 790)
    await page.getByText('2 items as before').waitFor({ state: 'detached' })
    await list.focus()
    await page.keyboard.press('z')
    await page.getByText('2 items as before').waitFor()
    await page.keyboard.press('Home')
    await page.keyboard.press('Shift+ArrowDown')
    await page.getByRole('toolbar', { name: 'Chosen items' }).getByRole('button', { name: 'Archive' }).click()
    await page.getByText('2 items archived').waitFor()
    await page.goto(`${demo.baseUrl}/items~${encodeURIComponent('zebra or thermocouple')}/item~EMB-33`)
    await page.getByText('EMB-33 is not in this list').waitFor()
  })

  test('a lead sets up milestones with days picked from a calendar, gives labels their colours and puts fields in order', async () => {
    await page.goto(`${demo.baseUrl}/settings`)
    await page.getByRole('textbox', { name: 'New milestone' }).fill('4.3')
    await page.getByRole('button', { name: 'Add the milestone' }).click()
    await page.getByRole('button', { name: 'Due day of 4.3: pick from a calendar' }).click()
    const calendar = page.getByRole('dialog', { name: 'Due day of 4.3: calendar' })
    await calendar.getByRole('grid').waitFor()
    expect(await axeFindings(page)).toEqual([])
    await page.keyboard.press('ArrowRight')
    await page.keyboard.press('Enter')
    await calendar.waitFor({ state: 'detached' })
    const due = page.getByRole('textbox', { name: 'Due day of 4.3' })
    await page.waitForFunction(() => document.querySelector<HTMLInputElement>('[aria-label="Due day of 4.3"]')?.value.length === 10)
    await due.fill('2027-02-30')
    await due.press('Enter')
    await page.getByText('A day such as 2026-12-01').waitFor()
    await due.fill('2027-02-26')
    await due.press('Enter')
    await page.getByText('4.3 is saved').first().waitFor()
    expect((await api('/projects/EMB/setup')).milestones).toContainEqual(expect.objectContaining({ name: '4.3', dueOn: '2027-02-26' }))
    await page.getByRole('navigation', { name: 'Rooms of the settings' }).getByRole('button', { name: 'Types and fields' }).click()
    await page.getByLabel('Colour of safety').selectOption('violet')
    await page.getByText('safety is violet').waitFor()
    const field = page.getByRole('form', { name: 'New field' })
    await field.getByLabel('Name').fill('Cone')
    await field.getByRole('button', { name: 'Add the field' }).click()
    await page.getByRole('button', { name: 'Move Cone up' }).click()
    await page.waitForFunction(() => document.querySelector('[aria-label="Own fields"] li')?.textContent?.startsWith('Cone'))
    await page.getByRole('button', { name: 'Remove the field Cone' }).click()
    await page.getByText('Cone is off the forms').waitFor()
  })

  test('an epic shows how its parts stand, and stands on the weakest', async () => {
    await page.goto(`${demo.baseUrl}/items~${encodeURIComponent('epic open')}`)
    await page.getByRole('listbox', { name: 'Items' }).focus()
    await page.keyboard.press('ArrowDown')
    await page
      .getByText(/of 6 parts have come this far/)
      .first()
      .waitFor()
    await page.getByText(/^6 parts:/).waitFor()
  })

  test('a lead adds a type and a field, says what a stage needs, and the rule explains itself where it stops someone', async () => {
    await page.goto(`${demo.baseUrl}/settings~fields`)
    await page.getByLabel('New type').fill('question')
    await page.getByRole('button', { name: 'Add', exact: true }).click()
    await page.getByRole('form', { name: 'Type question' }).waitFor()
    const field = page.getByRole('form', { name: 'New field' })
    await field.getByLabel('Name').fill('Glaze batch')
    await field.getByRole('button', { name: 'Add the field' }).click()
    await page.getByRole('region', { name: 'Own fields' }).getByText('Glaze batch').waitFor()
    await page.getByRole('group', { name: 'accepted needs' }).getByLabel('milestone').click()
    await page.getByText('accepted: saved').waitFor()
    expect(await axeFindings(page)).toEqual([])
    const key = await logQuickly('Stage rules explain themselves')
    await pane(key).getByRole('button', { name: 'Accept at 3' }).click()
    await page.getByText(/"accepted" needs a milestone. Fill it in and try again/).waitFor()
    await pane(key).getByLabel('Milestone').fill('4.2')
    await page.keyboard.press('Enter')
    await page.waitForFunction(
      (path) =>
        fetch(path)
          .then((r) => r.json())
          .then((item) => item.milestone === '4.2'),
      `/api/v1/items/${key}`,
    )
    await pane(key).getByRole('button', { name: 'Accept at 3' }).click()
    await page.locator('[data-stage="accepted"][data-state="proved"]').waitFor()
  })

  test('Rafe finds in his inbox that he was mentioned; opening it reads it', async () => {
    const { page: other } = await newPage(browser)
    await signIn(other, demo.baseUrl, 'rafe')
    await other.getByRole('link', { name: /Inbox/ }).click()
    const row = other.getByRole('option', { name: /mentioned .*Lamp on the panel/ })
    await row.waitFor()
    expect(await axeFindings(other)).toEqual([])
    await row.click()
    await other.getByRole('heading', { name: /Lamp on the panel/ }).waitFor()
    await other.close()
  })

  test('nothing went wrong in the page, and the journal gives the tables as they are', () => {
    expect(journey.complaints).toEqual([])
    const { status, said } = verifyData(demo.dataDir)
    expect(said).toContain('clean')
    expect(status).toBe(0)
  })
})
