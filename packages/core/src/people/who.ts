import { NO_STANDING, type Standing } from './standing.js'

/** What an access token was made for. */
export const SCOPES = ['intake', 'read', 'write', 'admin'] as const
/** What a token may be used for. */
export type Scope = (typeof SCOPES)[number]

/** Who is asking, and where they stand. */
export interface Who extends Standing {
  /** As the journal names them: `person:ines`, `token:ci`, `anonymous`. */
  actor: string
  personId: string | null
  via: 'session' | 'token' | 'anonymous'
  scope: Scope | null
  csrfToken: string | null
  /** The only project that a token is for; null for all, and for people. */
  tokenProject: string | null
}

/** Someone without an account: a mail from outside, the public form, a private link. */
export const STRANGER: Who = {
  ...NO_STANDING,
  actor: 'anonymous',
  personId: null,
  via: 'anonymous',
  scope: null,
  csrfToken: null,
  tokenProject: null,
}
