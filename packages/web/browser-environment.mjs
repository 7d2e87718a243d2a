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
    for (const side of ['width', 'height'])
      for (const of of ['offset', 'client'])
        Object.defineProperty(prototype, `${of}${side === 'width' ? 'Width' : 'Height'}`, { get: () => PAGE[side], configurable: true })
    for (const name of ['scrollIntoView', 'scrollTo', 'hasPointerCapture', 'setPointerCapture', 'releasePointerCapture'])
      prototype[name] ??= () => undefined
    // The text editor measures its lines; here they have no place.
    this.global.Range.prototype.getClientRects ??= () => []
    this.global.Range.prototype.getBoundingClientRect ??= () => ({ left: 0, right: 0, top: 0, bottom: 0, width: 0, height: 0 })
    // Charts are drawn where there is something to draw on; their numbers stand in tables, too.
    this.global.HTMLCanvasElement.prototype.getContext = () => null
    this.global.ResizeObserver ??= class {
      observe() {}
      unobserve() {}
      disconnect() {}
    }
    this.global.matchMedia ??= (media) => ({ media, matches: false, addEventListener() {}, removeEventListener() {} })
  }
}
