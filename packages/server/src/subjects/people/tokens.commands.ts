import { Problem } from '@dystracer/core/basics/problem'
import type { Role } from '@dystracer/core/people/permissions'
import { mayIn, NO_STANDING, type Standing } from '@dystracer/core/people/standing'
import type { MakeToken, Token, TokenMade } from '@dystracer/core/people/token-wire'
import type { Scope, Who } from '@dystracer/core/people/who'
import { randomBytes } from 'node:crypto'
import type { ServiceContext } from '#platform/context'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { whoIsPerson } from './access.js'
import { noteAudit } from '#subjects/audit/index'
import {
  DELETE_ACCESS_TOKEN_BY_TOKEN_ID,
  GET_ACCESS_TOKEN_BY_TOKEN_HASH,
  GET_ACCESS_TOKEN_BY_TOKEN_ID,
  HAS_ACCESS_TOKEN_WITH_ORIGIN,
  INSERT_ACCESS_TOKEN,
  LIST_ACCESS_TOKEN_BY_PERSON_ID,
  LIST_ACCESS_TOKEN_BY_PROJECT,
  LIST_ACCESS_TOKEN_OF_ALL,
  UPDATE_ACCESS_TOKEN_EXPIRES,
  UPDATE_ACCESS_TOKEN_LAST_USED,
  UPDATE_ACCESS_TOKEN_PLACES,
} from './tokens.queries.js'
import { digestOf } from './secrets.js'

const DAY_MS = 86_400_000
const USED_NOTED_EVERY_MS = 60_000
/** So many addresses of a token are known; build machines have many. */
const PLACES_MAX = 20
const ROLE_BY_SCOPE: Record<Scope, Role | null> = {
  intake: null,
  telemetry: null,
  evidence: null,
  maps: null,
  mail: null,
  read: 'reader',
  write: 'member',
  admin: 'admin',
}

interface TokenRow extends Omit<Token, 'services' | 'origins'> {
  services: string
  origins: string
}

/**
 * Who holds this access token; null when there is none such. Throws `wrong-token` for one whose time is over,
 * saying which and what to do.
 */
export function whoByToken(ctx: Pick<ServiceContext, 'db' | 'nowMs'>, token: string, address: string): Who | null {
  const { db } = ctx
  const nowMs = ctx.nowMs()
  const tokenHash = digestOf(token)
  const found = sql(db, GET_ACCESS_TOKEN_BY_TOKEN_HASH).get<TokenRow & { places: string }>({ tokenHash })
  if (!found) return null
  const row = toToken(found)
  if (row.expiresAtMs !== null && row.expiresAtMs <= nowMs)
    throw new Problem('wrong-token', {
      detail:
        `The token "${row.name}" ended on ${new Date(row.expiresAtMs).toISOString().slice(0, 10)}. Make a new one in ` +
        `Settings, Tokens, or by "dystracer token --name '${row.name}'".`,
      headers: { 'www-authenticate': 'Bearer error="invalid_token"' },
    })
  if (row.lastUsedAtMs === null || nowMs - row.lastUsedAtMs >= USED_NOTED_EVERY_MS)
    sql(db, UPDATE_ACCESS_TOKEN_LAST_USED).run({ tokenHash, nowMs })
  notePlace(ctx, { tokenHash, row, places: JSON.parse(found.places) as string[], address })
  const limits = { project: row.project, services: row.services, origins: row.origins }
  const common = { via: 'token', scope: row.scope, csrfToken: null, provenAtMs: null, limits } as const
  if (row.personId !== null) {
    const person = whoIsPerson(db, row.personId)
    return { actor: person.actor, personId: row.personId, timeZone: person.timeZone ?? null, ...cappedTo(person, row.scope), ...common }
  }
  return { actor: `token:${row.name}`, personId: null, ...standingOfToken(ROLE_BY_SCOPE[row.scope], row.project), ...common }
}

/** That a token is used from an address that it was not used from lately. A first use is no news: somebody has just made it. */
function notePlace(
  ctx: Pick<ServiceContext, 'db' | 'nowMs'>,
  { tokenHash, row, places, address }: { tokenHash: string; row: Token; places: string[]; address: string },
): void {
  if (places.includes(address)) return
  sql(ctx.db, UPDATE_ACCESS_TOKEN_PLACES).run({ tokenHash, places: JSON.stringify([...places, address].slice(-PLACES_MAX)) })
  if (places.length > 0) noteAudit(ctx, { kind: 'token-used-from-new-place', actor: `token:${row.name}`, about: row.name, place: address })
}

/** A token for one project stands there alone; one without a project stands everywhere. */
function standingOfToken(role: Role | null, project: string | null): Standing {
  if (role === null) return NO_STANDING
  return project === null ? { roles: {}, everywhere: role } : { roles: { [project]: role }, everywhere: null }
}

/** A person's standing, no higher than a scope allows: one that reads only reads, also where they lead. */
function cappedTo({ roles }: Standing, scope: Scope): Standing {
  if (scope !== 'read') return { roles, everywhere: null }
  return { roles: Object.fromEntries(Object.keys(roles).map((project) => [project, 'reader' as const])), everywhere: null }
}

/** What a new token is made of; whatever is left out holds it to nothing. */
export interface TokenDraft {
  name: string
  scope: Scope
  project: string | null
  nowMs: number
  services?: readonly string[]
  origins?: readonly string[]
  personId?: string | null
  madeBy?: string | null
  days?: number | null
}

