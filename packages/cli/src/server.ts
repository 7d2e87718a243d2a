import pRetry, { AbortError } from 'p-retry'
import { ApiProblem, createClient, type Client } from '@dystracer/core/contract/client'
import { Refusal } from './refusal.js'

/** Where the server is and what proves the right to send there. */
export interface ServerSettings {
  /** Such as `https://bugs.example.org`, without a slash at the end. */
  address: string
  token: string
}

const RETRIES = 4
const FIRST_WAIT_MS = 500
/** Answers by which a server says that the same may be sent again. */
const PASSING = new Set([429, 502, 503, 504])

/** The server's address and token, from the options or the environment; throws a `Refusal` that names what is missing. */
export function serverSettings(given: { url?: string; token?: string }, env: Readonly<Record<string, string | undefined>>): ServerSettings {
  const address = given.url ?? env.DYSTRACER_URL
  const token = given.token ?? env.DYSTRACER_TOKEN
  if (!address) throw new Refusal('Say where Dystracer is: --url or DYSTRACER_URL, such as https://bugs.example.org.', { exitCode: 2 })
  if (!/^https?:\/\//.test(address)) throw new Refusal(`${address} is no address; it begins with http:// or https://.`, { exitCode: 2 })
  if (!token) throw new Refusal('Set DYSTRACER_TOKEN to a token; one is made in Settings, Tokens.', { exitCode: 2 })
  return { address: address.replace(/\/+$/, ''), token }
}

/** What a call sends; `key` makes it safe to send again. */
export interface Sent {
  path: string
  contentType: string
  body: string | Uint8Array
  /** Gives up at once, also between two tries. */
  signal?: AbortSignal
}

/**
 * Sends a body and gives the answer's text. What passes by itself (a lost connection, a server that starts again) is tried five times over
 * some ten seconds; everything taken here may come twice. Throws a `Refusal` in the server's own words.
 */
export async function send({ address, token }: ServerSettings, { path, contentType, body, signal }: Sent): Promise<string> {
  const call = () =>
    fetch(`${address}${path}`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}`, 'content-type': contentType },
      body,
      ...(signal && { signal }),
    })
  const response = await reach(address, call, signal)
  const text = await response.text()
  if (!response.ok) throw new Refusal(wordsOf(text, response.status), { exitCode: 1 })
  return text
}

/** The typed client of the API, which tries again like `send`: calls that must act once carry an idempotency key. */
export function apiOf({ address, token }: ServerSettings, idempotencyKey: string): Client {
  return createClient({
    baseUrl: address,
    headers: { authorization: `Bearer ${token}`, 'idempotency-key': idempotencyKey },
    fetch: (url, init) => reach(address, () => fetch(url, init)),
  })
}

async function reach(address: string, call: () => Promise<Response>, signal?: AbortSignal): Promise<Response> {
  try {
    return await pRetry(
      async (attempt) => {
        const response = await call()
        if (!PASSING.has(response.status) || attempt > RETRIES) return response
        await response.body?.cancel()
        throw new Error(`the server answered ${response.status}`)
      },
      { retries: RETRIES, minTimeout: FIRST_WAIT_MS, ...(signal && { signal }) },
    )
  } catch (error) {
    if (error instanceof AbortError) throw error
    const cause = error instanceof Error && error.cause instanceof Error ? error.cause : error
    throw new Refusal(`${address} cannot be reached: ${cause instanceof Error ? cause.message || cause.name : String(cause)}.`, {
      exitCode: 3,
    })
  }
}

/** A refusal of the server as a line for people: what it said, or what a proxy in between answered. */
function wordsOf(text: string, status: number): string {
  try {
    const problem = JSON.parse(text) as { title?: unknown; detail?: unknown }
    if (typeof problem.detail === 'string') return problem.detail
    if (typeof problem.title === 'string') return problem.title
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
  }
  return `The server answered ${status}: ${text.slice(0, 200)}`
}

/** What the typed client threw, as a `Refusal`; anything else stays what it is. */
export function toRefusal(error: unknown): unknown {
  return error instanceof ApiProblem ? new Refusal(error.message, { exitCode: 1 }) : error
}
