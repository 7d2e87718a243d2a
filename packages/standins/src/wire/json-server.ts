import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'

export type Handler = (request: IncomingMessage, response: ServerResponse, url: URL) => Promise<void> | void
export class RequestError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message)
  }
}

/** A small HTTP server on loopback: the first route whose method and path fit answers; errors become a line of text. */
export function makeServer(routes: { method: string; path: RegExp; handle: Handler }[]): Server {
  return createServer((request, response) => {
    const url = new URL(request.url ?? '/', 'http://127.0.0.1')
    const route = routes.find((entry) => (entry.method === '*' || entry.method === request.method) && entry.path.test(url.pathname))
    void (async () => {
      try {
        if (!route) throw new RequestError(404, `nothing answers at ${url.pathname}`)
        await route.handle(request, response, url)
      } catch (error) {
        const status = error instanceof RequestError ? error.status : 500
        if (!response.headersSent) response.writeHead(status, { 'content-type': 'text/plain; charset=utf-8' })
        response.end(error instanceof Error ? error.message : String(error))
      }
    })()
  })
}

const BODY_MAX = 1 << 20

export async function readText(request: IncomingMessage): Promise<string> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > BODY_MAX) throw new RequestError(413, 'too large')
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}

/** A JSON body, or a form's fields. A page of another origin is refused: these services have no passwords. */
export async function readFields(request: IncomingMessage): Promise<Record<string, string>> {
  const site = request.headers['sec-fetch-site']
  if (site !== undefined && site !== 'same-origin' && site !== 'none') throw new RequestError(403, 'only from this page')
  const text = await readText(request)
  if ((request.headers['content-type'] ?? '').startsWith('application/json')) return JSON.parse(text) as Record<string, string>
  return Object.fromEntries(new URLSearchParams(text))
}

export function sendJson(response: ServerResponse, value: unknown, status = 200): void {
  response.writeHead(status, { 'content-type': 'application/json' })
  response.end(JSON.stringify(value))
}

export function redirect(response: ServerResponse, location: string): void {
  response.writeHead(303, { location })
  response.end()
}
