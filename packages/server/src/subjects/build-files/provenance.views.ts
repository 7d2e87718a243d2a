import { signedBytes, STATEMENT_TYPE, statementOf, type Envelope } from '@dystracer/core/build-files/provenance'
import { Problem } from '@dystracer/core/basics/problem'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { signBytes, signingKey } from '#subjects/people/index'
import { GET_BUILD_OF_FILES } from './build-files.queries.js'
import { listBuildFiles } from './build-files.views.js'

interface BuildOfFiles {
  sha: string
  branch: string
  startedAtMs: number
  finishedAtMs: number | null
  url: string
  name: string
  machine: string | null
}

/** Where the files of a build come from, signed. Throws `not-found` for a build that is not known, or left no file whose hash is. */
export function readProvenance(ctx: ServiceContext, { repository, build }: { repository: string; build: number }): Envelope {
  const row = sql(ctx.db, GET_BUILD_OF_FILES).get<BuildOfFiles>({ repository, build })
  const files = listBuildFiles(ctx, { repository, build }).flatMap(({ name, sha256 }) => (sha256 === null ? [] : [{ name, sha256 }]))
  if (!row || files.length === 0) throw new Problem('not-found', { detail: 'This build left no file whose hash is known.' })
  const { sha, branch, name, url, machine, startedAtMs, finishedAtMs } = row
  const statement = statementOf({
    address: ctx.config.publicUrl,
    repository: { name: repository, url: withoutLogin(url) },
    sha,
    branch,
    build: { name, number: build, startedAtMs, finishedAtMs },
    machine,
    files,
  })
  const payload = Buffer.from(JSON.stringify(statement))
  const sig = signBytes(ctx.db, signedBytes(STATEMENT_TYPE, payload)).toString('base64')
  return {
    payloadType: STATEMENT_TYPE,
    payload: payload.toString('base64'),
    signatures: [{ keyid: signingKey(ctx.db).fingerprint, sig }],
  }
}

/** A login that stands in the address of a repository is nobody else's business. */
function withoutLogin(address: string): string {
  if (!URL.canParse(address)) return address
  const url = new URL(address)
  url.username = ''
  url.password = ''
  return url.href
}