/** A new access token; only its digest is stored, so this is the one time that it can be seen. */
export function makeToken(db: Db, draft: TokenDraft): string {
  return makeTokenRow(db, draft).token
}

function makeTokenRow(db: Db, draft: TokenDraft): TokenMade {
  const { name, scope, project, nowMs, services = [], origins = [], personId = null, madeBy = null, days = null } = draft
  const token = `dys_${randomBytes(30).toString('base64url')}`
  const tokenId = randomBytes(8).toString('hex')
  const expiresAtMs = days === null ? null : nowMs + days * DAY_MS
  sql(db, INSERT_ACCESS_TOKEN).run({
    tokenHash: digestOf(token),
    tokenId,
    name,
    project,
    scope,
    services: JSON.stringify(services),
    origins: JSON.stringify(origins),
    personId,
    madeBy,
    nowMs,
    expiresAtMs,
  })
  return { token, row: readToken(db, tokenId) }
}

/** The tokens of a project's programs; for an administrator those of all projects, too. */
export function listTokens(ctx: ServiceContext, who: Who, project: string): Token[] {
  const own = sql(ctx.db, LIST_ACCESS_TOKEN_BY_PROJECT).all<TokenRow>({ project })
  const ofAll = mayIn(who, 'people.make-admin', project) ? sql(ctx.db, LIST_ACCESS_TOKEN_OF_ALL).all<TokenRow>({}) : []
  return [...own, ...ofAll].map(toToken)
}

export function listOwnTokens(ctx: ServiceContext, who: Who): Token[] {
  return sql(ctx.db, LIST_ACCESS_TOKEN_BY_PERSON_ID)
    .all<TokenRow>({ personId: who.personId ?? '' })
    .map(toToken)
}

/** A token for a program of a project. */
export function makeProjectToken(ctx: ServiceContext, who: Who, project: string, input: MakeToken): TokenMade {
  return makeTokenRow(ctx.db, { ...input, project, madeBy: who.actor, nowMs: ctx.nowMs() })
}

/** A token with the rights of whoever asks. */
export function makeOwnToken(ctx: ServiceContext, who: Who, input: { name: string; scope: Scope; days: number | null }): TokenMade {
  return makeTokenRow(ctx.db, { ...input, project: null, personId: who.personId, madeBy: who.actor, nowMs: ctx.nowMs() })
}

/** A token's successor, held to the same; the old one goes on for some hours, so that nothing stops in between. Throws `not-found`. */
export function rotateToken(ctx: ServiceContext, who: Who, input: { project: string; tokenId: string; overlapHours: number }): TokenMade {
  const old = requireToken(ctx, who, input)
  const nowMs = ctx.nowMs()
  const days = old.expiresAtMs === null ? null : Math.max(1, Math.round((old.expiresAtMs - old.madeAtMs) / DAY_MS))
  return ctx.db
    .transaction(() => {
      const made = makeTokenRow(ctx.db, { ...old, days, madeBy: who.actor, nowMs })
      sql(ctx.db, UPDATE_ACCESS_TOKEN_EXPIRES).run({ tokenId: old.tokenId, expiresAtMs: nowMs + input.overlapHours * 3_600_000 })
      return made
    })
    .immediate()
}

/** Takes a token of a project back; whatever sends with it is refused from now on. Gives its name. Throws `not-found`. */
export function revokeToken(ctx: ServiceContext, who: Who, input: { project: string; tokenId: string }): string {
  const { tokenId, name } = requireToken(ctx, who, input)
  sql(ctx.db, DELETE_ACCESS_TOKEN_BY_TOKEN_ID).run({ tokenId })
  return name
}

/** Takes one of the asker's own tokens back. Gives its name. Throws `not-found`. */
export function revokeOwnToken(ctx: ServiceContext, who: Who, tokenId: string): string {
  const token = listOwnTokens(ctx, who).find((known) => known.tokenId === tokenId)
  if (!token) throw noSuchToken()
  sql(ctx.db, DELETE_ACCESS_TOKEN_BY_TOKEN_ID).run({ tokenId })
  return token.name
}

function requireToken(ctx: ServiceContext, who: Who, { project, tokenId }: { project: string; tokenId: string }): Token {
  const token = listTokens(ctx, who, project).find((known) => known.tokenId === tokenId)
  if (!token) throw noSuchToken()
  return token
}

function noSuchToken(): Problem {
  return new Problem('not-found', { detail: 'There is no such token. It may have been taken back already.' })
}

/** Whether pages of a web origin may send with some token; which one, its own request says. */
export function allowsOrigin(db: Db, origin: string, nowMs: number): boolean {
  return sql(db, HAS_ACCESS_TOKEN_WITH_ORIGIN).get({ origin: origin.toLowerCase(), nowMs }) !== undefined
}

function readToken(db: Db, tokenId: string): Token {
  const row = sql(db, GET_ACCESS_TOKEN_BY_TOKEN_ID).get<TokenRow>({ tokenId })
  if (!row) throw noSuchToken()
  return toToken(row)
}

function toToken(row: TokenRow): Token {
  const { tokenId, name, scope, project, personId, madeBy, madeAtMs, expiresAtMs, lastUsedAtMs } = row
  const plain = { tokenId, name, scope, project, personId, madeBy, madeAtMs, expiresAtMs, lastUsedAtMs }
  return { ...plain, services: JSON.parse(row.services) as string[], origins: JSON.parse(row.origins) as string[] }
}
