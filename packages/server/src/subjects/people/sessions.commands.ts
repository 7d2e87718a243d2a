import { Problem } from '@dystracer/core/basics/problem'
import type { Session } from '@dystracer/core/people/wire'
import type { Who } from '@dystracer/core/people/who'
import { createHash, randomBytes } from 'node:crypto'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { whoIsPerson } from './access.js'
import { GET_PERSON_BY_EMAIL } from './accounts.queries.js'
import { isPassword } from './passwords.js'
import {
  DELETE_OTHER_SESSIONS,
  DELETE_SESSION_BY_SESSION_HASH,
  DELETE_SESSIONS_THAT_ENDED,
  GET_SESSION_BY_SESSION_HASH,
  INSERT_SESSION,
  LIST_SESSION_BY_PERSON_ID,
  UPDATE_SESSION_USED,
} from './sessions.queries.js'

const DAY_MS = 86_400_000
const SESSION_MS = 14 * DAY_MS
/** A session that nobody used for so long is over before its time. */
const IDLE_MS = 7 * DAY_MS
const USED_NOTED_EVERY_MS = 60_000
const PLACE_MAX = 200
/** How much of a session's digest names it: enough to tell one's own apart, and no help to open it. */
const SESSION_ID_LENGTH = 12

export interface NewSession {
  secret: string
  csrfToken: string
  expiresAtMs: number
}

/** Opens a session at a place. Takes as long for an unknown address as for a wrong password. Throws `wrong-credentials`. */
export async function signIn(ctx: ServiceContext, input: { email: string; password: string }, place: string): Promise<NewSession> {
  const row = sql(ctx.db, GET_PERSON_BY_EMAIL).get<{ person_id: string; password_hash: string }>({ email: input.email.trim() })
  const isRight = await isPassword(row?.password_hash, input.password)
  if (!row || !isRight) throw new Problem('wrong-credentials', { detail: 'No account has this address with this password.' })
  return openSession(ctx, row.person_id, place)
}

/** Signs somebody in, who has proven who they are. */
export function openSession(ctx: ServiceContext, personId: string, place: string): NewSession {
  const secret = randomBytes(32).toString('base64url')
  const nowMs = ctx.nowMs()
  const session = { secret, csrfToken: randomBytes(24).toString('base64url'), expiresAtMs: nowMs + SESSION_MS }
  sql(ctx.db, DELETE_SESSIONS_THAT_ENDED).run({ nowMs, idleBeforeMs: nowMs - IDLE_MS })
  sql(ctx.db, INSERT_SESSION).run({
    sessionHash: digest(secret),
    personId,
    csrfToken: session.csrfToken,
    expiresAtMs: session.expiresAtMs,
    nowMs,
    place: place.slice(0, PLACE_MAX),
  })
  return session
}

export function signOut(ctx: ServiceContext, secret: string): void {
  sql(ctx.db, DELETE_SESSION_BY_SESSION_HASH).run({ sessionHash: digest(secret) })
}

/** Who holds this session; null when it is unknown or over. */
export function whoBySession(ctx: ServiceContext, secret: string): Who | null {
  const sessionHash = digest(secret)
  const nowMs = ctx.nowMs()
  const row = sql(ctx.db, GET_SESSION_BY_SESSION_HASH).get<{ person_id: string; csrf_token: string; used_at_ms: number }>({
    sessionHash,
    nowMs,
    idleBeforeMs: nowMs - IDLE_MS,
  })
  if (!row) return null
  if (nowMs - row.used_at_ms >= USED_NOTED_EVERY_MS) sql(ctx.db, UPDATE_SESSION_USED).run({ sessionHash, nowMs })
  return { ...whoIsPerson(ctx.db, row.person_id), csrfToken: row.csrf_token }
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
      isThis: sessionHash === digest(secret),
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
  sql(ctx.db, DELETE_OTHER_SESSIONS).run({ personId, sessionHash: secret === '' ? '' : digest(secret) })
}

function digest(secret: string): string {
  return createHash('sha256').update(secret).digest('base64url')
}
