import { planOf, type Included } from '@dystracer/core/build-machines/build-plan'
import {
  DESCRIPTION_PATH,
  readDescription,
  type BuildPlan,
  type DescriptionFile,
  type DescriptionProblem,
  type Include,
} from '@dystracer/core/build-machines/description'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { mainTip } from '#subjects/code/index'
import { textAt } from '#subjects/git/index'
import { projectsOfRepository } from '#subjects/records/index'
import { GET_TAG } from './build-machines.queries.js'
import { tipOf } from '#subjects/reviews/index'

/** Included files may include others so deep. */
const DEPTH_MAX = 4
const SHA = /^[0-9a-f]{40,64}$/

/** A description as a commit has it: its file and plan, or what is wrong. */
export interface DescriptionAt {
  text: string | null
  file: DescriptionFile | null
  plan: BuildPlan | null
  problems: DescriptionProblem[]
}

/** How a commit says that it is built; all is null where it does not. */
export async function descriptionAt(ctx: ServiceContext, repository: string, sha: string): Promise<DescriptionAt> {
  const text = await textAt(ctx, repository, sha, DESCRIPTION_PATH)
  if (text === null) return { text, file: null, plan: null, problems: [] }
  return { text, ...(await planOfText(ctx, repository, text)) }
}

/** What a text says as the description of a repository, with everything that it includes. */
export async function planOfText(ctx: ServiceContext, repository: string, text: string): Promise<Omit<DescriptionAt, 'text'>> {
  const read = readDescription(text)
  if ('problems' in read) return { file: null, plan: null, problems: read.problems }
  const included: Included[] = []
  const problems = await include(ctx, { repository, wanted: read.file.include, into: included, above: [] })
  if (problems.length > 0) return { file: read.file, plan: null, problems }
  const planned = planOf(read.file, included)
  return 'problems' in planned
    ? { file: read.file, plan: null, problems: planned.problems }
    : { file: read.file, plan: planned.plan, problems: [] }
}

interface Including {
  /** The repository that is built: what it may include is asked of its projects. */
  repository: string
  wanted: readonly Include[]
  into: Included[]
  /** Files on the way here, so that none includes itself. */
  above: readonly string[]
}

/** Reads what a file includes, what that includes before it, and adds all in the order in which it counts. */
async function include(ctx: ServiceContext, { repository, wanted, into, above }: Including): Promise<DescriptionProblem[]> {
  const projects = projectsOfRepository(ctx.db, repository)
  for (const { repository: other, file: path, at } of wanted) {
    const label = `${other}: ${path}${at === undefined ? '' : ` at ${at}`}`
    const fail = (why: string): DescriptionProblem[] => [{ line: null, text: `include › ${label} ${why}` }]
    if (above.includes(label)) return fail('includes itself')
    if (above.length >= DEPTH_MAX) return fail('is included too deep')
    // In the same words whether it is hidden or nowhere: who builds one project learns nothing of another.
    if (!projectsOfRepository(ctx.db, other).some((project) => projects.includes(project)))
      return fail('cannot be read: the project has no such repository')
    const sha = shaOf(ctx, other, at)
    const text = sha === null ? null : await textAt(ctx, other, sha, path)
    if (text === null)
      return fail(sha === null ? 'cannot be read: there is no such branch, tag or commit' : 'cannot be read: there is no such file')
    const read = readDescription(text)
    if ('problems' in read) return fail(`is wrong: ${read.problems.map((problem) => problem.text).join('; ')}`)
    const deeper = await include(ctx, { repository, wanted: read.file.include, into, above: [...above, label] })
    if (deeper.length > 0) return deeper
    into.push({ label, file: read.file })
  }
  return []
}

function shaOf(ctx: ServiceContext, repository: string, at: string | undefined): string | null {
  if (at === undefined) return mainTip(ctx.db, repository)
  if (SHA.test(at)) return at
  return tipOf(ctx, repository, at) ?? tagOf(ctx, repository, at)
}

function tagOf(ctx: ServiceContext, repository: string, tag: string): string | null {
  return sql(ctx.db, GET_TAG).get<{ sha: string | null }>({ repository, tag })?.sha ?? null
}
