import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { axeFindings, newPage, stageBecomes, startBrowser } from './browser.js'
import { git, removeData, startEmpty, verifyData, type Demo } from './demo-process.js'
import { startHttpHost, startSshHost, type GitHost } from './git-hosts.js'

// A team with nothing but bare repositories, one over ssh and one over http: two people in two browsers.
const folder = mkdtempSync(join(tmpdir(), 'dystracer-hosts-'))
const LOGIN = 'team:salt and sand'
let product: Demo & { said: string }
let browser: Browser
let ada: Page
let bo: Page
let complaints: string[] = []
let ssh: GitHost & { allow: (publicKey: string) => void }
let http: GitHost & { beAway: (isAway: boolean) => void }

/** A bare repository with one commit, and a working copy beside it. */
function aRepository(name: string): { bare: string; work: string } {
  const [bare, work] = [join(folder, `${name}.git`), join(folder, name)]
  execFileSync('git', ['init', '--quiet', '--bare', '--initial-branch=main', bare])
  execFileSync('git', ['config', 'http.receivepack', 'true'], { cwd: bare })
  mkdirSync(work)
  git(work, 'init', '--quiet', '--initial-branch=main')
  git(work, 'remote', 'add', 'origin', bare)
  return { bare, work }
}
function push(work: string, branch: string, file: string, message: string): void {
  writeFileSync(join(work, file), `${message}\n`)
  git(work, 'add', '.')
  git(work, 'commit', '--quiet', '-m', message)
  git(work, 'push', '--quiet', 'origin', branch)
}
const dunes = aRepository('dunes')
const ferry = aRepository('ferry')

beforeAll(async () => {
  push(dunes.work, 'main', 'dune.py', 'Measure the dunes')
  push(ferry.work, 'main', 'ferry.py', 'Sail at noon')
  ;[ssh, http] = await Promise.all([startSshHost(), startHttpHost(folder, LOGIN)])
  product = await startEmpty({ DYSTRACER_ALLOWED_HOSTS: '127.0.0.1', DYSTRACER_POLL_SECONDS: '2' })
  browser = await startBrowser()
  const [one, other] = await Promise.all([newPage(browser), newPage(browser)])
  ada = one.page
  bo = other.page
  complaints = one.complaints
}, 60_000)
afterAll(async () => {
  await browser?.close()
  await product?.stop()
  await ssh?.stop()
  await http?.stop()
  if (product) removeData(product.dataDir)
  removeData(folder)
})

test('one begins, and the other comes in by a link that holds once', async () => {
  await ada.goto(/http\S+sign-up\S+/.exec(product.said)?.[0] ?? '')
  await ada.getByLabel('Name', { exact: true }).fill('Ada Berg')
  await ada.getByLabel('E-mail address').fill('ada@example.org')
  await ada.getByLabel(/What are you working on/).fill('Dune watch')
  await ada.getByLabel(/Password/).fill('five gulls on a long dune')
  await ada.getByRole('button', { name: 'Begin' }).click()
  await ada.getByRole('link', { name: 'Dune watch' }).waitFor()
  await ada.goto(`${product.baseUrl}/settings~people`)
  const form = ada.getByRole('form', { name: 'Invite somebody' })
  await form.getByLabel('Name').fill('Bo Lind')
  await form.getByLabel('E-mail address').fill('bo@example.org')
  await form.getByRole('button', { name: 'Invite' }).click()
  await bo.goto((await ada.getByLabel('Link', { exact: true }).textContent()) ?? '')
  await bo.getByLabel(/Password/).fill('four gulls on a breakwater')
  await bo.getByRole('button', { name: 'Begin' }).click()
  await bo.getByRole('link', { name: /Signed in as Bo Lind/ }).waitFor()
})

test('a repository over ssh is read by a key that is made in place, once its host knows the public half', async () => {
  await ada.goto(`${product.baseUrl}/code`)
  await bo.goto(`${product.baseUrl}/code`)
  await ada.getByRole('button', { name: 'Connect a repository…' }).click()
  const dialog = ada.getByRole('dialog')
  await dialog.getByLabel('Its address').fill(ssh.urlOf(dunes.bare))
  await dialog.getByRole('button', { name: 'Make a key' }).click()
  const key = dialog.getByText(/^ssh-ed25519 /)
  await key.waitFor()
  expect(await axeFindings(ada)).toEqual([])
  await dialog.getByRole('button', { name: 'Connect', exact: true }).click()
  await dialog.getByText(/Permission denied|could not read/).waitFor()
  ssh.allow((await key.textContent()) ?? '')
  await dialog.getByRole('button', { name: 'Connect', exact: true }).click()
  await ada.getByText('dunes is connected. Its main line is main').waitFor()
  // The other sees it come without doing anything.
  await bo.getByRole('tab', { name: 'commits' }).click()
  await bo.getByText('Measure the dunes').waitFor()
})

