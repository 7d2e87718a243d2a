import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Page } from 'playwright-core'
import { axeFindings } from './browser.js'
import { makeToken, verifyData, type Demo } from './demo-process.js'
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

const list = () => page.getByRole('listbox', { name: 'Faults' })
const api = async (path: string) => (await page.request.get(`${demo.baseUrl}/api/v1${path}`)).json()

/** Sends an error as a program would. */
async function send(token: string, service: string, release: string, line: number, message: string): Promise<void> {
  const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
  const response = await fetch(`${demo.baseUrl}/otlp/v1/logs`, {
    method: 'POST',
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    body: JSON.stringify({
      resourceLogs: [
        {
          resource: {
            attributes: [
              text('service.name', service),
              text('service.version', release),
              text('deployment.environment.name', 'production'),
            ],
          },
          scopeLogs: [
            {
              logRecords: [
                {
                  timeUnixNano: `${Date.now()}000000`,
                  severityNumber: 17,
                  body: { stringValue: message },
                  attributes: [
                    text('exception.type', 'RangeError'),
                    text('exception.message', message),
                    text(
                      'exception.stacktrace',
                      `RangeError: ${message}\n    at weigh (/srv/${service}/src/scale.js:${line}:9)\n` +
                        `    at main (/srv/${service}/src/main.js:4:1)`,
                    ),
                    text('user.id', 'odile@emberwick.example'),
                  ],
                },
              ],
            },
          ],
        },
      ],
    }),
  })
  expect(response.status).toBe(200)
}

describe('connecting', () => {
  test('a service is tried with a test event, which stands in Faults and counts for no release', async () => {
    await page.goto(`${demo.baseUrl}/faults`)
    await page.getByRole('button', { name: 'Connect…' }).click()
    const row = page.getByRole('region', { name: 'Services' }).getByRole('row', { name: /glaze-lab/ })
    await row.waitFor()
    expect(await axeFindings(page)).toEqual([])
    await row.getByRole('button', { name: 'Send a test event' }).click()
    await page.getByText('went the whole way').waitFor()
    await page.getByLabel('Language').selectOption('Python')
    await page.getByText('opentelemetry-exporter-otlp-proto-http').waitFor()
    await page.goto(`${demo.baseUrl}/faults`)
    await list().getByText('This is a test event for glaze-lab').waitFor()
  })
})

