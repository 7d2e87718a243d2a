// Measures in a real browser, on a fresh demo with 2,000 more items: from a key press to the painted result, and the frames while a card is
// dragged over a board of 2,000 cards.
// usage: node e2e/dist/bench-screens.js; prints one JSON line. Nothing is asserted.
import type { Page } from 'playwright-core'
import { importProbes, startJourney } from './journey.js'

const ITEMS = 2000
const STEPS = 100
const DRAG_MS = 4000

const journey = await startJourney(['ines'])
try {
  const [page] = journey.pages as [Page]
  await importProbes(page, journey.demo.baseUrl, ITEMS)
  await page.goto(`${journey.demo.baseUrl}/items`)
  const list = page.getByRole('listbox', { name: 'Items' })
  await list.getByRole('option').first().waitFor()
  await list.focus()
  await page.keyboard.press('ArrowDown')
  await page.waitForTimeout(800)
  const steps = await paintedAfterKeys(page)
  await page.goto(`${journey.demo.baseUrl}/board~${encodeURIComponent('*?cards=severity')}`)
  await page.locator('[data-card]').first().waitFor()
  await page.waitForTimeout(1500)
  const frames = await framesWhileDragging(page)
  const at = (values: number[], share: number) =>
    Math.round(([...values].sort((a, b) => a - b)[Math.floor(values.length * share)] ?? 0) * 10) / 10
  console.log(
    JSON.stringify({
      keyToPaintMedianMs: at(steps, 0.5),
      keyToPaintP95Ms: at(steps, 0.95),
      boardCards: ITEMS,
      dragFramesPerSecond: Math.round((frames.length / frames.reduce((sum, ms) => sum + ms, 0)) * 1000),
      dragFrameP95Ms: at(frames, 0.95),
      idleFrameMedianMs: at(await framesOf(page, 1000), 0.5),
    }),
  )
} finally {
  await journey.end()
}

/** For each arrow press: from the event's own time to the end of the frame in which the chosen row has moved. */
async function paintedAfterKeys(page: Page): Promise<number[]> {
  await page.evaluate(() => {
    const took: number[] = []
    ;(window as unknown as { took: number[] }).took = took
    let pressedMs = 0
    window.addEventListener('keydown', (event) => (pressedMs = event.timeStamp), { capture: true })
    new MutationObserver((changes) => {
      if (pressedMs === 0 || !changes.some((change) => change.attributeName === 'aria-selected')) return
      const fromMs = pressedMs
      pressedMs = 0
      requestAnimationFrame(() => {
        const channel = new MessageChannel()
        channel.port1.onmessage = () => took.push(performance.now() - fromMs)
        channel.port2.postMessage(null)
      })
    }).observe(document.body, { subtree: true, attributes: true, attributeFilter: ['aria-selected'] })
  })
  for (let step = 0; step < STEPS; step++) {
    await page.keyboard.press('ArrowDown')
    await page.waitForTimeout(120)
  }
  return page.evaluate(() => (window as unknown as { took: number[] }).took)
}

function framesOf(page: Page, forMs: number): Promise<number[]> {
  return page.evaluate(
    (ms) =>
      new Promise<number[]>((resolve) => {
        const frames: number[] = []
        const startedMs = performance.now()
        let beforeMs = startedMs
        const next = (nowMs: number) => {
          frames.push(nowMs - beforeMs)
          beforeMs = nowMs
          if (nowMs - startedMs < ms) requestAnimationFrame(next)
          else resolve(frames.slice(1))
        }
        requestAnimationFrame(next)
      }),
    forMs,
  )
}

async function framesWhileDragging(page: Page): Promise<number[]> {
  const box = await page.locator('[data-card]').first().boundingBox()
  if (!box) throw new Error('no card')
  await page.mouse.move(box.x + 20, box.y + 10)
  await page.mouse.down()
  await page.mouse.move(box.x + 40, box.y + 20, { steps: 3 })
  const measuring = framesOf(page, DRAG_MS)
  const until = Date.now() + DRAG_MS
  for (let turn = 0; Date.now() < until; turn++) {
    const angle = turn / 12
    await page.mouse.move(520 + 320 * Math.cos(angle), 400 + 180 * Math.sin(angle))
  }
  const frames = await measuring
  await page.keyboard.press('Escape')
  await page.mouse.up()
  return frames
}
