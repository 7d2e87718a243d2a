import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { axeFindings, newPage, stageBecomes, startBrowser } from './browser.js'
import { git, makeToken, removeData, startEmpty, verifyData, type Demo } from './demo-process.js'

// A team that never saw the demo: an empty folder, a repository of their own, nothing else.
const PORT = 4850
const code = mkdtempSync(join(tmpdir(), 'dystracer-code-'))
const tides = join(code, 'tides')
let product: Demo & { said: string }
let browser: Browser
let page: Page
let complaints: string[]
beforeAll(async () => {
  mkdirSync(tides)
  git(tides, 'init', '--quiet', '--initial-branch=trunk')
  commit('first words', 'Begin the tide table')
  product = await startEmpty(PORT, { DYSTRACER_REPOSITORIES: code, DYSTRACER_POLL_SECONDS: '2' })
  browser = await startBrowser()
  ;({ page, complaints } = await newPage(browser))
})
afterAll(async () => {
  await browser?.close()
  await product?.stop()
  if (product) removeData(product.dataDir)
  removeData(code)
})
function commit(text: string, message: string): void {
  writeFileSync(join(tides, 'tides.py'), `${text}\n`)
  git(tides, 'add', '.')
  git(tides, 'commit', '--quiet', '-m', message)
}

test('the first person signs up by the printed link and names what they work on', async () => {
  await page.goto(/http\S+sign-up\S+/.exec(product.said)?.[0] ?? '')
  await page.getByLabel('Name', { exact: true }).fill('Ada Berg')
  await page.getByLabel('E-mail address').fill('ada@example.org')
  await page.getByLabel(/What are you working on/).fill('Tide tables')
  await page.getByLabel(/Password/).fill('long enough to pass')
  await page.getByRole('button', { name: 'Begin' }).click()
  await page.getByRole('link', { name: 'Tide tables' }).waitFor()
  const steps = page.getByRole('region', { name: 'First steps' })
  await steps.getByRole('link', { name: 'Connect your code' }).waitFor()
  expect(await steps.getByRole('listitem').count()).toBe(6)
  expect(await axeFindings(page)).toEqual([])
  expect((await page.textContent('body')) ?? '').not.toMatch(/Emberwick|EMB-/)
})

test('a wrong address is told at once; then their own repository is connected and read', async () => {
  await page.goto(`${product.baseUrl}/code`)
  await page.getByText('No repository is connected yet.').waitFor()
  await page.getByRole('button', { name: 'Connect a repository…' }).click()
  const address = page.getByLabel('Its address')
  await address.fill(join(code, 'nothing'))
  await page.getByRole('button', { name: 'Connect', exact: true }).click()
  await page.getByText('There is nothing at this path on the server').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await address.fill(tides)
  await page.getByRole('button', { name: 'Connect', exact: true }).click()
  await page.getByText('tides is connected. Its main line is trunk').waitFor()
  await page.getByRole('tab', { name: 'commits' }).click()
  await page.getByText('Begin the tide table').waitFor()
  expect(await axeFindings(page)).toEqual([])
})

test('a requirement is begun under a prefix of their own, and its title put right', async () => {
  await page.goto(`${product.baseUrl}/requirements`)
  await page.getByRole('button', { name: 'Begin a requirement…' }).click()
  await page.getByLabel('Title').fill('Low water is right')
  await page.getByLabel(/What is asked for/).fill('Low water differs by at most five minutes from the gauge.')
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('button', { name: 'Begin', exact: true }).click()
  const pane = page.getByRole('region', { name: 'TTR-1' })
  await pane.getByText('differs by at most five minutes').waitFor()
  await pane.getByRole('button', { name: 'edit' }).click()
  await pane.getByLabel('Requirement title').fill('Low water is right to five minutes')
  await pane.getByRole('button', { name: 'Save revision 2' }).click()
  await pane.getByText(/^revision 2/).waitFor()
  await page.getByRole('option', { name: /TTR-1 Low water is right to five minutes/ }).waitFor()
})

