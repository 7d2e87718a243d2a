import { spawn } from 'node:child_process'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { RequestError } from '#wire/json-server'

/** Serves `/git/NAME.git/...` by git's own http-backend (smart HTTP: clone, fetch, push). Resolves when the answer is sent. */
export function serveGit(
  request: IncomingMessage,
  response: ServerResponse,
  url: URL,
  gitDir: string,
): Promise<{ repository: string; isPush: boolean }> {
  const match = /^\/git\/([a-z][a-z0-9-]*)\.git(\/(?:info\/refs|git-upload-pack|git-receive-pack|HEAD|objects\/[\w./-]+))$/.exec(
    url.pathname,
  )
  if (!match) throw new RequestError(404, 'no such repository')
  const [, repository = '', rest = ''] = match
  return new Promise((resolve, reject) => {
    const child = spawn('git', ['http-backend'], {
      stdio: ['pipe', 'pipe', 'inherit'],
      env: {
        PATH: process.env.PATH,
        HOME: '/nonexistent',
        GIT_CONFIG_NOSYSTEM: '1',
        GIT_CONFIG_GLOBAL: '/dev/null',
        GIT_CONFIG_COUNT: '1',
        GIT_CONFIG_KEY_0: 'safe.directory',
        GIT_CONFIG_VALUE_0: '*',
        GIT_PROJECT_ROOT: gitDir,
        GIT_HTTP_EXPORT_ALL: '1',
        PATH_INFO: `/${repository}.git${rest}`,
        QUERY_STRING: url.search.slice(1),
        REQUEST_METHOD: request.method ?? 'GET',
        CONTENT_TYPE: request.headers['content-type'] ?? '',
        HTTP_CONTENT_ENCODING: String(request.headers['content-encoding'] ?? ''),
        GIT_PROTOCOL: String(request.headers['git-protocol'] ?? ''),
        REMOTE_ADDR: '127.0.0.1',
        REMOTE_USER: 'loopback',
        ...(request.headers['content-length'] && { CONTENT_LENGTH: request.headers['content-length'] }),
      },
    })
    request.pipe(child.stdin)
    child.stdin.on('error', () => {})
    pipeCgiAnswer(child.stdout, response)
    child.on('error', reject)
    child.on('close', () => resolve({ repository, isPush: rest === '/git-receive-pack' }))
  })
}

/** The head of a CGI answer becomes the response's; the rest goes through as it comes. */
function pipeCgiAnswer(stdout: NodeJS.ReadableStream, response: ServerResponse): void {
  let head = Buffer.alloc(0)
  let isHeadDone = false
  stdout.on('data', (chunk: Buffer) => {
    if (isHeadDone) {
      response.write(chunk)
      return
    }
    head = Buffer.concat([head, chunk])
    const end = head.indexOf('\r\n\r\n')
    if (end < 0) return
    isHeadDone = true
    let status = 200
    for (const line of head.toString('latin1', 0, end).split('\r\n')) {
      const colon = line.indexOf(':')
      const name = line.slice(0, colon)
      const value = line.slice(colon + 1).trim()
      if (name.toLowerCase() === 'status') status = Number.parseInt(value, 10)
      else response.setHeader(name, value)
    }
    response.writeHead(status)
    response.write(head.subarray(end + 4))
  })
  stdout.on('end', () => response.end())
}
