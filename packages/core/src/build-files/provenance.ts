import { z } from 'zod'

/** What a signed statement holds, as its envelope says it: in-toto's own media type. */
export const STATEMENT_TYPE = 'application/vnd.in-toto+json'

/** Where a file came from: what is known of the build that left it. */
export interface Origin {
  /** The address of this installation. */
  address: string
  repository: { name: string; url: string }
  sha: string
  branch: string
  build: { name: string; number: number; startedAtMs: number; finishedAtMs: number | null }
  /** The machine that built it by the description of its commit; null where a build service only told of it. */
  machine: string | null
  files: readonly { name: string; sha256: string }[]
}

/**
 * A statement of in-toto (attestation framework, version 1) with a predicate of SLSA provenance, version 1: which files a build left, and
 * of which commit, how and where they were built. Of the same origin it is the same text.
 */
export function statementOf(origin: Origin): object {
  const { address, repository, sha, branch, build, machine, files } = origin
  const at = (atMs: number) => new Date(atMs).toISOString()
  return {
    _type: 'https://in-toto.io/Statement/v1',
    subject: files.map(({ name, sha256 }) => ({ name, digest: { sha256 } })),
    predicateType: 'https://slsa.dev/provenance/v1',
    predicate: {
      buildDefinition: {
        buildType: machine === null ? `${address}/receive/cloudevents` : `${address}/schemas/build.json`,
        externalParameters: { repository: repository.name, ref: `refs/heads/${branch}`, build: build.name },
        resolvedDependencies: [{ uri: `git+${repository.url}@refs/heads/${branch}`, digest: { gitCommit: sha } }],
      },
      runDetails: {
        builder: { id: machine === null ? `${address}/builds` : `${address}/machines/${encodeURIComponent(machine)}` },
        metadata: {
          invocationId: `${repository.name}/${build.number}`,
          startedOn: at(build.startedAtMs),
          ...(build.finishedAtMs !== null && { finishedOn: at(build.finishedAtMs) }),
        },
      },
    },
  }
}

/** An envelope of DSSE (Dead Simple Signing Envelope, version 1) around a statement. */
export const zEnvelope = z.object({
  payloadType: z.literal(STATEMENT_TYPE),
  /** The statement as JSON, in base64. */
  payload: z.base64(),
  signatures: z.array(z.object({ keyid: z.string(), sig: z.base64() })).min(1),
})
/** An envelope of DSSE around a statement. */
export type Envelope = z.infer<typeof zEnvelope>

/**
 * The bytes that a signature in an envelope is of: DSSE's pre-authentication encoding, in which type and payload stand with their lengths,
 * so that nothing of one can be taken for the other.
 */
export function signedBytes(payloadType: string, payload: Uint8Array): Uint8Array {
  const encode = (text: string) => new TextEncoder().encode(text)
  const head = encode(`DSSEv1 ${encode(payloadType).length} ${payloadType} ${payload.length} `)
  const bytes = new Uint8Array(head.length + payload.length)
  bytes.set(head)
  bytes.set(payload, head.length)
  return bytes
}

/** What a statement says of the files that it is about; throws where it is none. */
export const zStatement = z.object({
  _type: z.literal('https://in-toto.io/Statement/v1'),
  subject: z.array(z.object({ name: z.string(), digest: z.object({ sha256: z.string() }) })),
  predicate: z.object({
    buildDefinition: z.object({
      externalParameters: z.object({ repository: z.string(), build: z.string(), ref: z.string() }),
      resolvedDependencies: z.array(z.object({ digest: z.object({ gitCommit: z.string() }) })).min(1),
    }),
  }),
})
