// A page without a browser for the tests of components: jsdom, with what Node has and jsdom lacks, and boxes that have a size (a list that
// draws only what is on screen would draw nothing in a page of no height).
import { TestEnvironment } from 'jest-environment-jsdom'

const FROM_NODE = ['fetch', 'Request', 'Response', 'Headers', 'TextEncoder', 'TextDecoder', 'structuredClone', 'ReadableStream']
const PAGE = { width: 1280, height: 800 }

export default class BrowserEnvironment extends TestEnvironment {
  async setup() {
    await super.setup()
    for (const name of FROM_NODE) this.global[name] ??= globalThis[name]
    const { prototype } = this.global.HTMLElement
    Object.defineProperty(prototype, 'offsetHeight', { get: () => PAGE.height, configurable: true })
    Object.defineProperty(prototype, 'offsetWidth', { get: () => PAGE.width, configurable: true })
    for (const name of ['scrollIntoView', 'scrollTo', 'hasPointerCapture', 'setPointerCapture', 'releasePointerCapture'])
      prototype[name] ??= () => undefined
    this.global.ResizeObserver ??= class {
      observe() {}
      unobserve() {}
      disconnect() {}
    }
    this.global.matchMedia ??= (media) => ({ media, matches: false, addEventListener() {}, removeEventListener() {} })
  }
}
