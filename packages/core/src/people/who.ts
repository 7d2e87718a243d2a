import { NO_STANDING, type Standing } from './standing.js'

/** What an access token was made for: what programs send, or what its holder may do by the API. */
export const SCOPES = ['intake', 'telemetry', 'evidence', 'maps', 'mail', 'read', 'write', 'admin'] as const
/** What a token may be used for. */
export type Scope = (typeof SCOPES)[number]

/** What programs send from outside, each behind a scope of its own. */
export type Sent = 'telemetry' | 'evidence' | 'maps' | 'mail'
const SENDS: Record<Scope, readonly Sent[]> = {
  // For one build machine or container that does it all. Never mail: a mail can speak for people.
  intake: ['telemetry', 'evidence', 'maps'],
  telemetry: ['telemetry'],
  evidence: ['evidence'],
  maps: ['maps'],
  mail: ['mail'],
  read: [],
  write: [],
  admin: ['telemetry', 'evidence', 'maps', 'mail'],
}

/** Whether a token of a scope may send something of a kind. */
export function maySend(scope: Scope | null, sent: Sent): boolean {
  return scope !== null && SENDS[scope].includes(sent)
}

/** What a token is held to. */
export interface TokenLimits {
  /** The only project that it is for; null for all. */
  project: string | null
  /** The only services whose telemetry it sends; empty for all of its project. */
  services: readonly string[]
  /** The web origins whose pages may send with it; a token with some sends from nowhere else. */
  origins: readonly string[]
}

/** Who is asking, and where they stand. */
export interface Who extends Standing {
  /** As the journal names them: `person:ines`, `token:ci`, `anonymous`. */
  actor: string
  personId: string | null
  via: 'session' | 'token' | 'anonymous'
  scope: Scope | null
  csrfToken: string | null
  /** The zone of the IANA database by which days begin for them; null, or nothing, is UTC. */
  timeZone?: string | null
  /** When the session last proved by password whose it is; null for whoever is not asked for one. */
  provenAtMs: number | null
  /** What a token is held to; null for people. */
  limits: TokenLimits | null
}

/** Someone without an account: a mail from outside, the public form, a private link. */
export const STRANGER: Who = {
  ...NO_STANDING,
  actor: 'anonymous',
  personId: null,
  via: 'anonymous',
  scope: null,
  csrfToken: null,
  provenAtMs: null,
  limits: null,
}
