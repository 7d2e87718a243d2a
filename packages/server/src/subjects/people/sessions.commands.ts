import { Problem } from '@dystracer/core/basics/problem'
import type { Session } from '@dystracer/core/people/wire'
import type { Who } from '@dystracer/core/people/who'
import { randomBytes } from 'node:crypto'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { whoIsPerson } from './access.js'
import { GET_CREDENTIAL_BY_PERSON_ID, GET_PERSON_BY_EMAIL } from './accounts.queries.js'
import { noteAudit } from '#subjects/audit/index'
import { mailerOf } from '#platform/mail/mailer.slot'
import { isPassword } from './passwords.js'
import { checkSecondFactor, wrongCode } from './second-factor.commands.js'
import {
  DELETE_OTHER_SESSIONS,
  DELETE_SESSION_BY_SESSION_HASH,
  DELETE_SESSIONS_THAT_ENDED,
  GET_FAILURES_OF_CREDENTIAL,
  GET_SESSION_BY_SESSION_HASH,
  INSERT_SESSION,
  LIST_SESSION_BY_PERSON_ID,
  UPDATE_CREDENTIAL_FAILURES,
  UPDATE_SESSION_PROVEN,
  UPDATE_SESSION_USED,
} from './sessions.queries.js'
import { digestOf } from './secrets.js'

const DAY_MS = 86_400_000
const SESSION_MS = 14 * DAY_MS
/** A session that nobody used for so long is over before its time. */
const IDLE_MS = 7 * DAY_MS
const USED_NOTED_EVERY_MS = 60_000
/** So many wrong passwords in a row lock an account, for so long. */
const FAILURES_MAX = 10
const LOCKED_MS = 15 * 60_000
const PLACE_MAX = 200
/** How much of a session's digest names it: enough to tell one's own apart, and no help to open it. */
const SESSION_ID_LENGTH = 12

export interface NewSession {
  secret: string
  csrfToken: string
  expiresAtMs: number
}

/**
 * Opens a session at a place. Takes as long for an unknown address as for a wrong password. Throws `wrong-credentials`,
 * `second-factor-needed` where the password is right and a code is asked for, and
 * `too-many-requests` for an account that is locked since its password was wrong too often; its owner is told by mail.
 */
export async function signIn(
  ctx: ServiceContext,
  input: { email: string; password: string; code?: string | undefined },
  place: string,
): Promise<NewSession> {
  const email = input.email.trim()
  const row = sql(ctx.db, GET_PERSON_BY_EMAIL).get<{ person_id: string; password_hash: string; locked_until_ms: number }>({ email })
  await requireProof(ctx, row && { personId: row.person_id, passwordHash: row.password_hash, lockedUntilMs: row.locked_until_ms }, {
    ...input,
    email,
    place,
    actor: 'guest',
    wrong: 'No account has this address with this password.',
  })
  const personId = row?.person_id ?? ''
  noteAudit(ctx, { kind: 'signed-in', actor: `person:${personId}`, about: personId, place })
  return openSession(ctx, personId, place)
}

/**
 * Shows by the password, and a code where the account asks for one, that a session is still its owner's: for a while it may give tokens and
 * roles. Wrong ones count as at the sign-in, and lock the account as there. Throws what signing in throws.
 */
export async function proveAgain(
  ctx: ServiceContext,
  who: Who,
  input: { password: string; code?: string | undefined; secret: string; place: string },
): Promise<void> {
  const personId = who.personId ?? ''
  const row = sql(ctx.db, GET_CREDENTIAL_BY_PERSON_ID).get<{ password_hash: string; locked_until_ms: number; email: string }>({ personId })
  await requireProof(ctx, row && { personId, passwordHash: row.password_hash, lockedUntilMs: row.locked_until_ms }, {
    ...input,
    email: row?.email ?? '',
    actor: who.actor,
    wrong: 'This is not your password.',
  })
  sql(ctx.db, UPDATE_SESSION_PROVEN).run({ sessionHash: digestOf(input.secret), nowMs: ctx.nowMs() })
}

interface Account {
  personId: string
  passwordHash: string
  lockedUntilMs: number
}

/** Holds somebody to the password of an account and its second factor; what is wrong is noted, and too much of it locks the account. */
async function requireProof(
  ctx: ServiceContext,
  account: Account | undefined,
  given: { email: string; password: string; code?: string | undefined; place: string; actor: string; wrong: string },
): Promise<void> {
  const { email, place, actor } = given
  const refuse = (why: string) => noteAudit(ctx, { kind: 'sign-in-refused', actor, about: email, place, facts: { why } })
  const isRight = await isPassword(account?.passwordHash, given.password)
  if (account && account.lockedUntilMs > ctx.nowMs()) {
    refuse('locked')
    throw lockedOut(account.lockedUntilMs - ctx.nowMs())
  }
  if (!account || !isRight) {
    refuse(account ? 'wrong password' : 'no such account')
    if (account) noteFailure(ctx, { personId: account.personId, email, place })
    throw new Problem('wrong-credentials', { detail: given.wrong })
  }
  const { personId } = account
  if (!checkSecondFactor(ctx, personId, given.code)) {
    refuse('wrong code')
    noteFailure(ctx, { personId, email, place })
    throw new Problem('wrong-credentials', { detail: wrongCode(ctx) })
  }
  sql(ctx.db, UPDATE_CREDENTIAL_FAILURES).run({ personId, failures: 0, lockedUntilMs: 0 })
}

