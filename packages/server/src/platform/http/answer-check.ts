import type { Operation } from '@dystracer/core/people/operation'
import { z } from 'zod'
import type { ServiceContext } from '#platform/context'

/** While people work, one answer of each operation in so many milliseconds is held against its schema. */
const LOOK_EVERY_MS = 10_000

/**
 * Holds answers against the schemas that promise them. Where the configuration says `throw` (the tests), an answer that does not fit is an
 * error; else one
 * of each operation every ten seconds is looked at after it was sent, and what does not fit is logged.
 */
export class AnswerCheck {
  readonly #ctx: ServiceContext
  readonly #lookedAtMs = new Map<Operation, number>()

  constructor(ctx: ServiceContext) {
    this.#ctx = ctx
  }

  check(declared: Operation, answer: unknown): void {
    if (this.#ctx.config.answersThatDoNotFit === 'throw') {
      const trouble = this.#troubleOf(declared, answer)
      if (trouble) throw new Error(trouble)
      return
    }
    const nowMs = performance.now()
    if (nowMs - (this.#lookedAtMs.get(declared) ?? Number.NEGATIVE_INFINITY) < LOOK_EVERY_MS) return
    this.#lookedAtMs.set(declared, nowMs)
    setImmediate(() => {
      const trouble = this.#troubleOf(declared, answer)
      if (trouble) this.#ctx.log.error(trouble)
    })
  }

  #troubleOf(declared: Operation, answer: unknown): string | null {
    const result = declared.answer.safeParse(answer)
    return result.success
      ? null
      : `the answer of ${declared.method} ${declared.path} does not fit its schema: ${z.prettifyError(result.error)}`
  }
}
