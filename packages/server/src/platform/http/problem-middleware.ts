import { randomUUID } from 'node:crypto'
import type { Middleware } from 'koa'
import type { Logger } from 'pino'
import { ZodError } from 'zod'
import { Problem } from '@dystracer/core/basics/problem'
import type { ProblemDetails } from '@dystracer/core/basics/wire'
import { forWantOfRoom, isNoRoom, noRoom, type Place } from '#platform/files/room'

/**
 * Outermost: turns whatever is thrown into problem details (RFC 9457). What is not an expected problem becomes 500 without detail and is
 * logged once with its cause.
 */
export function problemMiddleware(log: Logger, place: Place): Middleware {
  return async (koa, next) => {
    const requestId = randomUUID()
    koa.set('x-request-id', requestId)
    try {
      await next()
      if (koa.status === 404 && koa.body === undefined) throw new Problem('not-found', { detail: `Nothing answers at ${koa.path}.` })
    } catch (error) {
      const problem = forWantOfRoom(toProblem(error), place)
      // What is told in words, such as that a host does not answer, is no fault of the server's own.
      if (problem.status >= 500)
        log[problem.code === 'internal' ? 'error' : 'warn']({ requestId, err: error, path: koa.path }, 'request failed')
      koa.status = problem.status
      for (const [name, value] of Object.entries(problem.headers ?? {})) koa.set(name, value)
      const details: ProblemDetails = {
        type: `/problems/${problem.code}`,
        title: problem.title,
        status: problem.status,
        code: problem.code,
        requestId,
        ...(problem.message !== problem.title && { detail: problem.message }),
        ...(problem.fields && { fields: problem.fields }),
        ...(problem.facts && { facts: problem.facts }),
      }
      koa.type = 'application/problem+json'
      koa.body = JSON.stringify(details)
    }
  }
}

export function toProblem(error: unknown): Problem {
  if (error instanceof Problem) return error
  if (error instanceof ZodError) {
    return new Problem('invalid-input', {
      fields: Object.fromEntries(error.issues.map((issue) => [issue.path.join('.') || 'body', issue.message])),
    })
  }
  if (isNoRoom(error)) return noRoom(undefined, error)
  return new Problem('internal', { cause: error })
}
