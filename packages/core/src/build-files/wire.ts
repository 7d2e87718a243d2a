import { zAtMs } from '#basics/wire'
import { operation, outsidePath } from '#people/operation'
import { z } from 'zod'
import { zEnvelope } from './provenance.js'

/** A file that a build leaves may be so large; a larger one is told of by its address. */
export const BUILD_FILE_BYTES_MAX = 64 << 20

/** A file that a build left: kept here, or lying elsewhere. */
export const zBuildFile = z.object({
  fileId: z.string(),
  name: z.string(),
  /** Null where only its address is known and nobody said. */
  sizeBytes: z.number().int().nullable(),
  sha256: z.string().nullable(),
  /** Where it lies; null where it is kept here. */
  url: z.string().nullable(),
  atMs: zAtMs,
})
export type BuildFile = z.infer<typeof zBuildFile>

const zSha256 = z.string().regex(/^[0-9a-f]{64}$/, 'A SHA-256 is 64 digits, 0 to 9 and a to f')

/** A file with the build that left it and the releases of that commit. */
export const zFoundFile = zBuildFile.extend({
  repository: z.string(),
  number: z.number().int(),
  build: z.string(),
  sha: z.string(),
  branch: z.string(),
  releases: z.array(z.object({ service: z.string(), name: z.string(), runsIn: z.array(z.string()) })),
})
/** A file with the build that left it and the releases of that commit. */
export type FoundFile = z.infer<typeof zFoundFile>

/** The public half of the key by which this installation signs. */
export const zSigningKey = z.object({ fingerprint: z.string(), pem: z.string() })

/** What can be asked of the files that builds leave. */
export const buildFilesOperations = {
  listBuildFiles: operation({
    method: 'get',
    path: '/builds/:repository/:number/files',
    summary: 'The files that a build left, by name, at most a thousand; they are kept as long as logs',
    may: 'project.read',
    about: 'repository',
    answer: z.object({ rows: z.array(zBuildFile) }),
  }),
  findBuildFiles: operation({
    method: 'get',
    path: '/build-files',
    summary: 'Which builds left a file that holds this, newest first, at most fifty',
    may: 'member-of-any',
    about: 'nothing',
    query: z.object({ sha256: zSha256 }),
    answer: z.object({ rows: z.array(zFoundFile) }),
  }),
  listReleaseFiles: operation({
    method: 'get',
    path: '/releases/:release/files',
    summary: 'The files that builds of a release’s commit left, by name, at most a thousand',
    may: 'project.read',
    about: 'release',
    answer: z.object({ rows: z.array(zFoundFile) }),
  }),
  readProvenance: operation({
    method: 'get',
    path: '/builds/:repository/:number/provenance',
    summary: 'Where the files of a build come from: a statement of in-toto with SLSA provenance, signed, in an envelope of DSSE',
    may: 'project.read',
    about: 'repository',
    answer: zEnvelope,
  }),
  readSigningKey: operation({
    method: 'get',
    path: '/signing-key',
    summary: 'The public key (Ed25519) by which statements and records are signed',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    answer: zSigningKey,
  }),
  readBuildFile: operation({
    method: 'get',
    path: '/builds/:repository/:number/files/:fileId',
    summary: 'A file that a build left and that is kept here',
    may: 'project.read',
    about: 'repository',
    media: 'application/octet-stream',
    answer: z.string(),
  }),
}

/** Where the files that builds leave are taken. */
export const buildFilesPaths = {
  takeBuildFile: outsidePath({
    method: 'post',
    path: '/receive/build-files',
    summary: 'A file that a build left, as the body; or with “url”, and no body, where a large one lies',
    proof: 'evidence',
    takes: { media: ['application/octet-stream'], limitBytes: BUILD_FILE_BYTES_MAX },
    query: z.object({
      repository: z.string().min(1).max(100),
      commit: z.string().regex(/^[0-9a-f]{40,64}$/, 'The whole hash of a commit, 40 or 64 digits'),
      /** What the build service calls the build; the same as its reports. */
      build: z.string().trim().min(1).max(200),
      branch: z.string().max(250).default(''),
      /** Its name, with folders; the same name again takes its place. */
      name: z.string().trim().min(1).max(300),
      url: z
        .url({ protocol: /^https?$/ })
        .max(2000)
        .optional(),
      /** What a file that lies elsewhere holds, if that is known. */
      sha256: zSha256.optional(),
      sizeBytes: z.coerce.number().int().min(0).optional(),
    }),
    gives: { media: ['application/json'], json: zBuildFile, status: 200 },
    refusesAs: 'problem',
  }),
}
