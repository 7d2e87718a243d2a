import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { execFile } from 'node:child_process'
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { generateSync } from 'otplib'
import type { Browser, Page } from 'playwright-core'
import { axeFindings, newPage, stageBecomes, startBrowser } from './browser.js'
import { git, makeToken, removeData, startEmpty, verifyData, type Demo } from './demo-process.js'

// A team that never saw the demo: an empty folder, a repository of their own, nothing else.
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
  product = await startEmpty({ DYSTRACER_REPOSITORIES: code, DYSTRACER_POLL_SECONDS: '2' })
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
/**
 * Leaves by the button of one's own account, and signs in anew. The account has a field for an e-mail
 * address of its own and stands until the server has answered, so that its going is awaited before the form is filled.
 */
async function signOutAndIn(email: string, password: string): Promise<void> {
  const you = page.getByRole('region', { name: 'You', exact: true })
  await you.getByRole('button', { name: 'Sign out' }).click()
  await you.waitFor({ state: 'detached' })
  await page.getByLabel('E-mail address').fill(email)
  await page.getByLabel('Password').fill(password)
  await page.getByRole('button', { name: 'Sign in', exact: true }).click()
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
  await page.goto(`${product.baseUrl}/requirements~table`)
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

test('requirements are put in order below a heading, retired with the reason, and let hold again', async () => {
  await page.goto(`${product.baseUrl}/requirements~table`)
  await page.getByRole('button', { name: 'Begin a requirement…' }).click()
  await page.getByLabel('Kind').selectOption('heading')
  await page.getByLabel('Title').fill('What sailors rely on')
  await page.getByRole('button', { name: 'Begin', exact: true }).click()
  await page.getByRole('region', { name: 'TTR-2' }).getByText('Nothing yet.').waitFor()
  await page.goto(`${product.baseUrl}/requirements~table/requirement~TTR-1`)
  const pane = page.getByRole('region', { name: 'TTR-1' })
  await pane.getByRole('button', { name: 'Move…' }).click()
  const move = page.getByRole('dialog', { name: 'Move TTR-1' })
  await move.getByLabel('Below').selectOption('TTR-2')
  expect(await axeFindings(page)).toEqual([])
  await move.getByRole('button', { name: 'Move it' }).click()
  await page.getByText('TTR-1 is moved').waitFor()
  const keys = async () => (await page.getByRole('option').allTextContents()).map((text) => /TTR-\d/.exec(text)?.[0])
  await page.waitForFunction(() => document.querySelector('[role="option"]')?.textContent?.includes('TTR-2'))
  expect(await keys()).toEqual(['TTR-2', 'TTR-1'])
  await pane.getByRole('button', { name: 'Retire…' }).click()
  await page.getByRole('dialog').getByLabel('Why it holds no more').fill('The gauge is gone')
  await page.getByRole('button', { name: 'Retire it' }).click()
  await pane.getByText('Retired: it holds no more. The gauge is gone').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await pane.getByRole('button', { name: 'Let it hold again' }).click()
  await pane.getByText(/Retired: it holds no more/).waitFor({ state: 'detached' })
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

test('a report of their tests, sent as the Desk says with a token made there, is a build, and proves the requirement', async () => {
  await page.goto(`${product.baseUrl}/desk`)
  const steps = page.getByRole('region', { name: 'First steps' })
  await steps.getByRole('button', { name: 'Make the token…' }).click()
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('dialog').getByRole('button', { name: 'Make it' }).click()
  const token = (await steps.getByLabel('The new token').textContent()) ?? ''
  expect(token).toMatch(/^dys_/)
  const sha = git(tides, 'rev-parse', 'HEAD').trim()
  const report = '<testsuite name="tides"><testcase classname="tides" name="TTR-1 low water is right"/></testsuite>'
  const address = `${product.baseUrl}/receive/reports/junit?repository=tides&commit=${sha}&build=1`
  const sent = await fetch(address, { method: 'POST', headers: { authorization: `Bearer ${token}` }, body: report })
  expect([sent.status, await sent.json()]).toEqual([200, { kind: 'tests', results: 1, notes: [] }])
  await page.goto(`${product.baseUrl}/builds`)
  await page.getByRole('option', { name: /tides/ }).waitFor()
  await page.goto(`${product.baseUrl}/requirements~table/requirement~TTR-1`)
  await page.getByText('TTR-1 low water is right').waitFor()
})

const room = (name: string) =>
  page.getByRole('navigation', { name: 'Rooms of the settings' }).getByRole('button', { name: new RegExp(`^${name}`) })

test('the settings are found by what one wants to change: where releases run', async () => {
  await page.goto(`${product.baseUrl}/settings`)
  await page.getByRole('searchbox', { name: 'What do you want to change?' }).fill('approval')
  await page.keyboard.press('Enter')
  const environments = page.getByRole('region', { name: 'Environments' })
  await environments.getByText('None yet.').waitFor()
  for (const [name, kind] of [
    ['rehearsal', 'staging'],
    ['live', 'production'],
  ] as const) {
    await environments.getByRole('textbox', { name: 'New environment' }).fill(name)
    await environments.getByRole('combobox', { name: 'Kind', exact: true }).selectOption(kind)
    await environments.getByRole('button', { name: 'Add the environment' }).click()
    await environments.getByRole('row', { name: new RegExp(name) }).waitFor()
  }
  await environments.getByRole('checkbox', { name: 'live needs approval' }).click()
  await page.getByText('live is saved').waitFor()
  await environments.getByRole('button', { name: 'Remove rehearsal' }).click()
  await page.getByText('rehearsal is removed').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await page.goto(`${product.baseUrl}/releases`)
  await page.getByText('live').first().waitFor()
})

test('a tag is a release; it is asked for, approved, and said to run, since no deployer is there', async () => {
  git(tides, 'tag', 'v1.0.0')
  await page.goto(`${product.baseUrl}/releases`)
  await page.getByRole('button', { name: 'Ask to deploy tides 1.0.0 to live' }).click({ timeout: 30_000 })
  await page.getByRole('button', { name: 'Approve 1.0.0 for live' }).click()
  await page.getByText('1.0.0 may go to live').waitFor()
  await page.getByRole('button', { name: 'It runs there…' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'It runs there', exact: true }).click()
  await page.getByText('runs', { exact: true }).waitFor()
  await page.getByRole('button', { name: 'Take back that tides 1.0.0 runs in live' }).waitFor()
  expect(await axeFindings(page)).toEqual([])
})

test('an error of their program becomes a fault, is logged by hand; a rule is tried and saved', async () => {
  await page.goto(`${product.baseUrl}/connect`)
  const token = makeToken(product.dataDir, 'intake')
  const { csrfToken } = await (await page.request.get(`${product.baseUrl}/api/v1/me`)).json()
  const connected = await page.request.post(`${product.baseUrl}/api/v1/projects/TT/services`, {
    headers: { 'x-dystracer-csrf': csrfToken as string },
    data: { service: 'tide-clock', repository: 'tides' },
  })
  expect(connected.ok()).toBe(true)
  const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
  const sent = await fetch(`${product.baseUrl}/otlp/v1/logs`, {
    method: 'POST',
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    body: JSON.stringify({
      resourceLogs: [
        {
          resource: { attributes: [text('service.name', 'tide-clock'), text('deployment.environment.name', 'live')] },
          scopeLogs: [
            {
              logRecords: [
                {
                  timeUnixNano: `${Date.now()}000000`,
                  severityNumber: 17,
                  body: { stringValue: 'no moon' },
                  attributes: [
                    text('exception.type', 'MoonError'),
                    text('exception.message', 'no moon'),
                    text('exception.stacktrace', 'MoonError: no moon\n    at phase (/srv/tides/src/moon.js:5:3)'),
                  ],
                },
              ],
            },
          ],
        },
      ],
    }),
  })
  expect(sent.status).toBe(200)
  await page.goto(`${product.baseUrl}/settings~errors`)
  await page.getByRole('button', { name: 'New rule…' }).click()
  const rule = page.getByRole('region', { name: 'Intake rule', exact: true })
  await rule.getByLabel('Name').fill('Whatever is seen live')
  await rule.getByLabel('At least so many times').fill('1')
  await rule.getByLabel('Environment').selectOption('any')
  await rule.getByRole('button', { name: 'Try it on 30 days' }).click()
  const trial = page.getByRole('region', { name: 'Trial' })
  await trial.getByRole('status').getByText('MoonError').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await page.goto(`${product.baseUrl}/settings~errors/rule~TT,new`)
  await rule.getByLabel('Name').fill('Whatever is seen live')
  await rule.getByRole('button', { name: 'Let it hold' }).click()
  await rule.getByText('It has done nothing yet.').waitFor()
  await page.goto(`${product.baseUrl}/settings~errors`)
  await page.getByRole('region', { name: 'Intake rules' }).getByText('has not fired').waitFor()
  await page.goto(`${product.baseUrl}/faults/fault~F-1`)
  await page.getByRole('button', { name: 'Log a defect for it' }).click()
  await page.getByText(/is logged for F-1/).waitFor()
  await page.getByRole('region', { name: 'TT-2' }).waitFor()
})

test('somebody is invited by a link, signs up in a browser of their own, and is made a lead', async () => {
  await page.goto(`${product.baseUrl}/settings`)
  await room('People').click()
  const form = page.getByRole('form', { name: 'Invite somebody' })
  await form.getByLabel('Name').fill('Bo Lind')
  await form.getByLabel('E-mail address').fill('bo@example.org')
  await form.getByRole('button', { name: 'Invite' }).click()
  const link = (await page.getByLabel('Link', { exact: true }).textContent()) ?? ''
  expect(link).toMatch(/\/sign-up\//)
  expect(await axeFindings(page)).toEqual([])
  const { page: other } = await newPage(browser)
  await other.goto(link)
  await other.getByLabel(/Password/).fill('password123')
  await other.getByRole('button', { name: 'Begin' }).click()
  await other.getByText(/very common password/).waitFor()
  await other.getByLabel(/Password/).fill('four gulls on a breakwater')
  await other.getByRole('button', { name: 'Begin' }).click()
  await other.getByRole('link', { name: /Signed in as Bo Lind/ }).waitFor()
  await page.getByRole('combobox', { name: 'Role of Bo Lind' }).selectOption('lead')
  await page.getByText('Bo Lind is lead now').waitFor()
  // Who uses the link a second time is told.
  await other.goto(link)
  await other.getByText(/This sign-up link was used already/).waitFor()
  await other.context().close()
})

test('a token is made for a program, seen once, listed, renewed and taken back', async () => {
  await page.goto(`${product.baseUrl}/settings~tokens`)
  await page.getByRole('button', { name: 'Make a token…' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel(/What it is for/).fill('web page')
  await dialog.getByLabel('It may').selectOption('telemetry')
  await dialog.getByLabel(/For web pages/).fill('https://tides.example.org/page')
  await dialog.getByRole('button', { name: 'Make it' }).click()
  await dialog.getByText(/An origin such as/).waitFor()
  await dialog.getByLabel(/For web pages/).fill('https://tides.example.org')
  await dialog.getByLabel(/Only for these services/).fill('tide-clock')
  expect(await axeFindings(page)).toEqual([])
  await dialog.getByRole('button', { name: 'Make it' }).click()
  const tokens = page.getByRole('region', { name: 'Tokens' })
  const first = (await tokens.getByLabel('The new token').textContent()) ?? ''
  await tokens.getByText('only tide-clock, https://tides.example.org').waitFor()
  await tokens.getByRole('button', { name: 'I have it' }).click()
  await tokens.getByRole('button', { name: 'renew web page' }).click()
  expect((await tokens.getByLabel('The new token').textContent()) ?? '').not.toBe(first)
  await tokens.getByRole('button', { name: 'take back web page' }).first().click()
  await page.getByText('web page opens nothing any more').first().waitFor()
  expect(await axeFindings(page)).toEqual([])
})

test('a program that sends a shape of its own gets a hook; how it is read is shown on what came', async () => {
  await page.goto(`${product.baseUrl}/settings~code`)
  await page.getByRole('button', { name: 'A hook for a program…' }).click()
  await page.getByLabel('What the program is called').fill('Night builder')
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('button', { name: 'Make it' }).click()
  await page.getByLabel('Its messages are proven by').selectOption('secret-in-header')
  await page.getByLabel('Name of the header').waitFor()
  await page.getByRole('button', { name: 'Show the secret' }).click()
  const secret = await page.getByLabel('Secret of the hook').innerText()
  const sent = { event: 'job.done', repo: 'tides', job: { id: 71, state: 'RED' } }
  const send = () =>
    fetch(`${product.baseUrl}/receive/hooks/night-builder`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-secret': secret },
      body: JSON.stringify(sent),
    })
  expect((await send()).status).toBe(202)
  await page.getByText('No reading of this hook is about it yet.').waitFor()
  await page.getByRole('button', { name: 'Another reading' }).click()
  await page.getByLabel('Name of the reading').fill('job is done')
  await page.getByLabel('Place of repository').fill('/repo')
  await page.getByLabel('Place of build').fill('/job/id')
  await page.getByLabel('Words of outcome').fill('RED = broke, GREEN = passed')
  await page.getByRole('button', { name: 'Try on what came' }).click()
  await page.getByText('but it lacks outcome').waitFor()
  await page.getByLabel('Place of outcome').fill('/job/state')
  await page.getByRole('button', { name: 'Try on what came' }).click()
  await page.getByText('a build ended: repository tides, build 71, outcome broke').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await page.getByText('Kept; messages are read so from now on').waitFor()
  await page.getByRole('button', { name: /^take again: message/ }).click()
  await page.getByText('Taken again').waitFor()
  await page.goto(`${product.baseUrl}/builds/build~tides%2F71`)
  await page.getByRole('heading', { name: /71/ }).waitFor()
})

test('the secret of webhooks is shown where code is connected, and renewed', async () => {
  await page.goto(`${product.baseUrl}/settings~code`)
  await page.getByRole('region', { name: 'Repositories' }).getByText('tides', { exact: true }).waitFor()
  await page.getByRole('button', { name: 'Show the secret' }).click()
  const secret = page.getByLabel('Secret of webhooks')
  const before = await secret.textContent()
  await page.getByRole('button', { name: 'Make a new secret' }).click()
  await page.getByText('The old secret is refused from now on').waitFor()
  await page.waitForFunction((old) => document.querySelector('[aria-label="Secret of webhooks"]')?.textContent !== old, before)
  expect(await axeFindings(page)).toEqual([])
})

test('a repository is read no more, and again; an address that holds none moves nothing', async () => {
  const repositories = page.getByRole('region', { name: 'Repositories' })
  await repositories.getByRole('button', { name: 'read no more: tides' }).click()
  await repositories.getByText(/read no more since/).waitFor()
  await repositories.getByRole('button', { name: 'address and login: tides' }).click()
  const dialog = page.getByRole('dialog', { name: 'Where tides is read from' })
  await dialog.getByLabel('Its address').fill(join(code, 'nothing'))
  await dialog.getByRole('button', { name: 'Read it from there' }).click()
  await dialog.getByText(/nothing at this path/).waitFor()
  expect(await axeFindings(page)).toEqual([])
  await page.keyboard.press('Escape')
  await repositories.getByRole('button', { name: 'read again: tides' }).click()
  await repositories.getByText(/read no more since/).waitFor({ state: 'detached' })
  expect(await axeFindings(page)).toEqual([])
})

test('requirements are brought in from a file: tried first, with what is wrong by its line', async () => {
  await page.goto(`${product.baseUrl}/requirements~table`)
  await page.getByRole('button', { name: 'Bring some in…' }).click()
  const dialog = page.getByRole('dialog', { name: 'Bring requirements in' })
  const csv = 'Id,Title,Text,Parent\nm1,Moon,The moon shall be told.,\nm2,Neap,,m9\n'
  await dialog.getByLabel('The file').setInputFiles({ name: 'moon.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) })
  await dialog.getByText('Row 3, Parent: It stands below M9, which is not there').waitFor()
  await dialog.getByText(/^1 new one, 0 changed/).waitFor()
  expect(await axeFindings(page)).toEqual([])
  await dialog.getByRole('button', { name: 'Bring them in' }).click()
  await page.getByRole('option', { name: /Moon/ }).waitFor()
})

test('the project is called otherwise; its keys stay', async () => {
  await page.goto(`${product.baseUrl}/settings~project`)
  await page.getByRole('button', { name: 'call it otherwise…' }).click()
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('dialog').getByLabel('Name').fill('Tides and weather')
  await page.getByRole('button', { name: 'Call it so' }).click()
  await page.getByRole('link', { name: 'Tides and weather' }).waitFor()
  await page.getByRole('button', { name: 'call it otherwise…' }).click()
  await page.getByRole('dialog').getByLabel('Name').fill('Tide tables')
  await page.getByRole('button', { name: 'Call it so' }).click()
  await page.getByRole('link', { name: 'Tide tables' }).waitFor()
})

test('the project is archived, so that nothing in it is changed, and opened again', async () => {
  await page.getByRole('button', { name: 'archive it…' }).click()
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('button', { name: 'Archive it' }).click()
  await page.getByRole('button', { name: 'its items' }).click()
  await page.getByRole('listbox', { name: 'Items' }).getByRole('option').first().click()
  await page.getByText(/is archived: it can be read, and nothing in it is changed/).waitFor()
  expect(await axeFindings(page)).toEqual([])
  await page.goto(`${product.baseUrl}/settings~project`)
  await page.getByRole('button', { name: 'open it again' }).click()
  await page.getByText('Tide tables is open again').waitFor()
})

test('a branch is asked for, read and merged where plain git is all there is', async () => {
  git(tides, 'config', 'receive.denyCurrentBranch', 'ignore')
  // The branch is there at once with its commit: looked at in between, it would bring nothing yet, and could not be asked for.
  git(tides, 'checkout', '--quiet', '--detach')
  writeFileSync(join(tides, 'ebb.py'), 'ebb = 6.2\n')
  git(tides, 'add', '.')
  git(tides, 'commit', '--quiet', '-m', 'The ebb is later')
  git(tides, 'branch', 'later-ebb')
  git(tides, 'checkout', '--quiet', 'trunk')
  await page.goto(`${product.baseUrl}/code`)
  await page.getByRole('tab', { name: 'branches' }).click()
  await page.getByRole('option', { name: /later-ebb/ }).click()
  await page.getByRole('button', { name: 'Open a pull request…' }).click()
  const dialog = page.getByRole('dialog', { name: /later-ebb/ })
  expect(await axeFindings(page)).toEqual([])
  await dialog.getByLabel('Title').fill('A later ebb')
  await dialog.getByRole('button', { name: 'Open the pull request' }).click()
  const pullRequest = page.getByRole('region', { name: /^Pull request \d+$/ })
  await pullRequest.getByRole('heading', { name: 'A later ebb' }).waitFor()
  await pullRequest.getByRole('button', { name: 'files' }).click()
  await page
    .getByRole('region', { name: /^Files of/ })
    .getByText('ebb = 6.2')
    .waitFor()
  expect(await axeFindings(page)).toEqual([])
  await pullRequest.getByRole('button', { name: 'Close it' }).click()
  await pullRequest.getByRole('button', { name: 'Open it again' }).click()
  await pullRequest.getByRole('button', { name: 'Change what it says…' }).click()
  await page.getByRole('dialog').getByLabel('What it is for').fill('The moon is late.')
  await page.getByRole('button', { name: 'Change it' }).click()
  await pullRequest.getByText('The moon is late.').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await pullRequest.getByText('No build of its newest commit has passed yet.').waitFor()
  const head = git(tides, 'rev-parse', 'later-ebb').trim()
  const passed = '<testsuite name="tides"><testcase classname="tides" name="the ebb is later"/></testsuite>'
  const address = `${product.baseUrl}/receive/reports/junit?repository=tides&commit=${head}&build=2`
  const token = makeToken(product.dataDir, 'evidence')
  await fetch(address, { method: 'POST', headers: { authorization: `Bearer ${token}` }, body: passed })
  await pullRequest.getByText('No build of its newest commit has passed yet.').waitFor({ state: 'detached' })
  await pullRequest.getByRole('button', { name: 'Merge…', exact: true }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Merge now' }).click()
  await pullRequest.getByText('merged', { exact: true }).waitFor()
  expect(git(tides, 'log', '-1', '--format=%an %s', 'trunk').trim()).toBe('Ada Berg Merge later-ebb: A later ebb')
})

test('how it is built is written, proposed and merged; a machine of theirs builds what is pushed, wanted, and wanted again', async () => {
  await page.goto(`${product.baseUrl}/settings~builds`)
  await page.getByText('None has asked since this server was started').waitFor()
  await page.getByRole('button', { name: 'Describe it…' }).click()
  const dialog = page.getByRole('dialog', { name: 'How tides is built' })
  const editor = dialog.getByRole('textbox', { name: 'Build description' })
  await editor.fill('starts: { branches: [build-description] }\nsteps:\n  - { nam: tide }\n')
  await dialog.getByText('line 3:').first().waitFor()
  expect(await axeFindings(page)).toEqual([])
  const tide = '  - { name: tide, command: "grep ebb ebb.py | tee ebb.txt", artefacts: [ebb.txt] }\n'
  await editor.fill(`starts: { branches: [build-description] }\nsteps:\n${tide}`)
  await dialog.getByRole('list', { name: 'What a machine would do' }).getByText('keeps files').waitFor()
  await dialog.getByRole('button', { name: 'Propose the change' }).click()
  const pullRequest = page.getByRole('region', { name: /^Pull request \d+$/ })
  await pullRequest.getByText('No build of its newest commit has passed yet.').waitFor()
  await buildOnce()
  await pullRequest.getByRole('button', { name: 'Merge…', exact: true }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Merge now' }).click()
  await pullRequest.getByText('merged', { exact: true }).waitFor()

  await page.goto(`${product.baseUrl}/builds`)
  await page.getByRole('button', { name: 'Build a branch…' }).click()
  expect(await axeFindings(page)).toEqual([])
  await page.getByRole('dialog').getByRole('button', { name: 'Build it' }).click()
  const wanted = page.getByRole('region', { name: 'Wanted builds' })
  await wanted.getByText(/^tides trunk/).waitFor()
  await buildOnce()
  await wanted.getByRole('button', { name: 'Stop' }).waitFor({ state: 'detached' })
  await page
    .getByRole('option', { name: /trunk.*passed/ })
    .first()
    .click()
  const build = page.getByRole('region', { name: /^Build \d+$/ })
  await build.getByRole('region', { name: 'Files' }).getByRole('link', { name: 'ebb.txt' }).waitFor()
  await build.getByRole('region', { name: 'Steps' }).getByRole('link', { name: 'tide' }).click()
  await page.getByText('ebb = 6.2').waitFor()
  expect(await axeFindings(page)).toEqual([])
  await build.getByRole('button', { name: 'Build it again' }).click()
  await build.getByText(/It is built again: waits/).waitFor()
  await buildOnce()
  await build.getByText(/It is built again/).waitFor({ state: 'detached' })
  await page.goto(`${product.baseUrl}/settings~builds`)
  await page.getByRole('region', { name: 'Build machines' }).getByText('is here').waitFor()
}, 120_000)

/** The companion as the server hands it out, as a machine that builds what is wanted now. */
async function buildOnce(): Promise<void> {
  const companion = join(code, 'dys.mjs')
  writeFileSync(companion, Buffer.from(await (await fetch(`${product.baseUrl}/dys.mjs`)).arrayBuffer()))
  const args = [companion, 'build', '--once', '--machine', 'under-the-desk', '--folder', join(code, 'builds')]
  const env = {
    PATH: process.env.PATH,
    HOME: code,
    DYSTRACER_URL: product.baseUrl,
    DYSTRACER_TOKEN: makeToken(product.dataDir, 'evidence'),
  }
  await promisify(execFile)(process.execPath, args, { env })
}

test('an administrator sees how the installation stands, and who came in', async () => {
  await page.goto(`${product.baseUrl}/settings~health`)
  await page
    .getByRole('region', { name: 'Last heard' })
    .getByText(/backup FOLDER/)
    .waitFor()
  await page.getByRole('region', { name: 'Threads' }).getByText('runs').first().waitFor()
  expect(await axeFindings(page)).toEqual([])
  await page.goto(`${product.baseUrl}/settings~audit`)
  const trail = page.getByRole('region', { name: 'Audit trail' })
  const lines = trail.getByRole('listitem')
  await lines.filter({ hasText: 'made a token' }).first().waitFor()
  await trail.getByLabel('Kind').selectOption('signed-up')
  await lines.filter({ hasText: 'Ada Berg made an account' }).waitFor()
  await lines.filter({ hasText: 'made a token' }).first().waitFor({ state: 'detached' })
  expect(await axeFindings(page)).toEqual([])
})

test('one’s own account: the name, the password, where one is signed in', async () => {
  await page.getByRole('link', { name: /Signed in as Ada Berg/ }).click()
  const you = page.getByRole('region', { name: 'You' })
  await you.getByLabel('Name', { exact: true }).fill('Ada Berg-Lind')
  await you.getByRole('button', { name: 'Change the name' }).click()
  await page.getByText('You are called Ada Berg-Lind').waitFor()
  await you.getByLabel('The one you have').fill('not this one')
  await you.getByLabel(/A new one/).fill('seven tides before the wind')
  await you.getByRole('button', { name: 'Change the password' }).click()
  await you.getByText('This is not your password').waitFor()
  await you.getByLabel('The one you have').fill('long enough to pass')
  await you.getByRole('button', { name: 'Change the password' }).click()
  await page.getByText(/Your password is changed/).waitFor()
  expect(await axeFindings(page)).toEqual([])
  await you.getByRole('region', { name: 'Sessions' }).getByText('here', { exact: true }).waitFor()
  await signOutAndIn('ada@example.org', 'seven tides before the wind')
  await page.getByRole('link', { name: /Signed in as Ada Berg-Lind/ }).waitFor()
})

test('a second factor is set up, asked for at the next sign-in, and ended', async () => {
  await page.getByRole('link', { name: /Signed in as Ada Berg-Lind/ }).click()
  const you = page.getByRole('region', { name: 'You' })
  const factor = you.getByRole('region', { name: 'Second factor' })
  await factor.getByLabel('Your password').fill('seven tides before the wind')
  await factor.getByRole('button', { name: 'Set one up' }).click()
  const secret = (await factor.getByLabel('Secret for your authenticator').textContent()) ?? ''
  expect(await axeFindings(page)).toEqual([])
  await factor.getByLabel('The code that it shows').fill(generateSync({ secret }))
  await factor.getByRole('button', { name: 'Ask for codes from now on' }).click()
  const codes = ((await factor.getByLabel('Codes for a lost device').textContent()) ?? '').match(/[0-9a-f]{5}-[0-9a-f]{5}/g) ?? []
  expect(codes).toHaveLength(10)
  await factor.getByRole('button', { name: 'I have them' }).click()
  await factor.getByText('10 codes for a lost device are left').waitFor()
  await signOutAndIn('ada@example.org', 'seven tides before the wind')
  await page.getByLabel(/The code that your authenticator shows/).fill(codes[0] ?? '')
  await page.getByRole('button', { name: 'Sign in', exact: true }).click()
  await page.getByRole('link', { name: /Signed in as Ada Berg-Lind/ }).click()
  await factor.getByText('9 codes for a lost device are left').waitFor()
  await factor.getByLabel('Your password').fill('seven tides before the wind')
  await factor.getByRole('button', { name: 'Ask for no code any more' }).click()
  await factor.getByText(/^Off\./).waitFor()
})

test('steps that were taken are gone from the Desk', async () => {
  await page.goto(`${product.baseUrl}/desk`)
  await page.getByRole('region', { name: 'Desk' }).waitFor()
  await page.getByRole('heading', { name: /Desk/ }).first().waitFor()
  expect(await page.getByRole('region', { name: 'First steps' }).count()).toBe(0)
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
