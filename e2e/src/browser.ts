import { chromium, type Browser, type Page } from 'playwright-core'
import axe from 'axe-core'

const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]

/** Debian's Chromium without the parts of it that draw windows: a fifth less work for the same pages. */
export function startBrowser(): Promise<Browser> {
  return chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args: FLAGS })
}

/** A fresh page at 1280x800; what the page complains of is gathered in `complaints`. */
export async function newPage(browser: Browser): Promise<{ page: Page; complaints: string[] }> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const page = await context.newPage()
  page.setDefaultTimeout(20_000)
  const complaints: string[] = []
  page.on('pageerror', (error) => complaints.push(error.message))
  return { page, complaints }
}

export async function signIn(page: Page, baseUrl: string, name: string): Promise<void> {
  await page.goto(`${baseUrl}/desk`)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.getByLabel('E-mail address').fill(`${name}@emberwick.example`)
  await page.getByLabel('Password').fill(`${name}-emberwick`)
  await page.getByRole('dialog').getByRole('button', { name: 'Sign in' }).click()
  await page.getByRole('dialog').waitFor({ state: 'detached' })
}

/**
 * What axe finds against WCAG 2.2 AA and good practice, as short lines. It runs in the page itself, which has no frames: a third of the
 * time that running it from outside takes.
 */
export async function axeFindings(page: Page): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source)
  return page.evaluate(async () => {
    // What is fading in or out has its colours only when it has ended; what turns for ever is not waited for.
    const ending = document
      .getAnimations()
      .filter(({ effect, playState }) => playState === 'running' && Number.isFinite(effect?.getComputedTiming().endTime))
    await Promise.allSettled(ending.map(({ finished }) => finished))
    const { violations } = await (window as unknown as { axe: typeof axe }).axe.run(document, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
      resultTypes: ['violations'],
      iframes: false,
    })
    return violations.flatMap((violation) => violation.nodes.slice(0, 3).map((node) => `${violation.id}: ${node.html.slice(0, 160)}`))
  })
}

/** The state of one stage on the ladder that is on screen, awaited. */
export async function stageBecomes(page: Page, stage: string, state: string, timeoutMs = 45_000): Promise<void> {
  await page.locator(`[data-stage="${stage}"][data-state="${state}"]`).first().waitFor({ timeout: timeoutMs })
}
