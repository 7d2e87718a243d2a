import { hash, verify } from '@node-rs/argon2'
import { Problem } from '@dystracer/core/basics/problem'
import zxcvbn from 'zxcvbn'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { INSERT_CREDENTIAL } from './accounts.queries.js'

/** OWASP's minimum for argon2id. */
const ARGON = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }
const DUMMY_HASH = hash('nobody has this password', ARGON)
/** From 0 to 4; below 2 a password is found in fewer than a million guesses. */
const SCORE_MIN = 2
/** The judge's time grows with the square of what it reads, and more than this tells it nothing new. */
const JUDGED_MAX = 72

/** The form in which a password is kept. */
export function hashPassword(password: string): Promise<string> {
  return hash(password, ARGON)
}

/** Whether a password is the one that was kept; takes as long where none was. */
export async function isPassword(passwordHash: string | undefined, password: string): Promise<boolean> {
  const isRight = await verify(passwordHash ?? (await DUMMY_HASH), password)
  return isRight && passwordHash !== undefined
}

/**
 * Refuses a password that would be guessed soon: common ones, keyboard walks, dates, and whatever is made of its owner's own names (zxcvbn,
 * Wheeler, USENIX Security 2016). Throws `invalid-input` for the field with the reason.
 */
export function requireGoodPassword(password: string, { field, known }: { field: string; known: readonly string[] }): void {
  const { score, feedback } = zxcvbn(password.slice(0, JUDGED_MAX), [
    ...known.flatMap((text) => [text, ...text.split(/[^\p{L}\p{N}]+/u)]),
    'dystracer',
  ])
  if (score >= SCORE_MIN) return
  const why = feedback.warning.replace(/\.$/, '') || 'This would be guessed soon'
  throw new Problem('invalid-input', { fields: { [field]: `${why}. Take several words that have nothing to do with each other` } })
}

/** Gives somebody a password, whatever they had. */
export async function setPassword(ctx: Pick<ServiceContext, 'db'>, personId: string, password: string): Promise<void> {
  const passwordHash = await hashPassword(password)
  sql(ctx.db, INSERT_CREDENTIAL).run({ personId, passwordHash })
}
