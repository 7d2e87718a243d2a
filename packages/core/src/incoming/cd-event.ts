import { PackageURL } from 'packageurl-js'
import { z } from 'zod'

const zName = z.string().max(500)
const zRef = z.object({ id: zName, source: zName.optional() })
/** Content that any subject of CDEvents may have, as far as it is read; what does not fit is as if it were not said. */
const zContent = z
  .object({
    name: zName.optional().catch(undefined),
    url: zName.optional().catch(undefined),
    viewUrl: zName.optional().catch(undefined),
    description: z.string().max(100_000).optional().catch(undefined),
    repository: zRef.optional().catch(undefined),
    environment: zRef.optional().catch(undefined),
    service: zRef.optional().catch(undefined),
    pipelineRun: zRef.optional().catch(undefined),
    testSuiteRun: zRef.optional().catch(undefined),
    testCase: z.object({ id: zName.optional(), name: zName.optional() }).optional().catch(undefined),
    testSuite: z.object({ id: zName.optional(), name: zName.optional() }).optional().catch(undefined),
    pipelineName: zName.optional().catch(undefined),
    taskName: zName.optional().catch(undefined),
    artifactId: z.string().max(2000).optional().catch(undefined),
    outcome: zName.optional().catch(undefined),
    reason: z.string().max(100_000).optional().catch(undefined),
    sbom: z
      .object({ uri: z.string().max(2000).optional() })
      .optional()
      .catch(undefined),
    errors: z.string().max(100_000).optional().catch(undefined),
  })
  .catch({})

/** The envelope of a CDEvents message (cdevents.dev, versions 0.3 to 0.5): context, subject, and data of the sender's own. */
export const zCdEvent = z.object({
  context: z.object({
    id: z.string().max(200),
    source: z.string().max(500),
    type: z.string().max(200),
    timestamp: z.iso.datetime({ offset: true }),
    /** What belongs to one run of one pipeline carries one (0.4). */
    chainId: z.string().max(200).optional().catch(undefined),
  }),
  subject: z.object({ id: z.string().max(500), source: z.string().max(500).optional().catch(undefined), content: zContent.default({}) }),
  customData: z.unknown().optional(),
})
export type CdEvent = z.infer<typeof zCdEvent>

/** What our additions in `customData` may say; none of it is needed. */
const zOwnAdditions = z
  .object({
    repository: z.string().max(100).optional().catch(undefined),
    build: z.string().max(100).optional().catch(undefined),
    number: z.number().int().positive().optional().catch(undefined),
    /** The step that a step is a part of. */
    parent: z.string().max(200).optional().catch(undefined),
    commit: z
      .string()
      .regex(/^[0-9a-f]{40,64}$/)
      .optional()
      .catch(undefined),
    sha: z
      .string()
      .regex(/^[0-9a-f]{40,64}$/)
      .optional()
      .catch(undefined),
    branch: z.string().max(250).optional().catch(undefined),
    outcome: z.enum(['passed', 'broke', 'stopped']).optional().catch(undefined),
    startedAtMs: z.number().int().optional().catch(undefined),
    deploymentId: z.string().max(100).optional().catch(undefined),
    service: z.string().max(100).optional().catch(undefined),
    release: z.string().max(100).optional().catch(undefined),
    environment: z.string().max(100).optional().catch(undefined),
    by: z.string().max(100).nullable().optional().catch(undefined),
  })
  .catch({})
export type OwnAdditions = z.infer<typeof zOwnAdditions>
/** Our additions to a message; empty where there are none, or none that can be read. */
export function ownAdditions({ customData }: CdEvent): OwnAdditions {
  return zOwnAdditions.parse(customData ?? {})
}

/** Subject and predicate of a message's type: `dev.cdevents.pipelinerun.finished.0.2.0` is a `pipelinerun` that has `finished`. */
export function kindOf({ context }: CdEvent): { subject: string; predicate: string } {
  const [, , subject = '', predicate = ''] = context.type.toLowerCase().split('.')
  return { subject, predicate }
}

/** What an artefact's package URL says of it (purl-spec); null for what is none. */
export interface Artefact {
  purl: string
  name: string
  version: string | null
  /** Where its source is kept, and at which commit, by the qualifier `vcs_url`. */
  sourceUrl: string | null
  commit: string | null
}
/** Reads a package URL; null for what is none. */
export function readArtefact(purl: string | undefined): Artefact | null {
  if (purl === undefined) return null
  let parsed: PackageURL
  try {
    parsed = PackageURL.fromString(purl)
  } catch {
    // The library names no error of its own: whatever it throws means that the text is no package URL.
    return null
  }
  const source = parsed.qualifiers?.vcs_url ?? null
  const [, sourceUrl = source, commit = null] = /^(?:git\+)?(.*?)@([0-9a-f]{40,64})$/.exec(source ?? '') ?? []
  return { purl, name: parsed.name, version: parsed.version ?? null, sourceUrl, commit }
}

/**
 * What in a message may name the repository that it is about, likeliest first: our addition, the reference of the open specification, the
 * source of an artefact, the subject's own name and source, and the sender's. Each is a name, a path or an address.
 */
export function repositoryHints(event: CdEvent): string[] {
  const { context, subject } = event
  const { content } = subject
  const own = ownAdditions(event).repository
  // Our own addition is meant: where it names what is not there, nothing else is guessed.
  if (own !== undefined) return [own]
  const isRepository = kindOf(event).subject === 'repository'
  const hints = [
    content.repository?.id,
    content.repository?.source,
    readArtefact(content.artifactId)?.sourceUrl,
    content.url,
    content.viewUrl,
    isRepository ? content.name : undefined,
    isRepository ? subject.id : subject.id.replace(/\/[^/]*$/, ''),
    content.pipelineName,
    subject.source,
    context.source,
    readArtefact(content.artifactId)?.name,
  ]
  return [...new Set(hints.filter((hint): hint is string => typeof hint === 'string' && hint !== ''))]
}

/** The last part of a path or an address, as repositories are called: `https://git.example.org/kiln/firmware.git` is `firmware`. */
export function lastPart(hint: string): string {
  return (
    hint
      .replace(/[?#].*$/, '')
      .replace(/\/+$/, '')
      .split(/[/:]/)
      .at(-1) ?? ''
  ).replace(/\.git$/, '')
}

/** How a run ended, in our words; null where the message does not say. CDEvents has several words for each. */
export function outcomeOf(event: CdEvent): 'passed' | 'broke' | 'stopped' | null {
  const own = ownAdditions(event).outcome
  if (own !== undefined) return own
  const { outcome, artifactId } = event.subject.content
  if (outcome === undefined) return kindOf(event).subject === 'build' && artifactId !== undefined ? 'passed' : null
  if (/^(?:success|succeeded|pass|passed)$/i.test(outcome)) return 'passed'
  if (/^(?:fail|failed|failure|error)$/i.test(outcome)) return 'broke'
  return /^cancell?(?:ed)?$/i.test(outcome) ? 'stopped' : null
}
