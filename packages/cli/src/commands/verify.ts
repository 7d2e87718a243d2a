import { createHash, createPublicKey, verify as verifySignature, type KeyObject } from 'node:crypto'
import { createReadStream, readFileSync } from 'node:fs'
import { signedBytes, zEnvelope, zStatement } from '@dystracer/core/build-files/provenance'
import type { FoundFile } from '@dystracer/core/build-files/wire'
import { Refusal } from '../refusal.js'
import { apiOf, serverSettings, toRefusal } from '../server.js'
import type { Surroundings } from '../surroundings.js'

/** What `dys verify` is told on its command line. */
export interface VerifyOptions {
  url?: string
  token?: string
  provenance?: string
  key?: string
}

/**
 * Says of each file where it comes from, by what it holds: which build left it, of which commit, and which releases that is. Asks the
 * server, or without one looks into a signed statement that was kept. Throws a `Refusal` where a file is of no build.
 */
export async function verify(files: readonly string[], options: VerifyOptions, { env, say }: Surroundings): Promise<void> {
  if ((options.provenance === undefined) !== (options.key === undefined))
    throw new Refusal('A kept statement is looked at with the key that signed it: say both --provenance and --key.', { exitCode: 2 })
  const originOf =
    options.provenance === undefined || options.key === undefined
      ? fromServer(options, env)
      : fromStatement(options.provenance, options.key)
  let strange = 0
  for (const file of files) {
    const sha256 = await hashOf(file)
    const origins = await originOf(sha256)
    if (origins.length === 0) strange++
    say(origins.length === 0 ? `${file}: no build that is known left it (SHA-256 ${sha256}).` : `${file}: ${origins.join('; also ')}.`)
  }
  if (strange > 0) throw new Refusal(`${strange} of ${files.length} cannot be traced to a build.`, { exitCode: 1 })
}

async function hashOf(file: string): Promise<string> {
  const hash = createHash('sha256')
  try {
    for await (const chunk of createReadStream(file)) hash.update(chunk as Buffer)
  } catch (error) {
    throw new Refusal(`${file} cannot be read: ${(error as Error).message}`, { exitCode: 2 })
  }
  return hash.digest('hex')
}

type OriginOf = (sha256: string) => Promise<string[]>

function fromServer(options: VerifyOptions, env: Surroundings['env']): OriginOf {
  const api = apiOf(serverSettings(options, env), '')
  return async (sha256) => {
    try {
      return (await api.findBuildFiles({ query: { sha256 } })).rows.map(inWords)
    } catch (error) {
      throw toRefusal(error)
    }
  }
}

function inWords({ name, build, repository, sha, branch, releases }: FoundFile): string {
  const of = releases.map(
    (one) => `${one.service} ${one.name}${one.runsIn.length > 0 ? `, which runs in ${one.runsIn.join(' and ')}` : ''}`,
  )
  return [`${name} of build ${build} of ${repository}, commit ${sha.slice(0, 12)} of ${branch || 'no branch'}`, ...of].join('; in ')
}

function fromStatement(path: string, keyPath: string): OriginOf {
  const statement = signedStatement(path, keyFrom(keyPath))
  const { externalParameters: from, resolvedDependencies } = statement.predicate.buildDefinition
  const commit = resolvedDependencies[0]?.digest.gitCommit.slice(0, 12)
  return async (sha256) =>
    statement.subject
      .filter(({ digest }) => digest.sha256 === sha256)
      .map(({ name }) => `${name} of build ${from.build} of ${from.repository}, commit ${commit} of ${from.ref.replace('refs/heads/', '')}`)
}

function keyFrom(path: string): KeyObject {
  try {
    return createPublicKey(readFileSync(path))
  } catch (error) {
    throw new Refusal(`${path} is no public key in PEM: ${(error as Error).message}`, { exitCode: 2 })
  }
}

function signedStatement(path: string, key: KeyObject): ReturnType<typeof zStatement.parse> {
  try {
    const { payloadType, payload, signatures } = zEnvelope.parse(JSON.parse(readFileSync(path, 'utf8')))
    const bytes = Buffer.from(payload, 'base64')
    const signed = signedBytes(payloadType, bytes)
    if (!signatures.some(({ sig }) => verifySignature(null, signed, key, Buffer.from(sig, 'base64'))))
      throw new Refusal(`${path} is not signed by this key.`, { exitCode: 1 })
    return zStatement.parse(JSON.parse(bytes.toString('utf8')))
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal(`${path} is no signed statement of in-toto: ${(error as Error).message.slice(0, 200)}`, { exitCode: 2 })
  }
}
