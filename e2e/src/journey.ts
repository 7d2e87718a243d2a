import type { Browser, Locator, Page } from 'playwright-core'
import { newPage, signIn, startBrowser } from './browser.js'
import { removeData, startDemo, type Demo } from './demo-process.js'

export interface Journey {
  demo: Demo
  browser: Browser
  /** One page for each person; below all that any of them complains of. */
  pages: Page[]
  complaints: string[]
  end(): Promise<void>
}

/** Starts a demo of its own and a browser with a page for each person, signed in; for `null` one who is not. */
export async function startJourney(people: readonly (string | null)[]): Promise<Journey> {
  const demo = await startDemo()
  const browser = await startBrowser()
  const pages: Page[] = []
  const all: string[][] = []
  for (const person of people) {
    const { page, complaints } = await newPage(browser)
    if (person !== null) await signIn(page, demo.baseUrl, person)
    pages.push(page)
    all.push(complaints)
  }
  return {
    demo,
    browser,
    pages,
    get complaints() {
      return all.flat()
    },
    end: async () => {
      await browser.close()
      await demo.stop()
      removeData(demo.dataDir)
    },
  }
}

/** Logs so many items, “Probe 0 reads low” and on, by the interface's own way of importing. */
export async function importProbes(page: Page, baseUrl: string, count: number): Promise<void> {
  const { csrfToken } = await (await page.request.get(`${baseUrl}/api/v1/me`)).json()
  const headers = { 'x-dystracer-csrf': csrfToken as string }
  const owners = ['rafe', 'tam', 'mara', 'noor']
  const rows = Array.from({ length: count }, (_, at) => `b${at},Probe ${at} reads low,${1 + (at % 5)},${owners[at % owners.length]}`).join(
    '\n',
  )
  const begun = await page.request.post(`${baseUrl}/api/v1/projects/EMB/imports?name=many.csv`, {
    headers: { ...headers, 'content-type': 'application/octet-stream' },
    data: Buffer.from(`id,title,severity,owner\n${rows}\n`),
  })
  const { importId, mapping } = await begun.json()
  const url = `${baseUrl}/api/v1/imports/${importId}`
  await page.request.post(`${url}/run`, { headers, data: { mapping, isTrial: false } })
  for (let turn = 0; turn < 300; turn++) {
    if ((await (await page.request.get(url)).json()).phase === 'done') return
    await page.waitForTimeout(200)
  }
  throw new Error('the import did not end')
}

const boxOf = async (target: Locator) => {
  const box = await target.boundingBox()
  if (!box) throw new Error('nothing to drag')
  return box
}

/** Once the page has followed the pointer: a hand lets go where it sees the thing, not before. */
const drawn = (page: Page): Promise<void> =>
  page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(() => resolve()))))

/** Drags by mouse, from near the upper left corner of one thing into another. */
export async function drag(page: Page, from: Locator, to: Locator, into: { x: number; y: number } = { x: 40, y: 30 }): Promise<void> {
  const [start, end] = [await boxOf(from), await boxOf(to)]
  await page.mouse.move(start.x + 20, start.y + 8)
  await page.mouse.down()
  await page.mouse.move(start.x + 40, start.y + 16, { steps: 4 })
  await drawn(page)
  await page.mouse.move(end.x + into.x, end.y + into.y, { steps: 10 })
  await drawn(page)
  await page.mouse.up()
}

/** Drags by a finger that rests a moment first. */
export async function dragByTouch(
  page: Page,
  from: Locator,
  to: Locator,
  into: { x: number; y: number } = { x: 40, y: 30 },
): Promise<void> {
  const [start, end] = [await boxOf(from), await boxOf(to)]
  const cdp = await page.context().newCDPSession(page)
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', x: number, y: number) =>
    cdp.send('Input.dispatchTouchEvent', { type, touchPoints: type === 'touchEnd' ? [] : [{ x, y }] })
  const [fromX, fromY] = [start.x + 20, start.y + 8]
  await touch('touchStart', fromX, fromY)
  // The finger has to rest as long as the interface asks for before it lifts the thing.
  await page.waitForTimeout(300)
  for (let step = 1; step <= 10; step++)
    await touch('touchMove', fromX + ((end.x + into.x - fromX) * step) / 10, fromY + ((end.y + into.y - fromY) * step) / 10)
  await drawn(page)
  await touch('touchEnd', 0, 0)
}
