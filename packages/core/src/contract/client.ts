import type { ProblemDetails } from '#basics/wire'
import { addressOf, type AnswerOf, type CallInput } from '#people/operation'
import { OPERATIONS, type OperationName } from './operations.js'

type Operations = typeof OPERATIONS
/** One function for each operation; its input and its answer are the operation's. */
export type Client = { readonly [Name in OperationName]: (input: CallInput<Operations[Name]>) => Promise<AnswerOf<Operations[Name]>> }

/** What the server refused, as it said it (RFC 9457). */
export class ApiProblem extends Error {
  readonly details: ProblemDetails

  constructor(details: ProblemDetails) {
    super(details.detail ?? details.title)
    this.name = 'ApiProblem'
    this.details = details
  }
}

/** Where the client sends to, by which `fetch`, and with which token. */
export interface ClientOptions {
  /** Where the server answers, such as `http://127.0.0.1:4310`. */
  baseUrl: string
  fetch: (
    url: string,
    init: { method: string; headers: Record<string, string>; body?: string },
  ) => Promise<{ ok: boolean; status: number; text(): Promise<string> }>
  /** Sent with each call: a token, an idempotency key. */
  headers?: Record<string, string>
}

/**
 * A typed client of the whole API, made from the table of operations. An operation whose answer is no JSON (a file, a table) gives its
 * text. Throws
 * `ApiProblem` for what the server refuses; what `fetch` throws passes through.
 *
 * @example const item = await createClient({ baseUrl, fetch, headers }).readItem({ params: { key: 'EMB-142' } })
 */
export function createClient({ baseUrl, fetch, headers = {} }: ClientOptions): Client {
  const call = async (
    name: OperationName,
    { params, query, body }: { params?: Record<string, string>; query?: object; body?: unknown },
  ): Promise<unknown> => {
    const declared: { method: string; path: string; media?: string } = OPERATIONS[name]
    const response = await fetch(`${baseUrl}/api/v1${addressOf(declared, { params, query })}`, {
      method: declared.method.toUpperCase(),
      headers: { ...(body !== undefined && { 'content-type': 'application/json' }), ...headers },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
    const text = await response.text()
    if (!response.ok) throw new ApiProblem(toDetails(response.status, text))
    return declared.media === undefined ? JSON.parse(text) : text
  }
  return Object.fromEntries(
    Object.keys(OPERATIONS).map((name) => [name, (input: object) => call(name as OperationName, input)]),
  ) as unknown as Client
}

/** A proxy in between may answer something else than a problem. */
function toDetails(status: number, text: string): ProblemDetails {
  try {
    const parsed = JSON.parse(text) as Partial<ProblemDetails>
    if (typeof parsed.code === 'string' && typeof parsed.title === 'string') return { type: '', status, ...parsed } as ProblemDetails
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
  }
  return { type: 'about:blank', title: `The server answered ${status}`, status, code: 'unreachable', detail: text.slice(0, 200) }
}
