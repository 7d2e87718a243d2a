import { zAtMs, zPageQuery } from '#basics/wire'
import { z } from 'zod'
import { operation } from './operation.js'

/** What is noted for whoever answers for the security of an installation, in words that complete "somebody …". */
export const AUDIT_WORDS = {
  'signed-in': 'signed in',
  'sign-in-refused': 'was refused a sign-in',
  'account-locked': 'tried a wrong password too often; the account was locked for a while',
  'signed-up': 'made an account',
  'signed-out-elsewhere': 'ended sessions',
  'second-factor-set': 'set up a second factor',
  'second-factor-ended': 'asked for no second factor any more',
  'password-changed': 'changed a password',
  'password-reset': 'replaced a forgotten password',
  'reset-link-made': 'made a link for a new password',
  invited: 'invited somebody',
  'address-confirmed': 'confirmed a further address',
  'address-given-up': 'gave a further address up',
  'role-changed': 'changed a role',
  'member-removed': 'removed a member',
  'project-archived': 'archived a project',
  'project-opened': 'opened an archived project again',
  'account-closed': 'closed an account',
  'token-made': 'made a token',
  'token-rotated': 'replaced a token',
  'token-taken-back': 'took a token back',
  'token-used-from-new-place': 'was heard from a new place',
  'webhook-secret-renewed': 'renewed the secret of webhooks',
  'repository-access-given': 'said how a repository is read',
  exported: 'exported items',
  restored: 'brought a backup back',
} as const
/** The kinds in their order, as the trail can be asked for them. */
export const AUDIT_KINDS = Object.keys(AUDIT_WORDS) as [AuditKind, ...AuditKind[]]
/** What kind of thing was noted. */
export type AuditKind = keyof typeof AUDIT_WORDS

/** One line of the audit trail. */
export const zAuditEntry = z.object({
  auditId: z.number().int(),
  atMs: zAtMs,
  kind: z.enum(AUDIT_KINDS),
  /** Who did it: a person, a token, or `guest` for somebody who did not prove who they are. */
  actor: z.string(),
  /** Whom or what it concerns: a person's id, a token's name, an address that was tried. */
  about: z.string().nullable(),
  /** The program and address that it came from. */
  place: z.string(),
  facts: z.record(z.string(), z.string()),
})
export type AuditEntry = z.infer<typeof zAuditEntry>

/** The audit trail of the installation, for its administrators. */
export const auditOperations = {
  listAudit: operation({
    method: 'get',
    path: '/audit',
    summary: 'What concerns the security of the installation, newest first',
    may: 'audit.read',
    about: 'nothing',
    isOfNow: true,
    query: zPageQuery.extend({ kind: z.enum(AUDIT_KINDS).optional() }),
    answer: z.object({ rows: z.array(zAuditEntry), nextCursor: z.string().nullable() }),
  }),
  exportAudit: operation({
    method: 'get',
    path: '/audit.csv',
    summary: 'The whole audit trail as CSV, oldest first',
    may: 'audit.read',
    about: 'nothing',
    isOfNow: true,
    media: 'text/csv',
    answer: z.string(),
  }),
}
