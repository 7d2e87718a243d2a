import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Page } from 'playwright-core'
import { axeFindings } from './browser.js'
import { makeToken, verifyData, type Demo } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

const PORT = 4840
let journey: Journey
let demo: Demo
let page: Page

beforeAll(async () => {
  journey = await startJourney(PORT, ['ines'])
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
                      `RangeError: ${message}\n    at weigh (/srv/${service}/src/scale.js:${line}:9)\n    at main (/srv/${service}/src/main.js:4:1)`,
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

test('nothing went wrong in the page meanwhile, and the journal rebuilds the tables', () => {
  expect(journey.complaints).toEqual([])
  expect(verifyData(demo.dataDir)).toMatchObject({ status: 0 })
})