test('a defect that breaks it is logged, and a pushed fix moves its stair', async () => {
  const { csrfToken } = await (await page.request.get(`${product.baseUrl}/api/v1/me`)).json()
  const logged = await page.request.post(`${product.baseUrl}/api/v1/items`, {
    headers: { 'x-dystracer-csrf': csrfToken as string },
    data: { title: 'Low water is an hour late', requirement: 'TTR-1', severity: 2 },
  })
  expect((await logged.json()).key).toBe('TT-1')
  await page.goto(`${product.baseUrl}/items/item~TT-1`)
  await page.getByText('Breaks TTR-1').waitFor()
  commit('second words', 'Count from the last high water')
  // No key in the message: a person says that this commit is the fix. It is looked for every two seconds here.
  const sha = git(tides, 'rev-parse', 'HEAD').trim()
  for (let tries = 0; tries < 30; tries++) {
    const seen = await page.request.get(`${product.baseUrl}/api/v1/commits/tides/${sha}`)
    if (seen.ok()) break
    await page.waitForTimeout(1000)
  }
  await page.getByRole('button', { name: 'Tie to another…' }).click()
  const tie = page.getByRole('dialog')
  await tie.getByRole('combobox').selectOption({ label: 'is fixed by (a commit or a pull request)' })
  await tie.getByLabel('Key, hash, repository/number or words').fill(sha.slice(0, 10))
  await tie.getByRole('button', { name: /Count from the last high water/ }).click()
  await page.getByText('Fixed by').waitFor()
  await stageBecomes(page, 'merged', 'proved')
  // What a person tied, a person can untie.
  await page.getByRole('button', { name: /^Untie tides\// }).click()
  await page.locator('[data-stage="merged"]:not([data-state="proved"])').first().waitFor()
}, 120_000)

test('a report of their tests, sent as the Desk says, is a build, and proves the requirement', async () => {
  const token = makeToken(product.dataDir, 'intake')
  const sha = git(tides, 'rev-parse', 'HEAD').trim()
  const report = '<testsuite name="tides"><testcase classname="tides" name="TTR-1 low water is right"/></testsuite>'
  const address = `${product.baseUrl}/receive/reports/junit?repository=tides&commit=${sha}&build=1`
  const sent = await fetch(address, { method: 'POST', headers: { authorization: `Bearer ${token}` }, body: report })
  expect([sent.status, await sent.json()]).toEqual([200, { results: 1 }])
  await page.goto(`${product.baseUrl}/builds`)
  await page.getByRole('option', { name: /tides/ }).waitFor()
  await page.goto(`${product.baseUrl}/requirements/requirement~TTR-1`)
  await page.getByText('TTR-1 low water is right').waitFor()
})

test('steps that were taken are gone from the Desk', async () => {
  await page.goto(`${product.baseUrl}/desk`)
  const steps = page.getByRole('region', { name: 'First steps' })
  await steps.waitFor()
  expect(await steps.getByRole('listitem').allTextContents()).toEqual([
    expect.stringContaining('Invite people'),
    expect.stringContaining('Connect the running program'),
  ])
})

test('? shows every key, those of the place first', async () => {
  await page.goto(`${product.baseUrl}/items`)
  await page.getByRole('listbox').first().focus()
  await page.keyboard.press('?')
  const sheet = page.getByRole('dialog', { name: 'Keys' })
  expect((await sheet.getByRole('region').first().getAttribute('aria-label')) ?? '').toBe('Items')
  await sheet.getByText('Accept at this severity, with what stands chosen').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await page.keyboard.press('Escape')
  await sheet.waitFor({ state: 'detached' })
  expect(complaints).toEqual([])
})

test('what they made is all in the journal: the tables come out of it again', async () => {
  await product.stop()
  expect(verifyData(product.dataDir)).toMatchObject({ status: 0 })
})
