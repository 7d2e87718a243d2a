import { createApi, type BaseQueryFn } from '@reduxjs/toolkit/query/react'
import type { ProblemDetails } from '@dystracer/core/basics/wire'
import { OPERATIONS, type OperationName } from '@dystracer/core/contract/operations'
import { apiRoot, pastAt, readyingStore } from './past'
import { askForProof } from './proof'
import { addressOf, type AnswerOf, type BodyIn, type CallInput } from '@dystracer/core/people/operation'

type Operations = typeof OPERATIONS
/** What the server answers to an operation. */
export type Answer<Name extends OperationName> = AnswerOf<Operations[Name]>
/** What an operation takes as its body. */
export type Body<Name extends OperationName> = BodyIn<Operations[Name]>

export interface ApiRequest {
  url: string
  method: string
  body?: unknown
  headers?: Record<string, string>
}

/** A call of an operation, its input checked by the compiler against the contract. */
export function request<Name extends OperationName>(
  name: Name,
  input: CallInput<Operations[Name]>,
  headers?: Record<string, string>,
): ApiRequest {
  const declared = OPERATIONS[name]
  const { params, query, body } = input as { params?: Record<string, string>; query?: object; body?: unknown }
  return {
    url: addressOf(declared, { params, query }),
    method: declared.method.toUpperCase(),
    ...(body !== undefined && { body }),
    ...(headers && { headers }),
  }
}

/** What a page of a filtered list is asked by. */
export function pageQuery({ filter }: { filter: string }, cursor: string | null) {
  return { limit: 60, ...(filter !== '' && { filter }), ...(cursor !== null && { cursor }) }
}

/** How a list of pages goes from each to the next. */
export const BY_CURSOR = {
  initialPageParam: null,
  getNextPageParam: (last: { nextCursor: string | null }) => last.nextCursor ?? undefined,
}

const KEPT_ALIVE_MAX = 20_000
let csrfToken = ''

/** One way to the server; failures come back as problem details. */
const baseQuery: BaseQueryFn<ApiRequest, unknown, ProblemDetails> = async (asked, api, extra) => {
  const answer = await sendOnce(asked, api, extra)
  if (answer.error?.code === 'proof-needed' && (await askForProof())) return sendOnce(asked, api, extra)
  if (answer.error?.code === 'past-not-open' && (await openOnce())) return sendOnce(asked, api, extra)
  return answer
}

/** The moment of this page is made ready once for all requests that wait for it. */
let opening: Promise<boolean> | null = null
function openOnce(): Promise<boolean> {
  opening ??= openPast()
  return opening
}

const OPEN_AGAIN_MS = 250

/** Has the moment of this page made ready, and tells how far that is; false where the server could not. */
async function openPast(): Promise<boolean> {
  try {
    for (;;) {
      const response = await fetch(`/api/v1/past?at=${pastAt}`)
      if (!response.ok) return false
      const { done, total, isReady } = (await response.json()) as Answer<'openPast'>
      if (isReady) return true
      readyingStore.set({ done, total })
      await new Promise((resolve) => setTimeout(resolve, OPEN_AGAIN_MS))
    }
  } catch {
    return false
  } finally {
    readyingStore.set(null)
    opening = null
  }
}

const sendOnce: BaseQueryFn<ApiRequest, unknown, ProblemDetails> = async ({ url, method, body, headers }, { signal }) => {
  const isFile = body instanceof Blob
  const text = body === undefined || isFile ? '' : JSON.stringify(body)
  try {
    const response = await fetch(`${apiRoot}${url}`, {
      method,
      signal,
      headers: {
        ...(body !== undefined && { 'content-type': isFile ? body.type || 'application/octet-stream' : 'application/json' }),
        ...(method !== 'GET' && { 'x-dystracer-csrf': csrfToken }),
        ...headers,
      },
      ...(body !== undefined && { body: isFile ? body : text }),
      // What was sent is not lost when the page is left at once; browsers allow this up to 64 KiB.
      keepalive: method !== 'GET' && !isFile && text.length < KEPT_ALIVE_MAX,
    })
    const data: unknown = response.status === 204 ? {} : await response.json()
    if (!response.ok) return { error: data as ProblemDetails }
    if (typeof data === 'object' && data !== null && 'csrfToken' in data) csrfToken = String(data.csrfToken)
    return { data }
  } catch (error) {
    return { error: unreachable('The server did not answer', error instanceof Error ? error.message : String(error)) }
  }
}

export function unreachable(title: string, detail: string): ProblemDetails {
  return { type: '/problems/unreachable', title, status: 0, code: 'unreachable', detail }
}

/** The headers of a change that is not sent by `request`: a file. */
export function fileHeaders(): Record<string, string> {
  return { 'content-type': 'application/octet-stream', 'x-dystracer-csrf': csrfToken }
}

export function apiAddress(name: OperationName, input: { params?: Record<string, string>; query?: object }): string {
  return `${apiRoot}${addressOf(OPERATIONS[name], input)}`
}

/** A list of more pages than these is not read again for every item that is logged. */
export const LONG_LIST_PAGES = 10

export const TAG_TYPES = [
  'Incident',
  'Me',
  'IntakeRule',
  'Token',
  'Session',
  'Webhook',
  'Hand',
  'Triage',
  'Routing',
  'Views',
  'Import',
  'Notice',
  'Time',
  'Overview',
  'Items',
  'LongItems',
  'Item',
  'Fault',
  'Code',
  'Remark',
  'Tie',
  'Case',
  'Build',
  'Release',
  'Requirement',
  'Thread',
] as const
export type TagName = (typeof TAG_TYPES)[number]
export type Tag = TagName | { type: TagName; id: string }

/** What a change of one item makes stale. */
export const itemTags = (key: string): Tag[] => [{ type: 'Item', id: key }, 'Items', 'Triage', 'Overview']

/** The cache of what the server said. Each subject puts its endpoints in (`features/x/x.api.ts`). */
export const api = createApi({ reducerPath: 'api', baseQuery, tagTypes: TAG_TYPES, keepUnusedDataFor: 120, endpoints: () => ({}) })