describe('faults', () => {
  test('of a program that sends real errors are followed through releases, and mapped to a repository by a lead', async () => {
    const token = makeToken(demo.dataDir, 'intake')
    await send(token, 'scale', '1.0.0', 12, 'no weight of card 4111 1111 1111 1111')
    await send(token, 'scale', '1.1.0', 15, 'no weight of odile@emberwick.example')
    await send(token, 'scale', '1.1.0', 40, 'scale upside down')
    await page.goto(`${demo.baseUrl}/faults`)
    await list().getByText('no weight of card [card number]').waitFor()
    await page.getByLabel('Service').selectOption('scale')
    await page.waitForFunction(() => document.querySelectorAll('[aria-label="Faults"] [role="option"]').length === 2)
    expect(await axeFindings(page)).toEqual([])
    await list().getByText('no weight of card').click()
    const why = page.getByRole('region', { name: 'Why these are one' })
    await why.getByText('Followed through the releases: line 12 of 1.0.0, line 15 of 1.1.0.').waitFor()
    expect(await axeFindings(page)).toEqual([])
    await page.goto(`${demo.baseUrl}/connect`)
    const form = page.getByRole('form', { name: 'Map a service' })
    await form.getByLabel('Built from').selectOption('kiln-controller')
    expect(await form.getByLabel('Service, as it names itself').inputValue()).toBe('scale')
    await form.getByRole('button', { name: 'Map the service' }).click()
    await page.getByText('scale is built from kiln-controller').waitFor()
  })

  test('that are one are merged by name, and taken apart by an example', async () => {
    const { rows } = await api('/faults?service=scale')
    const first = rows.find((row: { message: string }) => row.message.startsWith('no weight')).fault
    const second = rows.find((row: { message: string }) => row.message.startsWith('scale upside')).fault
    await page.goto(`${demo.baseUrl}/faults/fault~${second}`)
    const form = page.getByRole('form', { name: 'Merge' })
    await form.getByLabel('The fault that it goes into').fill(first)
    await page.keyboard.press('Enter')
    await page.getByText(`${second} is ${first} now`).waitFor()
    await page.getByRole('heading', { name: new RegExp(first) }).waitFor()
    expect((await api(`/faults/${first}`)).occurrences).toBe(3)
    // Taken back, and merged once more.
    await page.getByRole('button', { name: `Take out again: ${second}` }).click()
    await page.getByText(`${second} is one of its own again`).waitFor()
    expect((await api(`/faults/${second}`)).occurrences).toBe(1)
    await page.goto(`${demo.baseUrl}/faults/fault~${second}`)
    await form.getByLabel('The fault that it goes into').fill(first)
    await page.keyboard.press('Enter')
    await page.getByText(`${second} is ${first} now`).waitFor()
    await page.getByRole('region', { name: 'Occurrences' }).getByText('scale upside down').first().click()
    const attributes = page.getByRole('region', { name: 'Attributes' })
    // Who was hit has another name here.
    await attributes.getByText(/^person-[0-9a-f]{16}$/).waitFor()
    await page.getByRole('list', { name: 'Frames of RangeError' }).getByText('/srv/scale/src/scale.js:40').waitFor()
    expect(await axeFindings(page)).toEqual([])
    await page.getByRole('button', { name: 'older' }).click()
    await page.getByRole('list', { name: 'Frames of RangeError' }).getByText('/srv/scale/src/scale.js:15').waitFor()
    await page.getByRole('button', { name: 'newer' }).click()
    await page.getByRole('list', { name: 'Frames of RangeError' }).getByText('/srv/scale/src/scale.js:40').waitFor()
    await page.getByRole('form', { name: 'Belongs to another fault' }).getByRole('button', { name: 'From now on' }).click()
    await page.getByText(/What fails at that line is F-\d+ from now on/).waitFor()
    expect((await api(`/faults/${first}`)).occurrences).toBe(2)
  })

  test('fail elsewhere once a lead says whose code is whose, for what is there and for what comes', async () => {
    await page.goto(`${demo.baseUrl}/connect`)
    await page.getByRole('button', { name: 'Change scale' }).click()
    const form = page.getByRole('form', { name: 'What scale is built from' })
    await form.getByLabel('Never our code').fill('src/scale.js')
    expect(await axeFindings(page)).toEqual([])
    await form.getByRole('button', { name: 'Save' }).click()
    await page.getByText(/^Saved;/).waitFor()
    const token = makeToken(demo.dataDir, 'intake')
    await send(token, 'scale', '3.0.0', 77, 'no weight of nothing')
    await page.waitForFunction(async () => {
      const { rows } = await (await fetch('/api/v1/faults?service=scale&release=3.0.0')).json()
      return rows[0]?.place === 'main@src/main.js'
    })
  })

  test('hold nothing that a rule of one’s own takes out', async () => {
    await page.goto(`${demo.baseUrl}/connect`)
    const add = page.getByRole('form', { name: 'Take out more' })
    await add.getByLabel('Pattern (RE2)').fill('(clay')
    await add.getByRole('button', { name: 'Take it out' }).click()
    await page.getByText(/Not a pattern/).waitFor()
    await add.getByLabel('Pattern (RE2)').fill('clay-[0-9]+')
    await add.getByLabel('What stands there instead').fill('clay number')
    await page.keyboard.press('Enter')
    await page.getByText('[clay number]', { exact: true }).waitFor()
    const tried = page.getByRole('form', { name: 'Try it' })
    await tried.getByLabel('Try a text').fill('clay-77 cracked')
    await page.keyboard.press('Enter')
    await tried.getByText('[clay number] cracked').waitFor()
    expect(await axeFindings(page)).toEqual([])
    await send(makeToken(demo.dataDir, 'intake'), 'scale', '3.0.0', 78, 'clay-77 cracked')
    await page.waitForFunction(async () => {
      const { rows } = await (await fetch('/api/v1/faults?service=scale&q=cracked')).json()
      return rows[0]?.message === '[clay number] cracked'
    })
    await page.getByRole('button', { name: 'Remove the rule clay-[0-9]+' }).click()
    await page.getByText('is kept from now on').waitFor()
  })

  test('are found by words and without an item, in other orders, by keyboard', async () => {
    await page.goto(`${demo.baseUrl}/faults`)
    await list().getByRole('option').first().waitFor()
    await page.getByLabel('Order').selectOption('times')
    await page.getByLabel('Item').selectOption('some')
    await page.waitForFunction(() => !document.querySelector('[aria-label="Faults"]')?.textContent?.includes('no item'))
    await page.getByLabel('Find faults').fill('segmentMinutes')
    await page.waitForFunction(() => document.querySelectorAll('[aria-label="Faults"] [role="option"]').length === 1)
    await list().focus()
    await page.keyboard.press('ArrowDown')
    await page.waitForURL(/fault~F-\d+/)
    await page.getByRole('img', { name: 'Occurrences over time' }).waitFor()
    expect(await axeFindings(page)).toEqual([])
  })
})

