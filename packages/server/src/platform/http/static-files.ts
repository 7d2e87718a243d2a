import { existsSync, readFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import type { Middleware } from 'koa'
import send from 'koa-send'

const YEAR_MS = 365 * 86_400_000
/** Paths that answer for themselves; every other one gets the page. */
const ANSWERED = /^\/(?:api|otlp|receive|healthz|readyz|metrics|feeds)(?:\/|$)/

/** A built file of ours at a path of its own; browsers and scripts ask each time whether it is still the newest. */
export function fileMiddleware(path: string, file: string): Middleware {
  return async (koa, next) => {
    if (koa.path !== path || (koa.method !== 'GET' && koa.method !== 'HEAD')) return next()
    koa.set('cache-control', 'no-cache')
    if (!(await sent(() => send(koa, basename(file), { root: dirname(file) })))) return next()
    koa.type = 'text/javascript'
  }
}

/**
 * The built interface. Named-by-content files are kept by browsers for ever; every other path gets the page itself, which reads the trail
 * from the address.
 */
export function staticMiddleware(webDir: string): Middleware {
  const indexPath = join(webDir, 'index.html')
  return async (koa, next) => {
    const isPage = (koa.method === 'GET' || koa.method === 'HEAD') && !ANSWERED.test(koa.path)
    if (!isPage || !existsSync(indexPath)) return next()
    // koa-send keeps to the folder, whatever the path holds; a file that is not there is a path of the page.
    if (koa.path.startsWith('/assets/') && (await sent(() => send(koa, koa.path, { root: webDir, maxage: YEAR_MS, immutable: true }))))
      return
    koa.set('cache-control', 'no-cache')
    koa.type = 'text/html'
    koa.body = readFileSync(indexPath, 'utf8')
  }
}

/** Whether there was such a file: not for a path that is not there, climbs, or cannot be read as one. */
async function sent(work: () => Promise<string>): Promise<boolean> {
  try {
    await work()
    return true
  } catch (error) {
    const status = (error as { status?: number }).status
    if (status === 404 || status === 400 || status === 403) return false
    throw error
  }
}
