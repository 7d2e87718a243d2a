import { z } from 'zod'
import { parsePlainYaml } from '#text/plain-yaml'

/** Where a repository keeps how it is built; each commit is built by its own. */
export const DESCRIPTION_PATH = '.dystracer/build.yml'
/** Where the JSON Schema of the file is handed out, for editors. */
export const DESCRIPTION_SCHEMA_PATH = '/schemas/build.json'
const MINUTES_DEFAULT = 30
const STEPS_MAX = 100
const SHARDS_MAX = 64

const zName = z
  .string()
  .trim()
  .min(1)
  .max(80)
  .regex(/^[^/\n]+$/, 'is one line without a slash')
const zCommand = z.string().trim().min(1).max(10_000)
const zVariables = z.record(z.string().regex(/^[A-Za-z_]\w*$/, 'is a name of letters, digits and _'), z.union([z.string(), z.number()]))
/** A pattern as in a file that git ignores by. */
const zPattern = z.string().trim().min(1).max(300)

const zStep = z.strictObject({
  name: zName.describe('What the step is called; once in the file'),
  command: zCommand.describe('What a shell runs in the folder of the repository; {shard} and {shards} say which part of it this is'),
  after: z.array(zName).max(STEPS_MAX).optional().describe('Steps that have to pass first; without it the one that stands above'),
  shards: z.number().int().min(1).max(SHARDS_MAX).default(1).describe('In how many parts it runs, beside each other'),
  minutes: z.number().int().min(1).max(600).default(MINUTES_DEFAULT).describe('It is stopped after so long'),
  environment: zVariables.default({}).describe('Variables of this step'),
  folder: z.string().trim().max(300).default('').describe('Where it runs, below the folder of the repository'),
  reports: z.array(zPattern).max(20).default([]).describe('Files with results of tests, coverage or findings, also of a step that broke'),
  artefacts: z.array(zPattern).max(20).default([]).describe('Files to keep of a step that passed'),
  always: z.boolean().default(false).describe('It runs although a step before it broke'),
})

const zService = z.strictObject({
  name: zName,
  command: zCommand.describe('A program that runs beside the steps; it is stopped after the last'),
  port: z.number().int().min(1).max(65535).optional().describe('The steps begin once this port of the machine answers'),
  environment: zVariables.default({}),
})

const zInclude = z.strictObject({
  repository: z.string().trim().min(1).max(100).describe('Another repository of the same project'),
  file: z.string().trim().min(1).max(300).default(DESCRIPTION_PATH),
  at: z.string().trim().min(1).max(200).optional().describe('A branch, a tag or a hash; its main line without it'),
})

/** The file as it is written. */
export const zDescriptionFile = z.strictObject({
  starts: z
    .strictObject({
      branches: z.array(zPattern).max(50).default(['*']).describe('Branches whose pushes start a build; * stands for anything'),
      paths: z.array(zPattern).max(200).default([]).describe('Only a push that changes one of these does; those with ! before them do not'),
    })
    .optional()
    .describe('What starts a build by itself; without it people do'),
  environment: zVariables.default({}).describe('Variables of every step and service'),
  passes: z
    .array(z.string().regex(/^[A-Za-z_]\w*$/))
    .max(50)
    .default([])
    .describe('Variables of the machine that steps may see, such as a password that is kept there'),
  include: z.array(zInclude).max(10).default([]).describe('Files whose services and steps come before those that stand here'),
  services: z.array(zService).max(20).default([]),
  steps: z.array(zStep).max(STEPS_MAX).default([]),
})
export type DescriptionFile = z.output<typeof zDescriptionFile>
/** A file of another repository that a description takes in. */
export type Include = DescriptionFile['include'][number]

/** The JSON Schema (draft 2020-12) of the file, with what each word means: editors complete and check by it. */
export function descriptionSchema(): Record<string, unknown> {
  return { title: 'Build description', ...z.toJSONSchema(zDescriptionFile, { io: 'input' }) }
}

