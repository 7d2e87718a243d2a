/**
 * How long it takes from a started server on an empty folder to the first commit that is tied to an item, with a real browser and a
 * repository made by `git init --bare`: what README quotes. Prints the seconds of each step and one JSON line.
 */
import { execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { newPage, startBrowser } from '../e2e/dist/browser.js'

const PORT = 4897
const LIMIT_MS = 180_000
const dir = mkdtempSync(join(tmpdir(), 'dystracer-first-day-'))
const root = join(import.meta.dirname, '..')
const git = (cwd, ...args) =>
  execFileSync('git', ['-c', 'user.name=Ada Berg', '-c', 'user.email=ada@example.org', ...args], { cwd, encoding: 'utf8' })
const startedMs = performance.now()
const steps = {}
const done = (step) => {
  steps[step] = Number(((performance.now() - startedMs) / 1000).toFixed(1))
  process.stdout.write(`${String(steps[step]).padStart(6)} s  ${step}\n`)
}

const server = spawn(
  process.execPath,
  [join(root, 'packages/server/dist/cli/main.js'), 'start', '--data', join(dir, 'data'), '--port', String(PORT)],
  {
    env: { ...process.env, DYSTRACER_REPOSITORIES: dir, DYSTRACER_POLL_SECONDS: '2' },
  },
)
let said = ''
server.stdout.on('data', (chunk) => {
  said += chunk
})
const browser = await startBrowser()
const timer = setTimeout(() => {
  process.stderr.write('the first day took longer than three minutes\n')
  process.exit(1)
}, LIMIT_MS)
try {
  while (!said.includes('ready at')) await new Promise((resolve) => setTimeout(resolve, 50))
  done('the server answers')
  const bare = join(dir, 'tides.git')
  const work = join(dir, 'work')
  git(dir, 'init', '--quiet', '--bare', '--initial-branch=main', bare)
  git(dir, 'clone', '--quiet', bare, work)
  const push = (text, message) => {
    writeFileSync(join(work, 'tides.py'), text)
    git(work, 'add', '.')
    git(work, 'commit', '--quiet', '-m', message)
    git(work, 'push', '--quiet', 'origin', 'HEAD:main')
  }
  push('one\n', 'Begin')
  const { page } = await newPage(browser)
  await page.goto(/http\S+sign-up\S+/.exec(said)[0])
  await page.getByLabel('Name', { exact: true }).fill('Ada Berg')
  await page.getByLabel('E-mail address').fill('ada@example.org')
  await page.getByLabel(/What are you working on/).fill('Tide tables')
  await page.getByLabel(/Password/).fill('seven tides before the wind')
  await page.getByRole('button', { name: 'Begin' }).click()
  await page.getByRole('link', { name: 'Tide tables' }).waitFor()
  done('signed up, the project named')
  await page.goto(`http://127.0.0.1:${PORT}/code`)
  await page.getByRole('button', { name: 'Connect a repository…' }).click()
  await page.getByLabel('Its address').fill(bare)
  await page.getByRole('button', { name: 'Connect', exact: true }).click()
  await page
    .getByText(/1 commit/)
    .first()
    .waitFor()
  done('the repository connected and read')
  await page.keyboard.press('Alt+n')
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Title').fill('Low water is an hour late')
  await page.keyboard.press('Control+Enter')
  await dialog.waitFor({ state: 'detached' })
  await page.goto(`http://127.0.0.1:${PORT}/items`)
  const row = page.getByRole('option', { name: /Low water is an hour late/ })
  const key = /[A-Z]+-\d+/.exec(await row.textContent())[0]
  done(`the first item logged: ${key}`)
  push('two\n', `Count from the last high water\n\nFixes: ${key}`)
  await page.goto(`http://127.0.0.1:${PORT}/items/item~${key}`)
  await page
    .getByText(/Count from the last high water|[0-9a-f]{7}/)
    .first()
    .waitFor()
  done('the first commit tied to it')
  process.stdout.write(`${JSON.stringify({ script: 'first-day', seconds: steps['the first commit tied to it'] })}\n`)
} finally {
  clearTimeout(timer)
  await browser.close()
  server.kill()
  await new Promise((resolve) => server.on('exit', resolve))
  rmSync(dir, { recursive: true, force: true })
}
