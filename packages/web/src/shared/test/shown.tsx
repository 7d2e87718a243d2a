import { act, configure, render, type RenderResult } from '@testing-library/react'
import userEvent, { type UserEvent } from '@testing-library/user-event'
import { PROBLEM_CATALOGUE, type ProblemCode } from '@dystracer/core/basics/problem-catalogue'
import { OPERATIONS, type OperationName } from '@dystracer/core/contract/operations'
import type { ReactNode } from 'react'
import { Provider } from 'react-redux'
import { BrowserRouter } from 'react-router'
import { api, type Answer, type Body } from '#shared/lib/api'
import { store } from '#shared/lib/store'

/** One request that the interface sent, as the operation that it was. */
export interface Asked {
  name: OperationName
  params: Record<string, string>
  query: Record<string, string>
  body: unknown
}

/** A refusal to answer with, in place of an answer. */
export interface Refused {
  refused: ProblemCode
  detail?: string
  fields?: Record<string, string>
}

/** What the server of a test answers, by operation; an operation without an answer fails the test by name. */
export type Answers = { [Name in OperationName]?: (asked: Asked & { body: Body<Name> }) => Answer<Name> | Refused | Promise<Answer<Name>> }

const PATTERNS = (Object.keys(OPERATIONS) as OperationName[])
  .map((name) => {
    const { method, path } = OPERATIONS[name]
    const names: string[] = []
    const source = path.replaceAll(/[:*](\w+)/g, (sign, param: string) => {
      names.push(param)
      return sign.startsWith('*') ? '(.+)' : '([^/]+)'
    })
    return { name, method: method.toUpperCase(), pattern: new RegExp(`^/api/v1${source}$`), names }
  })
  // A path without parameters goes before one that would take its words for a parameter.
  .sort((a, b) => a.names.length - b.names.length)

/**
 * A server by the contract: it finds the operation of each request, holds body and answer against their schemas as the real one does, and
 * remembers what it was asked.
 */
function aServer(answers: Answers) {
  const asked: Asked[] = []
  const fetchStub = async (input: string | URL | Request, init: RequestInit = {}): Promise<Response> => {
    const url = new URL(String(input), 'http://localhost')
    const found = PATTERNS.find(({ method, pattern }) => method === (init.method ?? 'GET') && pattern.test(url.pathname))
    if (!found) throw new Error(`no operation is at ${init.method ?? 'GET'} ${url.pathname}`)
    const declared = OPERATIONS[found.name] as {
      body?: { parse(value: unknown): unknown }
      bodyMedia?: string
      answer: { parse(value: unknown): unknown }
    }
    const values = found.pattern.exec(url.pathname)?.slice(1) ?? []
    // A file is sent as it is, not as JSON.
    const isJson = init.body !== undefined && declared.bodyMedia === undefined
    const body: unknown = isJson ? JSON.parse(String(init.body)) : undefined
    const call: Asked = {
      name: found.name,
      params: Object.fromEntries(found.names.map((name, at) => [name, decodeURIComponent(values[at] ?? '')])),
      query: Object.fromEntries(url.searchParams),
      body: body === undefined ? undefined : declared.body?.parse(body),
    }
    asked.push(call)
    const answer = answers[found.name] as ((call: Asked) => unknown) | undefined
    if (!answer) throw new Error(`nobody said what ${found.name} answers`)
    const given = await answer(call)
    if (isRefused(given)) {
      const { status, title } = PROBLEM_CATALOGUE[given.refused]
      const { refused: code, ...rest } = given
      return Response.json({ type: `/problems/${code}`, title, status, code, requestId: 'req-1', ...rest }, { status })
    }
    return Response.json(declared.answer.parse(given))
  }
  return { asked, fetchStub }
}

function isRefused(given: unknown): given is Refused {
  return typeof given === 'object' && given !== null && 'refused' in given && typeof given.refused === 'string'
}

// Several files run at once: a slow turn is no failure.
configure({ asyncUtilTimeout: 8000 })

/** A part on its page: how to find things there, a person to use it, and what the server was asked. */
export interface Shown extends RenderResult {
  user: UserEvent
  asked: readonly Asked[]
  /** Where the person is now. */
  address: () => string
  bodiesOf: (name: OperationName) => unknown[]
}

/** Something of the interface on a page of its own, before a server that answers as told. */
export function show(content: ReactNode, { answers = {}, at = '/' }: { answers?: Answers; at?: string } = {}): Shown {
  const { asked, fetchStub } = aServer(answers)
  globalThis.fetch = fetchStub
  window.history.replaceState(null, '', at)
  // Parts that an earlier call drew may still stand there, and hear of it.
  act(() => void store.dispatch(api.util.resetApiState()))
  const page: RenderResult = render(
    <Provider store={store}>
      <BrowserRouter>{content}</BrowserRouter>
    </Provider>,
  )
  const user: UserEvent = userEvent.setup()
  return {
    ...page,
    user,
    asked,
    address: () => window.location.pathname,
    bodiesOf: (name: OperationName) => asked.filter((call) => call.name === name).map((call) => call.body),
  }
}