/** What a machine is given: everything included, every step with what it waits for. */
export const zBuildPlan = z.object({
  environment: z.record(z.string(), z.string()),
  passes: z.array(z.string()),
  services: z.array(
    z.object({ name: z.string(), command: z.string(), port: z.number().int().nullable(), environment: z.record(z.string(), z.string()) }),
  ),
  steps: z.array(
    z.object({
      name: z.string(),
      command: z.string(),
      after: z.array(z.string()),
      shards: z.number().int(),
      minutes: z.number().int(),
      environment: z.record(z.string(), z.string()),
      folder: z.string(),
      reports: z.array(z.string()),
      artefacts: z.array(z.string()),
      isAlways: z.boolean(),
    }),
  ),
})
export type BuildPlan = z.infer<typeof zBuildPlan>
/** A step of a plan. */
export type PlannedStep = BuildPlan['steps'][number]

/** Something that is wrong with a description, and at which line of the file if that is known. */
export interface DescriptionProblem {
  line: number | null
  text: string
}
/** A description, or what is wrong with it. */
export type ReadDescription = { file: DescriptionFile } | { problems: DescriptionProblem[] }

/**
 * Reads a build description. Gives it, or everything that is wrong with it, each with the line where it stands. What a file may hold is
 * `zDescriptionFile`; YAML 1.2 of which references are not followed. Nothing of it is carried out. Linear in the text.
 */
export function readDescription(text: string): ReadDescription {
  const read = parsePlainYaml(text)
  if ('why' in read) return { problems: [{ line: read.line, text: read.why }] }
  const parsed = zDescriptionFile.safeParse(read.plain ?? {})
  if (!parsed.success)
    return {
      problems: parsed.error.issues.map((issue) => {
        const path = issue.code === 'unrecognized_keys' ? [...issue.path, issue.keys[0] ?? ''] : issue.path
        return { line: read.lineOf(path), text: `${placeWords(path)}: ${wordsOf(issue)}` }
      }),
    }
  const problems = problemsOf(parsed.data).map(({ path, text: said }) => ({ line: read.lineOf(path), text: said }))
  return problems.length > 0 ? { problems } : { file: parsed.data }
}

const placeWords = (path: readonly PropertyKey[]): string =>
  path.map((part) => (typeof part === 'number' ? String(part + 1) : String(part))).join(' › ') || 'the file'

function wordsOf(issue: z.core.$ZodIssue): string {
  return issue.code === 'unrecognized_keys' ? `is not known here; known are ${KNOWN_WORDS}` : issue.message
}
const KNOWN_WORDS = 'those of the reference “Build descriptions”'

interface PlacedProblem {
  path: readonly PropertyKey[]
  text: string
}

/** What each part says rightly and the whole does not. */
function problemsOf({ include, services, steps }: DescriptionFile): PlacedProblem[] {
  const problems: PlacedProblem[] = []
  if (steps.length === 0 && include.length === 0) problems.push({ path: ['steps'], text: 'steps: there is none; a build is at least one' })
  const seen = new Set<string>()
  steps.forEach(({ name, after, folder }, at) => {
    if (seen.has(name)) problems.push({ path: ['steps', at, 'name'], text: `steps › ${at + 1}: there is another step “${name}” above` })
    if (isOutside(folder))
      problems.push({ path: ['steps', at, 'folder'], text: `steps › ${at + 1} › folder: “${folder}” lies outside the repository` })
    // What is included stands above; whether it has a step of this name is known once it is read.
    for (const wanted of after ?? [])
      if (!seen.has(wanted) && include.length === 0)
        problems.push({ path: ['steps', at, 'after'], text: `steps › ${at + 1} › after: no step “${wanted}” stands above` })
    seen.add(name)
  })
  services.forEach(({ name }, at) => {
    if (services.findIndex((other) => other.name === name) < at)
      problems.push({ path: ['services', at, 'name'], text: `services › ${at + 1}: there is another service “${name}” above` })
  })
  return problems
}

const isOutside = (folder: string): boolean => folder.startsWith('/') || folder.split(/[/\\]/).includes('..')
