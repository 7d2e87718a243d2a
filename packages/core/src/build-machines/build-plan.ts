import ignore from 'ignore'
import { namesBranch } from '#text/branch-name'
import type { BuildPlan, DescriptionFile, DescriptionProblem, PlannedStep } from './description.js'

/** A file that another includes, read, with the names by which a person would know it. */
export interface Included {
  label: string
  file: DescriptionFile
}

/**
 * What is to be run: included files first, in their order, then the file itself. A step without `after` waits for the one above it; a step
 * of the file takes the place of an included one of its name, so that a house's rules can be bent in one repository. Gives what does not
 * fit together instead.
 */
export function planOf(file: DescriptionFile, included: readonly Included[]): { plan: BuildPlan } | { problems: DescriptionProblem[] } {
  const files = [...included.map((one) => one.file), file]
  const steps: PlannedStep[] = []
  for (const one of files) {
    let above: string | null = null
    for (const { always, after, environment, ...step } of one.steps) {
      const planned = { ...step, isAlways: always, after: after ?? (above === null ? [] : [above]), environment: asText(environment) }
      const known = steps.findIndex((other) => other.name === step.name)
      if (known < 0) steps.push(planned)
      else steps[known] = after === undefined ? { ...planned, after: steps[known]?.after ?? [] } : planned
      above = step.name
    }
  }
  const problems = unfit(steps)
  if (problems.length > 0) return { problems }
  const services = new Map(files.flatMap((one) => one.services).map((service) => [service.name, service]))
  return {
    plan: {
      environment: Object.assign({}, ...files.map((one) => asText(one.environment))),
      passes: [...new Set(files.flatMap((one) => one.passes))],
      services: [...services.values()].map(({ port, environment, ...service }) => ({
        ...service,
        port: port ?? null,
        environment: asText(environment),
      })),
      steps,
    },
  }
}

const asText = (variables: Readonly<Record<string, string | number>>): Record<string, string> =>
  Object.fromEntries(Object.entries(variables).map(([name, value]) => [name, String(value)]))

function unfit(steps: readonly PlannedStep[]): DescriptionProblem[] {
  if (steps.length === 0) return [{ line: null, text: 'there is no step, here or in what is included' }]
  const names = new Set(steps.map((step) => step.name))
  const problems: DescriptionProblem[] = steps.flatMap((step) =>
    step.after
      .filter((name) => !names.has(name))
      .map((name) => ({ line: null, text: `“${step.name}” is after “${name}”, which is no step` })),
  )
  const round = circleOf(steps)
  if (round) problems.push({ line: null, text: `each waits for the other: ${round.join(', ')}` })
  return problems
}

/** Steps that can never begin, since they wait for each other; null where all can (Kahn 1962). O(steps + arrows). */
function circleOf(steps: readonly PlannedStep[]): string[] | null {
  const done = new Set<string>()
  for (let hasMoved = true; hasMoved; ) {
    const free = steps.filter((step) => !done.has(step.name) && step.after.every((name) => done.has(name)))
    for (const step of free) done.add(step.name)
    hasMoved = free.length > 0
  }
  const stuck = steps.filter((step) => !done.has(step.name)).map((step) => step.name)
  return stuck.length > 0 ? stuck : null
}

/** A push, as far as it decides whether a build begins; `paths` null where it is not known what changed. */
export interface Push {
  branch: string
  paths: readonly string[] | null
}

/**
 * Whether a push starts a build by what the file says: its branch is named, and it changes a path that counts. Where the
 * first pattern takes out, everything counts before it.
 */
export function doesStart({ starts }: DescriptionFile, { branch, paths }: Push): boolean {
  if (!starts?.branches.some((pattern) => namesBranch(pattern, branch))) return false
  if (starts.paths.length === 0 || paths === null) return true
  return filesMatching(paths, starts.paths[0]?.startsWith('!') ? ['**', ...starts.paths] : starts.paths).length > 0
}

/** One run of a step: the step itself, or one of its shards. */
export interface StepRun {
  step: PlannedStep
  /** From 1. */
  shard: number
  /** What it is called in the build: `test` or `test/2 of 3`. */
  name: string
  command: string
}

/** The runs of a step, one for each shard. */
export function runsOf(step: PlannedStep): StepRun[] {
  return Array.from({ length: step.shards }, (_, at) => ({
    step,
    shard: at + 1,
    name: step.shards === 1 ? step.name : `${step.name}/${at + 1} of ${step.shards}`,
    command: step.command.replaceAll('{shard}', String(at + 1)).replaceAll('{shards}', String(step.shards)),
  }))
}

/** How a step ended, or that it did not run since one before it broke. */
export type StepEnd = 'passed' | 'broke' | 'skipped'

/** Steps that can begin now, in their order, and those that never will. O(steps + arrows). */
export function nextSteps(
  plan: BuildPlan,
  ends: ReadonlyMap<string, StepEnd>,
  begun: ReadonlySet<string>,
): { now: PlannedStep[]; never: PlannedStep[] } {
  const open = plan.steps.filter((step) => !begun.has(step.name) && !ends.has(step.name))
  const isOver = (step: PlannedStep) => step.after.every((name) => ends.has(name))
  const isWell = (step: PlannedStep) => step.after.every((name) => ends.get(name) === 'passed')
  return {
    now: open.filter((step) => isOver(step) && (step.isAlways || isWell(step))),
    never: open.filter((step) => !step.isAlways && step.after.some((name) => (ends.get(name) ?? 'passed') !== 'passed')),
  }
}

/**
 * Of paths those that patterns name, in their order. A pattern is one as in a file that git ignores by; with `!` before it,
 * it takes out. The last pattern that fits decides: unlike there, a file can be named again in a folder that was taken out.
 * O(paths × patterns).
 */
export function filesMatching(paths: readonly string[], patterns: readonly string[]): string[] {
  const tests = patterns.map((pattern) => {
    const isOut = pattern.startsWith('!')
    return { isOut, named: ignore().add(isOut ? pattern.slice(1) : pattern) }
  })
  return paths.filter((path) => tests.findLast(({ named }) => named.ignores(path))?.isOut === false)
}
