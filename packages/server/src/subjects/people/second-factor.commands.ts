import { randomBytes } from 'node:crypto'
import { generateSecret, generateURI, verifySync } from 'otplib'
import { Problem } from '@dystracer/core/basics/problem'
import type { SecondFactor } from '@dystracer/core/people/second-factor-wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { isPassword } from './passwords.js'
import { personOf } from './persons.js'
import {
  GET_SECOND_FACTOR,
  UPDATE_TOTP_CONFIRMED,
  UPDATE_TOTP_ENDED,
  UPDATE_TOTP_PENDING,
  UPDATE_TOTP_USED,
} from './second-factor.queries.js'
import { digestOf } from './secrets.js'

/** A code of the step before or after counts, too: clocks differ, and typing takes time (RFC 6238, 5.2). */
const TOLERANCE_SECONDS = 30
const RECOVERY_CODES = 10

interface Row {
  password_hash: string
  totp_secret: string | null
  totp_pending: string | null
  totp_since_ms: number | null
  totp_last_step: number
  recovery: string
}

/** Whether the asker's account asks for a code. */
export function readSecondFactor(ctx: ServiceContext, who: Who): SecondFactor {
  const row = rowOf(ctx, who.personId ?? '')
  return {
    isOn: row?.totp_secret != null,
    sinceMs: row?.totp_since_ms ?? null,
    recoveryLeft: row?.totp_secret ? (JSON.parse(row.recovery) as string[]).length : 0,
  }
}

/** A new secret for the asker's authenticator; what was asked for before goes on until it is confirmed. Throws `invalid-input`. */
export async function beginSecondFactor(ctx: ServiceContext, who: Who, password: string): Promise<{ secret: string; uri: string }> {
  const personId = await requirePassword(ctx, who, password)
  const secret = generateSecret()
  sql(ctx.db, UPDATE_TOTP_PENDING).run({ personId, secret })
  return { secret, uri: generateURI({ issuer: 'Dystracer', label: personOf(ctx.db, personId)?.email ?? personId, secret }) }
}

/** Asks for codes from now on, once the asker's authenticator has shown one. Gives codes for a lost device; each counts once. */
export function confirmSecondFactor(ctx: ServiceContext, who: Who, code: string): string[] {
  const personId = who.personId ?? ''
  const pending = rowOf(ctx, personId)?.totp_pending
  if (!pending) throw new Problem('conflict', { detail: 'No second factor is being set up. Begin anew.' })
  const step = stepOf(ctx, pending, code, 0)
  if (step === null) throw new Problem('invalid-input', { fields: { code: wrongCode(ctx) } })
  const codes = Array.from({ length: RECOVERY_CODES }, () =>
    randomBytes(5)
      .toString('hex')
      .replace(/(.{5})/, '$1-'),
  )
  sql(ctx.db, UPDATE_TOTP_CONFIRMED).run({ personId, nowMs: ctx.nowMs(), step, recovery: JSON.stringify(codes.map(digestOf)) })
  return codes
}

/** Asks for no code any more. Throws `invalid-input` for a wrong password. */
export async function endSecondFactor(ctx: ServiceContext, who: Who, password: string): Promise<void> {
  sql(ctx.db, UPDATE_TOTP_ENDED).run({ personId: await requirePassword(ctx, who, password) })
}

/**
 * Whether an account may be entered with this code, after its password: true where it asks for none. A code counts once, one for a lost
 * device, too. Throws `second-factor-needed` where none was given.
 */
export function checkSecondFactor(ctx: ServiceContext, personId: string, code: string | undefined): boolean {
  const row = rowOf(ctx, personId)
  if (!row?.totp_secret) return true
  if (code === undefined || code.trim() === '')
    throw new Problem('second-factor-needed', { detail: 'Type the code that your authenticator shows, or one of those for a lost device.' })
  const recovery = JSON.parse(row.recovery) as string[]
  const step = stepOf(ctx, row.totp_secret, code, row.totp_last_step)
  if (step !== null) {
    sql(ctx.db, UPDATE_TOTP_USED).run({ personId, step, recovery: row.recovery })
    return true
  }
  const left = recovery.filter((one) => one !== digestOf(code.trim().toLowerCase()))
  if (left.length === recovery.length) return false
  sql(ctx.db, UPDATE_TOTP_USED).run({ personId, step: row.totp_last_step, recovery: JSON.stringify(left) })
  return true
}

/** Says what the server's clock shows: a device whose clock is wrong shows codes of another time. */
export function wrongCode(ctx: Pick<ServiceContext, 'nowMs'>): string {
  return (
    `This is not the code of now. If your authenticator's clock is off, so are its codes: here it is ` +
    `${new Date(ctx.nowMs()).toISOString().slice(11, 19)} UTC`
  )
}

/** The time step of a code that is right and was not used yet; null for any other. */
function stepOf(ctx: Pick<ServiceContext, 'nowMs'>, secret: string, code: string, lastStep: number): number | null {
  const token = code.replace(/\s/g, '')
  if (!/^\d{6}$/.test(token)) return null
  const found = verifySync({ secret, token, epoch: Math.floor(ctx.nowMs() / 1000), epochTolerance: TOLERANCE_SECONDS })
  return found.valid && 'timeStep' in found && found.timeStep > lastStep ? found.timeStep : null
}

function rowOf({ db }: Pick<ServiceContext, 'db'>, personId: string): Row | undefined {
  return sql(db, GET_SECOND_FACTOR).get<Row>({ personId })
}

async function requirePassword(ctx: ServiceContext, who: Who, password: string): Promise<string> {
  const personId = who.personId ?? ''
  if (!(await isPassword(rowOf(ctx, personId)?.password_hash, password)))
    throw new Problem('invalid-input', { fields: { password: 'This is not your password' } })
  return personId
}