function lockedOut(leftMs: number): Problem {
  return new Problem('too-many-requests', {
    detail:
      `This account is locked for ${Math.ceil(leftMs / 60_000)} more minutes: its password was wrong too often. A ` +
      `new password by mail opens it at once.`,
    headers: { 'retry-after': String(Math.ceil(leftMs / 1000)) },
  })
}

/** One more wrong password for an account; the last that is allowed locks it for a while and tells its owner. */
function noteFailure(ctx: ServiceContext, { personId, email, place }: { personId: string; email: string; place: string }): void {
  const failures = (sql(ctx.db, GET_FAILURES_OF_CREDENTIAL).get<{ failures: number }>({ personId })?.failures ?? 0) + 1
  const isLocked = failures >= FAILURES_MAX
  sql(ctx.db, UPDATE_CREDENTIAL_FAILURES).run({
    personId,
    failures: isLocked ? 0 : failures,
    lockedUntilMs: isLocked ? ctx.nowMs() + LOCKED_MS : 0,
  })
  if (!isLocked) return
  noteAudit(ctx, { kind: 'account-locked', actor: 'guest', about: personId, place })
  ctx.background.add(
    mailerOf(ctx).send({
      to: email,
      subject: 'Your account in Dystracer is locked for a quarter of an hour',
      headers: { 'Auto-Submitted': 'auto-generated' },
      text:
        `Somebody tried a wrong password for your account ${FAILURES_MAX} times in a row, the last time from ` +
        `${place}.\n\nIf that was not you, your password held. If it was, choose a new one by "Forgotten?" below the ` +
        `sign-in: that opens the account at once.\n`,
    }),
    'the mail about a locked account',
  )
}

/** Signs somebody in, who has proven who they are. */
export function openSession(ctx: ServiceContext, personId: string, place: string): NewSession {
  const secret = randomBytes(32).toString('base64url')
  const nowMs = ctx.nowMs()
  const session = { secret, csrfToken: randomBytes(24).toString('base64url'), expiresAtMs: nowMs + SESSION_MS }
  sql(ctx.db, DELETE_SESSIONS_THAT_ENDED).run({ nowMs, idleBeforeMs: nowMs - IDLE_MS })
  sql(ctx.db, INSERT_SESSION).run({
    sessionHash: digestOf(secret),
    personId,
    csrfToken: session.csrfToken,
    expiresAtMs: session.expiresAtMs,
    nowMs,
    place: place.slice(0, PLACE_MAX),
  })
  return session
}

export function signOut(ctx: ServiceContext, secret: string): void {
  sql(ctx.db, DELETE_SESSION_BY_SESSION_HASH).run({ sessionHash: digestOf(secret) })
}

/** Who holds this session; null when it is unknown or over. */
export function whoBySession(ctx: ServiceContext, secret: string): Who | null {
  const sessionHash = digestOf(secret)
  const nowMs = ctx.nowMs()
  const row = sql(ctx.db, GET_SESSION_BY_SESSION_HASH).get<{
    person_id: string
    csrf_token: string
    used_at_ms: number
    proven_at_ms: number
  }>({
    sessionHash,
    nowMs,
    idleBeforeMs: nowMs - IDLE_MS,
  })
  if (!row) return null
  if (nowMs - row.used_at_ms >= USED_NOTED_EVERY_MS) sql(ctx.db, UPDATE_SESSION_USED).run({ sessionHash, nowMs })
  return { ...whoIsPerson(ctx.db, row.person_id), csrfToken: row.csrf_token, provenAtMs: row.proven_at_ms }
}

interface SessionRow extends Omit<Session, 'sessionId' | 'isThis'> {
  sessionHash: string
}

/** Where the asker is signed in, the newest use first; `secret` tells which of them asks. */
export function listSessions(ctx: ServiceContext, who: Who, secret: string): Session[] {
  const nowMs = ctx.nowMs()
  return sql(ctx.db, LIST_SESSION_BY_PERSON_ID)
    .all<SessionRow>({ personId: who.personId ?? '', nowMs, idleBeforeMs: nowMs - IDLE_MS })
    .map(({ sessionHash, ...row }) => ({
      ...row,
      sessionId: sessionHash.slice(0, SESSION_ID_LENGTH),
      isThis: sessionHash === digestOf(secret),
    }))
}

/** Ends one of the asker's sessions by its name, or with `others` all but the one that asks. Throws `not-found`. */
export function endSession(ctx: ServiceContext, who: Who, { sessionId, secret }: { sessionId: string; secret: string }): void {
  if (sessionId === 'others') {
    endOtherSessions(ctx, who.personId ?? '', secret)
    return
  }
  const nowMs = ctx.nowMs()
  const row = sql(ctx.db, LIST_SESSION_BY_PERSON_ID)
    .all<SessionRow>({ personId: who.personId ?? '', nowMs, idleBeforeMs: nowMs - IDLE_MS })
    .find((known) => known.sessionHash.startsWith(sessionId) && sessionId.length === SESSION_ID_LENGTH)
  if (!row) throw new Problem('not-found', { detail: 'This session is over already.' })
  sql(ctx.db, DELETE_SESSION_BY_SESSION_HASH).run({ sessionHash: row.sessionHash })
}

/** Ends all sessions of somebody but one; an empty secret spares none. */
export function endOtherSessions(ctx: Pick<ServiceContext, 'db'>, personId: string, secret: string): void {
  sql(ctx.db, DELETE_OTHER_SESSIONS).run({ personId, sessionHash: secret === '' ? '' : digestOf(secret) })
}
