import { appendFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Page } from 'playwright-core'
import { axeFindings, stageBecomes } from './browser.js'
import { git, verifyData, type Demo } from './demo-process.js'
import { startJourney, type Journey } from './journey.js'

let journey: Journey
let demo: Demo
let page: Page
let work: string

beforeAll(async () => {
  journey = await startJourney(['ines'])
  ;({ demo } = journey)
  ;[page] = journey.pages as [Page]
  work = mkdtempSync(join(tmpdir(), 'dystracer-client-'))
  git(work, 'clone', '--quiet', `${demo.outsideUrl}/git/kiln-controller.git`, 'kiln')
}, 180_000)

afterAll(async () => {
  await journey?.end()
  if (work) rmSync(work, { recursive: true, force: true })
}, 60_000)

const outside = (deed: string, fields: Record<string, string>) =>
  fetch(`${demo.outsideUrl}/do/${deed}`, { method: 'POST', body: new URLSearchParams(fields), redirect: 'manual' })
const kiln = () => join(work, 'kiln')

describe('the thinnest thread', () => {
  let key = ''

  test('a defect logged by hand is tied to the requirement that it breaks', async () => {
    await page.keyboard.press('Alt+n')
    const dialog = page.getByRole('dialog', { name: 'Log an item' })
    await dialog.getByLabel('Title').fill('Panel flickers when two alarms meet')
    await dialog.getByLabel('Component').selectOption('Kiln control')
    await dialog.getByLabel('Requirement').selectOption('SAF-11')
    await dialog.getByRole('button', { name: 'Log it' }).click()
    await page.getByRole('heading', { name: /Panel flickers/ }).waitFor()
    key = /item~(EMB-\d+)/.exec(page.url())?.[1] ?? ''
    expect(key).toMatch(/^EMB-\d+$/)
    await page.getByText('Breaks').first().waitFor()
    await stageBecomes(page, 'logged', 'proved')
    expect(await page.locator('[data-stage="underway"]').getAttribute('data-state')).toBe('waiting')
  })

  test('a real push that names it moves its ladder on the open screen, and its row beside it', async () => {
    git(kiln(), 'checkout', '--quiet', '-b', `fix/${key}-flicker`)
    appendFileSync(join(kiln(), 'README.md'), '\nAlarms are shown one at a time.\n')
    git(kiln(), 'commit', '--quiet', '-am', `Say how alarms are shown\n\nRefs: ${key}`)
    git(kiln(), 'push', '--quiet', 'origin', `fix/${key}-flicker`)
    await stageBecomes(page, 'underway', 'proved')
    await page.getByLabel('Ladder').getByText('Say how alarms are shown').waitFor()
    await page
      .getByRole('listbox', { name: 'Items' })
      .getByRole('option', { name: new RegExp(key) })
      .getByRole('img', { name: /underway/ })
      .waitFor()
  })

  test('Trace draws the thread from the requirement to the commit', async () => {
    await page.goto(`${demo.baseUrl}/trace/thread~requirement%3ASAF-11`)
    await page.getByRole('button', { name: new RegExp(`item ${key}`) }).waitFor()
    await page.getByRole('button', { name: /commit .* Say how alarms are shown/ }).waitFor()
  })
})

