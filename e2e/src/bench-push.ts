// Measures in a real browser, on a fresh demo: from the end of `git push` to the changed stair, the first screen's JavaScript, and the
// demo's start with data in place.
// usage: node e2e/dist/bench-push.js [PUSHES]; prints one JSON line. Nothing is asserted.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import type { Page } from 'playwright-core'
import { newPage, signIn, startBrowser } from './browser.js'
import { git, removeData, startDemo } from './demo-process.js'

const pushes = Number(process.argv[2] ?? 20)
const startedMs: number[] = []
const first = await startDemo()
await first.stop()
const before = performance.now()
const demo = await startDemo(first.dataDir)
startedMs.push(performance.now() - before)
const browser = await startBrowser()
const work = mkdtempSync(join(tmpdir(), 'dystracer-bench-client-'))
try {
  const { page } = await newPage(browser)
  let scriptBytes = 0
  page.on('response', (response) => {
    if (/\/assets\/.*\.js$/.test(response.url())) void response.body().then((body) => (scriptBytes += gzipSync(body).length))
  })
  await page.goto(`${demo.baseUrl}/desk`)
  await page.getByRole('listbox', { name: 'Desk' }).waitFor()
  await page.waitForTimeout(500)
  const firstScreenKb = Math.round(scriptBytes / 1024)
  await signIn(page, demo.baseUrl, 'ines')
  git(work, 'clone', '--quiet', `${demo.outsideUrl}/git/glaze-lab.git`, 'glaze')
  const dir = join(work, 'glaze')
  const { rows } = await (
    await page.request.get(`${demo.baseUrl}/api/v1/items?filter=${encodeURIComponent('accepted open')}&limit=${pushes}`)
  ).json()
  const delaysMs: number[] = []
  const bareMs: number[] = []
  for (const { key } of rows as { key: string }[]) {
    await page.goto(`${demo.baseUrl}/items/item~${key}`)
    await page.locator('[data-stage="underway"][data-state="waiting"]').waitFor()
    git(dir, 'checkout', '--quiet', '-b', `fix/${key}-bench`, 'origin/main')
    git(dir, 'commit', '--quiet', '--allow-empty', '-m', `Work on it\n\nRefs: ${key}`)
    const pushedFrom = performance.now()
    git(dir, 'push', '--quiet', 'origin', `fix/${key}-bench`)
    const pushedAt = performance.now()
    bareMs.push(pushedAt - pushedFrom)
    await page.locator('[data-stage="underway"][data-state="proved"]').waitFor({ timeout: 15_000 })
    delaysMs.push(performance.now() - pushedAt)
    await buildOf(page, demo.baseUrl, git(dir, 'rev-parse', 'HEAD').trim())
  }
  const at = (list: number[], share: number) =>
    Math.round([...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))] ?? 0)
  console.log(
    JSON.stringify({
      pushes: delaysMs.length,
      stairMedianMs: at(delaysMs, 0.5),
      stairP95Ms: at(delaysMs, 0.95),
      gitPushMedianMs: at(bareMs, 0.5),
      firstScreenScriptKbGzip: firstScreenKb,
      demoStartWithDataMs: Math.round(startedMs[0] ?? 0),
    }),
  )
} finally {
  await browser.close()
  await demo.stop()
  removeData(demo.dataDir)
  rmSync(work, { recursive: true, force: true })
}

/** Waits until the build of a commit is over, so that it does not weigh on the next push. */
async function buildOf(page: Page, baseUrl: string, sha: string): Promise<void> {
  for (let turn = 0; turn < 60; turn++) {
    const { rows } = (await (await page.request.get(`${baseUrl}/api/v1/builds?limit=5`)).json()) as {
      rows: { sha: string; state: string }[]
    }
    if (rows.some((build) => build.sha === sha && build.state !== 'running')) return
    await page.waitForTimeout(250)
  }
}