test('one over http is read with a name and a secret; a wrong secret is told, and nothing was connected', async () => {
  await ada.getByRole('button', { name: 'Connect a repository…' }).click()
  const dialog = ada.getByRole('dialog')
  await dialog.getByLabel('Its address').fill(http.urlOf(ferry.bare))
  await dialog.getByLabel('How it is read').selectOption({ label: 'a name and a secret' })
  await dialog.getByLabel('Name', { exact: true }).fill('team')
  await dialog.getByLabel('Password or access token').fill('guessed')
  await dialog.getByRole('button', { name: 'Connect', exact: true }).click()
  await dialog.getByText(/Nothing was connected/).waitFor()
  await dialog.getByLabel('Password or access token').fill('salt and sand')
  await dialog.getByRole('button', { name: 'Connect', exact: true }).click()
  await ada.getByText('ferry is connected. Its main line is main').waitFor()
  await bo.getByText('Sail at noon').waitFor()
  expect(await bo.content()).not.toContain('salt and sand')
})

test('a branch that one pushes over ssh ties to the item that the other has open, and is merged back over ssh', async () => {
  await bo.keyboard.press('Alt+n')
  await bo.getByRole('dialog').getByLabel('Title').fill('Dunes drift unseen')
  await bo.getByRole('dialog').getByRole('button', { name: /^Log/ }).click()
  await bo.goto(`${product.baseUrl}/items/item~DW-1`)
  await bo.getByRole('region', { name: 'DW-1' }).getByText('Dunes drift unseen').first().waitFor()
  git(dunes.work, 'checkout', '--quiet', '-b', 'DW-1-drift')
  push(dunes.work, 'DW-1-drift', 'drift.py', 'Watch the drift\n\nFixes: DW-1')
  await stageBecomes(bo, 'underway', 'proved')
  await ada.goto(`${product.baseUrl}/code`)
  await ada.getByRole('tab', { name: 'branches' }).click()
  await ada.getByRole('option', { name: /DW-1-drift/ }).click()
  await ada.getByRole('button', { name: 'Open a pull request…' }).click()
  await ada.getByRole('dialog').getByRole('button', { name: 'Open the pull request' }).click()
  await stageBecomes(bo, 'in-review', 'proved')
  const pullRequest = ada.getByRole('region', { name: /^Pull request \d+$/ })
  await pullRequest.getByRole('button', { name: 'Merge…', exact: true }).click()
  await ada.getByRole('dialog').getByRole('button', { name: 'Merge now' }).click()
  // The merge goes out over ssh, and is read back over it.
  await pullRequest.getByText('merged', { exact: true }).waitFor({ timeout: 60_000 })
  await stageBecomes(bo, 'merged', 'proved')
  expect(git(dunes.bare, 'log', '-1', '--format=%an %s', 'main').trim()).toMatch(/^Ada Berg Merge DW-1-drift/)
})

test('a host that is away is said in words; what was read stays, and what came meanwhile is read once it is back', async () => {
  http.beAway(true)
  await ada.goto(`${product.baseUrl}/code`)
  await ada
    .getByText(/cannot be fetched/)
    .first()
    .waitFor({ timeout: 30_000 })
  await bo.goto(`${product.baseUrl}/code`)
  await bo.getByRole('tab', { name: 'commits' }).click()
  await bo.getByText('Sail at noon').waitFor()
  push(ferry.work, 'main', 'tide.py', 'Sail with the tide')
  http.beAway(false)
  await bo.getByText('Sail with the tide').waitFor({ timeout: 60_000 })
})

test('nothing went wrong in the pages, and the journal rebuilds the tables', async () => {
  expect(complaints).toEqual([])
  await product.stop()
  expect(verifyData(product.dataDir)).toMatchObject({ status: 0 })
})