describe('from a runtime error to a verified fix', () => {
  let key = ''
  let branch = ''

  test('an unplugged sensor makes the running program throw, and the rule logs one defect, which shows in Triage by itself', async () => {
    await page.goto(`${demo.baseUrl}/triage`)
    await page.getByRole('listbox', { name: 'Triage' }).waitFor()
    await outside('unplug', { kiln: '2' })
    const row = page.getByRole('option', { name: /TypeError in readCelsius/ })
    await row.waitFor({ timeout: 30_000 })
    expect(await row.count()).toBe(1)
    key = /EMB-\d+/.exec(await row.innerText())?.[0] ?? ''
    await row.click()
  })

  test('the decision stands beside its evidence: message, own frames, blame and its commit', async () => {
    const decision = page.getByRole('region', { name: `Decide ${key}` })
    await decision.getByText("Cannot read properties of undefined (reading 'celsius')").first().waitFor()
    await decision.getByLabel('Frames').getByText('src/probe.js').waitFor()
    await decision.getByLabel('Frames').getByText('return Math.round(reading.celsius').waitFor()
    await decision
      .getByLabel('Frames')
      .getByText(/Ines Okafor|Rafe Varga|Tam Adeyemi|Mara Lindqvist|Noor Castell|Teo Marsh/)
      .first()
      .waitFor()
  })

  test('accepting sets severity, owner, component and the requirement that the failing line leads to', async () => {
    const decision = page.getByRole('form', { name: 'Decision' })
    expect(await decision.getByLabel('Breaks').inputValue()).toBe('SAF-3')
    await decision.getByRole('radio', { name: 'severity 1' }).click()
    await decision.getByLabel('Owner').selectOption('ines')
    await decision.getByLabel('Title').fill('Controller stops when a probe is unplugged')
    await decision.getByRole('button', { name: 'Accept at 1' }).click()
    await page.goto(`${demo.baseUrl}/items/item~${key}`)
    await stageBecomes(page, 'accepted', 'proved')
    await page.getByText(/SAF-3 Sensor faults/).waitFor()
    expect(await page.getByRole('combobox', { name: 'Severity' }).inputValue()).toBe('1')
  })

  test('starting work creates the branch and shows two commands that work', async () => {
    await page.getByRole('button', { name: 'Start work…' }).click()
    await page.getByRole('button', { name: 'Create the branch' }).click()
    const commands = (await page.getByTestId('commands').innerText()).split('\n')
    expect(commands).toHaveLength(2)
    for (const command of commands) git(kiln(), ...command.split(' ').slice(1))
    branch = git(kiln(), 'branch', '--show-current').trim()
    expect(branch).toContain(key)
    await page.getByRole('button', { name: 'Done' }).click()
    await stageBecomes(page, 'underway', 'proved')
  })

  test('a fix whose test fails is pushed, its pull request carries the broken build into the ladder', async () => {
    changeProbe('if (reading === undefined) return 0')
    appendFileSync(
      join(kiln(), 'test/probe.test.js'),
      `\ntest('SAF-3: an unplugged probe has no reading (${key})', () => {\n  assert.equal(readCelsius({ last: undefined }), null)\n})\n`,
    )
    git(kiln(), 'commit', '--quiet', '-am', `Read an unplugged probe as no reading\n\nFixes: ${key}`)
    git(kiln(), 'push', '--quiet', 'origin', branch)
    await page.getByLabel('Ladder').getByText('Read an unplugged probe as no reading').waitFor()
    await page.getByLabel('Ladder').getByRole('link', { name: branch }).click()
    await page.getByRole('button', { name: 'Open a pull request' }).click()
    await page.getByRole('heading', { name: 'Read an unplugged probe as no reading', exact: true }).waitFor()
    const number = /pull-request~kiln-controller,(\d+)/.exec(page.url())?.[1] ?? ''
    await page.goto(`${demo.baseUrl}/items/item~${key}/pull-request~kiln-controller,${number}`)
    await stageBecomes(page, 'in-review', 'contradicted')
    await page
      .getByLabel('Ladder')
      .getByText(/broke: 1 test/)
      .waitFor()
  })

  test('what that build printed is kept; its first error leads to the line, in the log and in the code', async () => {
    const here = page.url()
    const { rows } = await (await page.request.get(`${demo.baseUrl}/api/v1/builds?limit=20&repository=kiln-controller`)).json()
    const { number } = rows.find((build: { state: string; branch: string }) => build.branch === branch && build.state === 'broke')
    await page.goto(`${demo.baseUrl}/builds/build~kiln-controller,${number}`)
    const logs = page.getByRole('region', { name: 'Logs' })
    await logs
      .getByText(/✖ SAF-3: an unplugged probe has no reading/)
      .first()
      .waitFor()
    await logs
      .getByRole('link', { name: /^line \d+$/ })
      .first()
      .click()
    const log = page.getByRole('region', { name: 'Log tests' })
    await log.getByText(/error 1 of \d+/).waitFor()
    await log.getByRole('option', { selected: true }).getByText('an unplugged probe has no reading').waitFor()
    await log.getByLabel('Find in the log').fill('AssertionError')
    await log.getByLabel('Find in the log').press('Enter')
    await log
      .getByRole('option', { selected: true })
      .getByText(/AssertionError/)
      .waitFor()
    expect(await axeFindings(page)).toEqual([])
    await page.goto(here)
    await page.getByText(/Build \d+ broke; mend it and push again/).waitFor()
  })

  test('a further push makes the build pass, and only then the pull request can be merged', async () => {
    const broke = page.getByText(/Build \d+ broke; mend it and push again/)
    await broke.waitFor()
    await page.getByRole('button', { name: 'Merge once all holds…' }).waitFor()
    changeProbe('if (reading === undefined) return null')
    git(kiln(), 'commit', '--quiet', '-am', `An unplugged probe reads as null, not as 0 °C\n\nFixes: ${key}`)
    git(kiln(), 'push', '--quiet', 'origin', branch)
    await broke.waitFor({ state: 'detached', timeout: 45_000 })
    await stageBecomes(page, 'in-review', 'proved')
    await page.getByRole('button', { name: 'Merge…', exact: true }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Merge now' }).click()
    await stageBecomes(page, 'merged', 'proved')
    git(kiln(), 'fetch', '--quiet', 'origin')
    expect(git(kiln(), 'log', '--format=%s', 'origin/main', '-n', '3')).toContain('An unplugged probe reads as null')
  })

  test('the past of the test that failed tells what it said, and that it passes since', async () => {
    const { rows } = await (await page.request.get(`${demo.baseUrl}/api/v1/builds?limit=20&repository=kiln-controller`)).json()
    const { number } = rows.find((build: { state: string }) => build.state === 'broke')
    await page.goto(`${demo.baseUrl}/builds/build~kiln-controller,${number}`)
    await page
      .getByRole('button', { name: /an unplugged probe has no reading/ })
      .first()
      .click()
    const past = page.getByRole('region', { name: 'Test', exact: true })
    await past.getByRole('region', { name: 'What it said' }).getByText(/1 ×/).waitFor()
    await past.getByRole('region', { name: 'Outcomes' }).getByText('passed', { exact: true }).first().waitFor()
    await past.getByRole('link', { name: 'SAF-3' }).waitFor()
    expect(await axeFindings(page)).toEqual([])
  })

  test('the release goes to staging, and to production after an approval; then the item is Released', async () => {
    await outside('tag', { repository: 'kiln-controller', name: '4.1.4' })
    await page.goto(`${demo.baseUrl}/items/item~${key}/releases`)
    await page.getByRole('button', { name: 'Deploy kiln-controller 4.1.4 to production' }).click()
    await page.getByText('has not run in staging', { exact: true }).waitFor()
    await page.getByRole('button', { name: 'Approve 4.1.4 for production' }).click()
    await page.getByText(/may not go to production yet: has not run in staging/).waitFor()
    await page.getByRole('button', { name: 'Deploy kiln-controller 4.1.4 to staging' }).click()
    await page.getByText('ran in staging', { exact: true }).waitFor()
    await page.getByRole('button', { name: 'Approve 4.1.4 for production' }).click()
    await stageBecomes(page, 'released', 'proved')
  })

  test('silence while the program is in use verifies the fix', async () => {
    await stageBecomes(page, 'verified', 'proved', 60_000)
  })

  test('Trace shows the whole thread from either end, with where each link came from', async () => {
    for (const start of ['requirement%3ASAF-3', `item%3A${key}`]) {
      await page.goto(`${demo.baseUrl}/trace/thread~${start}`)
      for (const name of [
        /requirement SAF-3/,
        new RegExp(`item ${key}`),
        /commit /,
        /pull-request Pull request/,
        /release 4\.1\.4/,
        /environment production/,
      ])
        await page.getByRole('button', { name }).first().waitFor()
    }
    expect(await page.getByRole('button', { name: /release 4\.1\.4/ }).getAttribute('title')).toContain('read from git')
    await page.getByText('rule “live faults”').first().waitFor()
  })

  test('the same error in a release that contains the fix brings the item back, with both facts shown', async () => {
    git(kiln(), 'checkout', '--quiet', '-B', 'simpler', 'origin/main')
    const path = join(kiln(), 'src/probe.js')
    writeFileSync(path, readFileSync(path, 'utf8').replace(/ {2}if \(reading === undefined\).*\n/, ''))
    git(kiln(), 'commit', '--quiet', '-am', 'Simplify the reading of probes')
    git(kiln(), 'push', '--quiet', 'origin', 'simpler:main')
    await outside('tag', { repository: 'kiln-controller', name: '4.1.5' })
    await page.goto(`${demo.baseUrl}/items/item~${key}/releases`)
    await page.getByRole('button', { name: 'Deploy kiln-controller 4.1.5 to staging' }).click()
    await page.getByRole('button', { name: 'Deploy kiln-controller 4.1.5 to production' }).click()
    await page.getByText('ran in staging', { exact: true }).waitFor()
    await page.getByRole('button', { name: 'Approve 4.1.5 for production' }).click()
    await stageBecomes(page, 'verified', 'contradicted')
    await page
      .getByLabel('Ladder')
      .getByText(/was seen again in 4\.1\.5/)
      .waitFor()
    await page.getByText('Came back: seen again').waitFor()
  })

  test('the history lists who or what caused each step, and the journal gives the tables as they are', async () => {
    const history = page.getByLabel('History')
    for (const text of [/logged “TypeError in readCelsius”/, /accepted it/, /started work/, /tied as its fix/])
      await history.getByText(text).first().waitFor()
    expect(journey.complaints).toEqual([])
    const { status, said } = verifyData(demo.dataDir)
    expect(said).toContain('clean')
    expect(status).toBe(0)
  })
})

function changeProbe(line: string): void {
  const path = join(kiln(), 'src/probe.js')
  const source = readFileSync(path, 'utf8')
  writeFileSync(
    path,
    source.includes('if (reading')
      ? source.replace(/ {2}if \(reading.*\n/, `  ${line}\n`)
      : source.replace('const reading = probe.last\n', `const reading = probe.last\n  ${line}\n`),
  )
}