test('an occurrence shows what happened around it, in one line of time', async () => {
  const [{ fault }] = (await api('/faults?q=segmentMinutes')).rows
  const [{ occurrenceId }] = (await api(`/faults/${fault}/occurrences`)).rows
  await page.goto(`${demo.baseUrl}/faults/fault~${fault}/occurrence~${fault},${occurrenceId}`)
  const around = page.getByRole('region', { name: 'What happened around it' })
  const rows = around.getByRole('row')
  await around.getByText('POST /firings 500').waitFor()
  expect(await rows.allTextContents()).toEqual([
    expect.stringContaining('from the error'),
    expect.stringMatching(/^−\d+ msplan firing POST \/firings 500/),
    expect.stringMatching(/^−\d+ msload schedule sqlite SELECT segment/),
    expect.stringMatching(/^−\d+ msinfo firing \d+: schedule of 5 segments/),
    expect.stringMatching(/^−\d+ msadd up minutes/),
    expect.stringMatching(/^−\d+ mswarning firing \d+: segment 3 has no ramp/),
    expect.stringMatching(/^0 msTypeError: Cannot read properties of undefined/),
  ])
  expect(await axeFindings(page)).toEqual([])
})

describe('what is done about faults', () => {
  const pane = (name: string) => page.getByRole('region', { name, exact: true })

  test('one is silenced until it comes more often, and is heard again at one click', async () => {
    await page.goto(`${demo.baseUrl}/faults/fault~F-3`)
    await pane('F-3').getByRole('button', { name: 'Silence…' }).click()
    const form = page.getByRole('form', { name: 'Silence' })
    await form.getByLabel('Once it occurred so many times more').fill('50')
    await form.getByLabel('Why').fill('the relay board is on its way')
    expect(await axeFindings(page)).toEqual([])
    await form.getByRole('button', { name: 'Silence', exact: true }).click()
    await pane('F-3')
      .getByText(/until it occurred 50 times more: the relay board is on its way/)
      .waitFor()
    await page.getByRole('button', { name: 'Take back' }).click()
    await pane('F-3').getByRole('button', { name: 'Silence…' }).waitFor()
  })

  test('one gets an owner, is tied to an open item with the reason shown, and untied', async () => {
    await page.goto(`${demo.baseUrl}/faults/fault~F-3`)
    await pane('F-3').getByLabel('Who has it').selectOption({ label: 'Tam Adeyemi' })
    await page.getByText('F-3 given away').waitFor()
    await pane('F-3').getByRole('button', { name: 'Tie…' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByLabel('Key or words').fill('EMB-40')
    await dialog
      .getByRole('list', { name: 'Items' })
      .getByRole('button', { name: /^EMB-40/ })
      .click()
    await pane('F-3').getByText('stands for it').waitFor()
    expect((await api('/faults/F-3')).item.key).toBe('EMB-40')
    await pane('F-3').getByRole('button', { name: 'untie' }).click()
    await pane('F-3').getByText('No item stands for it yet.').waitFor()
  })

  test('several are set aside by keyboard, and the last change is taken back by z', async () => {
    await page.goto(`${demo.baseUrl}/faults`)
    await list().getByRole('option').first().waitFor()
    await page.getByLabel('Item').selectOption('none')
    await page.waitForFunction(() =>
      [...document.querySelectorAll('[aria-label="Faults"] [role="option"]')].every((row) => row.textContent?.includes('no item')),
    )
    await list().focus()
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press(' ')
    await page.keyboard.press('Shift+ArrowDown')
    const bar = page.getByRole('toolbar', { name: 'Chosen faults' })
    await bar.getByText('2 chosen').waitFor()
    await bar.getByRole('button', { name: 'Not ours…' }).click()
    await page.getByRole('dialog').getByLabel(/Why/).fill('a crawler')
    await page.getByRole('button', { name: 'It is not ours' }).click()
    await page.getByText('2 faults set aside: not ours').waitFor()
    expect((await api('/faults?state=not-ours')).rows).toHaveLength(2)
    await page.getByRole('button', { name: 'Take back' }).click()
    await page.waitForFunction(async () => (await (await fetch('/api/v1/faults?state=not-ours')).json()).rows.length === 0)
  })

  test('a rule is changed as a sentence, tried beside what holds, kept as a draft and let hold again', async () => {
    await page.goto(`${demo.baseUrl}/settings~errors/rule~EMB,live-faults`)
    const rule = pane('Intake rule')
    await rule.getByText('holds', { exact: true }).waitFor()
    await rule.getByLabel('At least so many people').fill('19')
    await rule.getByLabel('within so long').fill('2')
    await rule.getByLabel('Unit of the while').selectOption('1440')
    await rule.getByRole('button', { name: 'Try it on 30 days' }).click()
    const trial = pane('Trial')
    await trial.getByText(/as it holds now/).waitFor()
    await trial.getByRole('region', { name: 'No longer' }).getByRole('link', { name: 'EMB-166' }).waitFor()
    expect(await axeFindings(page)).toEqual([])
    // Nothing of it is stored yet.
    expect((await api('/projects/EMB/intake-rules/live-faults')).rule).toMatchObject({
      peopleAtLeast: 0,
      windowMinutes: 10,
      isDraft: false,
    })
    await rule.getByRole('button', { name: 'Make it a draft' }).click()
    await rule.getByText('draft, does nothing').waitFor()
    await rule.getByLabel('At least so many people').fill('0')
    await rule.getByLabel('Further conditions').fill('service=nowhere or serv')
    await rule
      .getByRole('option', { name: /service=/ })
      .first()
      .waitFor()
    await rule.getByLabel('Further conditions').fill('servce=x')
    await rule
      .getByRole('alert')
      .getByText(/is no field/)
      .waitFor()
    await rule.getByLabel('Further conditions').fill('new or returned')
    await rule.getByLabel('Further conditions').press('Enter')
    await rule.getByRole('button', { name: 'Let it hold' }).click()
    await rule.getByText('holds', { exact: true }).waitFor()
    expect((await api('/projects/EMB/intake-rules/live-faults')).rule).toMatchObject({
      peopleAtLeast: 0,
      windowMinutes: 2880,
      where: 'new or returned',
      isDraft: false,
    })
  })

  test('rules are put into another order, copied as drafts, removed and taken back; their budget is set', async () => {
    await page.goto(`${demo.baseUrl}/settings~errors`)
    const rules = pane('Intake rules')
    const names = () => rules.getByRole('listitem').evaluateAll((lines) => lines.map((line) => line.querySelector('button')?.textContent))
    await rules.getByRole('button', { name: 'Move live faults down' }).click()
    await page.waitForFunction(() => document.querySelector('[aria-label="Intake rules"] li button')?.textContent === 'many people at once')
    const grip = rules.locator('[title="drag to another place"]')
    const [from, to] = [await grip.nth(1).boundingBox(), await grip.nth(0).boundingBox()]
    if (!from || !to) throw new Error('the rules are not on screen')
    await page.mouse.move(from.x + 5, from.y + 5)
    await page.mouse.down()
    await page.mouse.move(to.x + 5, to.y + 12, { steps: 8 })
    await page.mouse.move(to.x + 5, to.y - 4, { steps: 4 })
    await page.mouse.up()
    await page.waitForFunction(() => document.querySelector('[aria-label="Intake rules"] li button')?.textContent === 'live faults')
    await rules.getByRole('button', { name: 'Copy live faults' }).click()
    await pane('Intake rule').getByText('draft, does nothing').waitFor()
    await page.goto(`${demo.baseUrl}/settings~errors`)
    await rules.getByRole('button', { name: 'Remove many people at once' }).click()
    await page.getByText('many people at once is removed; its items stay').waitFor()
    await page.getByRole('button', { name: 'Take back' }).click()
    await rules.getByRole('button', { name: 'many people at once', exact: true }).waitFor()
    await page.waitForFunction(() =>
      document.querySelectorAll('[aria-label="Intake rules"] li')[1]?.textContent?.includes('many people at once'),
    )
    expect(await names()).toEqual(['live faults', 'many people at once', 'staging alone', 'Copy of live faults'])
    await rules.getByLabel('Items a day, of all rules').fill('20')
    await rules.getByLabel('Items a day, of all rules').press('Enter')
    await page.getByText('The budget is saved').waitFor()
    expect((await api('/projects/EMB/intake-rules')).budget).toMatchObject({ perHour: null, perDay: 20 })
    expect(await axeFindings(page)).toEqual([])
  })
})

test('nothing went wrong in the page meanwhile, and the journal rebuilds the tables', () => {
  expect(journey.complaints).toEqual([])
  expect(verifyData(demo.dataDir)).toMatchObject({ status: 0 })
})
