import { createReadStream, existsSync, readFileSync, statSync } from 'node:fs'
import { extname, join, normalize } from 'node:path'
import type { Middleware } from 'koa'

const TYPES: Record<string, string> = {
  '.js': 'text/javascript',
  '.css': 'text/css',
  '.html': 'text/html',
  '.woff2': 'font/woff2',
  '.svg': 'image/svg+xml',
  '.map': 'application/json',
}

/** The built interface. Named-by-content files are kept by browsers for ever; every other path gets the page itself, which reads the trail from the address. */
export function staticMiddleware(webDir: string): Middleware {
  const indexPath = join(webDir, 'index.html')
  return async (koa, next) => {
    const isPage = (koa.method === 'GET' || koa.method === 'HEAD') && !/^\/(?:api|otlp|receive|healthz)(?:\/|$)/.test(koa.path)
    if (!isPage || !existsSync(indexPath)) return next()
    const path = normalize(join(webDir, decodeURIComponentOrEmpty(koa.path)))
    if (path.startsWith(`${webDir}/assets/`) && existsSync(path) && statSync(path).isFile()) {
      koa.set('cache-control', 'public, max-age=31536000, immutable')
      koa.type = TYPES[extname(path)] ?? 'application/octet-stream'
      koa.body = createReadStream(path)
      return
    }
    koa.set('cache-control', 'no-cache')
    koa.type = 'text/html'
    koa.body = readFileSync(indexPath, 'utf8')
  }
}

function decodeURIComponentOrEmpty(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch (error) {
    if (error instanceof URIError) return ''
    throw error
  }
}
