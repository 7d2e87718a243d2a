import { Problem } from '@dystracer/core/basics/problem'
import type { RepositoryAccess, RepositoryAccessInput } from '@dystracer/core/code/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { seal, unseal } from '#platform/files/sealing'
import { makeKeyPair, type GitAccess } from '#subjects/git/index'
import {
  DELETE_OLD_REPOSITORY_KEYS,
  DELETE_REPOSITORY_ACCESS,
  GET_REPOSITORY_ACCESS,
  GET_REPOSITORY_KEY,
  INSERT_REPOSITORY_ACCESS,
  INSERT_REPOSITORY_KEY,
} from './code.queries.js'

interface AccessRow {
  kind: 'login' | 'key'
  user_name: string | null
  public_key: string | null
  sealed: string
}
/** What proves the right to read a repository, with what is shown of it. */
export interface OpenAccess {
  access: GitAccess | null
  publicKey: string | null
}

/** A key that nobody connected a repository with goes after a day. */
const UNUSED_KEY_MS = 86_400_000

/**
 * What proves to the host of a repository that we may read and push; null for one that anybody may. Throws `conflict` where it was sealed
 * with a key that is not here, as after a restore: then it is to be given anew.
 */
export function accessOf(ctx: ServiceContext, repository: string): GitAccess | null {
  const row = sql(ctx.db, GET_REPOSITORY_ACCESS).get<AccessRow>({ repository })
  if (!row) return null
  const secret = unseal(ctx, row.sealed)
  if (secret === null)
    throw new Problem('conflict', {
      detail: `The login of ${repository} was kept with another key than this server has. Give it anew in Settings, Code.`,
    })
  return row.kind === 'key' ? { kind: 'key', privateKey: secret } : { kind: 'login', userName: row.user_name ?? '', secret }
}

/** How a repository is read, as far as people see it: the name or the public half, never the secret. */
export function accessKindOf(ctx: Pick<ServiceContext, 'db'>, repository: string): RepositoryAccess {
  const row = sql(ctx.db, GET_REPOSITORY_ACCESS).get<AccessRow>({ repository })
  if (!row) return { kind: 'none' }
  return row.kind === 'key' ? { kind: 'key', publicKey: row.public_key ?? '' } : { kind: 'login', userName: row.user_name ?? '' }
}

/** A new pair of keys for a repository that is to be connected; the private half never leaves the server. Gives id and public half. */
export async function keyPairFor(ctx: ServiceContext, madeBy: string): Promise<{ keyId: string; publicKey: string }> {
  const { privateKey, publicKey } = await makeKeyPair('dystracer')
  const keyId = ctx.newId()
  sql(ctx.db, DELETE_OLD_REPOSITORY_KEYS).run({ beforeMs: ctx.nowMs() - UNUSED_KEY_MS })
  sql(ctx.db, INSERT_REPOSITORY_KEY).run({ keyId, madeBy, nowMs: ctx.nowMs(), publicKey, sealed: seal(ctx, privateKey) })
  return { keyId, publicKey }
}

/** What a person says of how a repository is read, as git takes it. Throws `invalid-input` for a key that is not theirs or is gone. */
export function openAccess(ctx: ServiceContext, madeBy: string, input: RepositoryAccessInput): OpenAccess {
  if (input.kind === 'none') return { access: null, publicKey: null }
  if (input.kind === 'login') return { access: { kind: 'login', userName: input.userName, secret: input.secret }, publicKey: null }
  const row = sql(ctx.db, GET_REPOSITORY_KEY).get<{ made_by: string; public_key: string; sealed: string }>({ keyId: input.keyId })
  const privateKey = row?.made_by === madeBy ? unseal(ctx, row.sealed) : null
  if (!row || privateKey === null)
    throw new Problem('invalid-input', { fields: { access: 'This key is not kept any more; make a new one' } })
  return { access: { kind: 'key', privateKey }, publicKey: row.public_key }
}

/** Keeps how a repository is read from now on. */
export function giveAccess(ctx: ServiceContext, repository: string, { access, publicKey }: OpenAccess): void {
  if (access === null) {
    sql(ctx.db, DELETE_REPOSITORY_ACCESS).run({ repository })
    return
  }
  sql(ctx.db, INSERT_REPOSITORY_ACCESS).run({
    repository,
    kind: access.kind,
    userName: access.kind === 'login' ? access.userName : null,
    publicKey,
    sealed: seal(ctx, access.kind === 'login' ? access.secret : access.privateKey),
  })
}
