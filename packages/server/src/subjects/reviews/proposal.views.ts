import { Problem } from '@dystracer/core/basics/problem'
import type { codeOperations } from '@dystracer/core/code/wire'
import type { Who } from '@dystracer/core/people/who'
import type { AnswerOf } from '@dystracer/core/people/operation'
import type { Attributes } from '@dystracer/core/requirements/attributes'
import { isDefectType } from '@dystracer/core/setup/item-type'
import { firstLine } from '@dystracer/core/text/first-line'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { getCommit, graphOf, mainTip } from '#subjects/code/index'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { getItem, mayReadThing, visibleItemsTiedTo } from '#subjects/records/index'
import { readSetup } from '#subjects/setup/index'
import { readMainLineFile } from './main-line-files.js'
import { tipOf } from './own-pull-requests.js'
import { LIST_REQUIREMENTS_OF_ITEMS } from './reviewing.queries.js'
import { GET_REPOSITORY_OF_PULL_REQUEST } from './reviews.queries.js'

type Proposal = AnswerOf<(typeof codeOperations)['proposePullRequest']>

/** One text for every pull request, or a folder of several to choose from; as the main line has them. */
const TEMPLATE = '.dystracer/pull-request.md'
const TEMPLATES = '.dystracer/pull-requests'
const COMMITS_MAX = 50

/**
 * What a pull request of a branch could say: called as its only commit, or as its item; its text that of the repository, then its commits,
 * what its items ask for and when that is met. And what a merge would conflict in. Throws `invalid-input` for a branch that is not there.
 */
export async function proposePullRequest(
  ctx: ServiceContext,
  who: Who,
  input: { repository: string; source: string; target?: string | undefined; template?: string | undefined },
): Promise<Proposal> {
  const { repository, source } = input
  const target =
    input.target ?? sql(ctx.db, GET_REPOSITORY_OF_PULL_REQUEST).get<{ main_branch: string }>({ repository })?.main_branch ?? 'main'
  const [head, base] = [tipOf(ctx, repository, source), tipOf(ctx, repository, target)]
  if (head === null) throw new Problem('invalid-input', { fields: { source: `There is no branch ${source}; push it first` } })
  if (base === null) throw new Problem('invalid-input', { fields: { target: `There is no branch ${target}` } })
  const commits = [...graphOf(ctx, repository).between([head], [base])].slice(0, COMMITS_MAX).flatMap((sha) => {
    const message = getCommit(ctx.db, repository, sha)?.message
    return message === undefined ? [] : [{ sha, subject: firstLine(message), message }]
  })
  const items = itemsOf(ctx, who, { repository, source, shas: commits.map(({ sha }) => sha) })
  const templates = await templatesOf(ctx, repository)
  const template = input.template !== undefined && templates.includes(input.template) ? input.template : (templates[0] ?? null)
  const own = template === null ? '' : ((await readMainLineFile(ctx, repository, template)) ?? '')
  return {
    target,
    title: titleOf(commits, items, source),
    text: [
      own.trim(),
      commitsText(commits),
      ...acceptanceOf(ctx, who, items),
      items.map(({ key, isDefect }) => `${isDefect ? 'Fixes' : 'Refs'}: ${key}`).join('\n'),
    ]
      .filter((part) => part !== '')
      .join('\n\n'),
    templates,
    template,
    commits: commits.map(({ sha, subject }) => ({ sha, subject })),
    conflicts: await conflictsOf(ctx, repository, { base, head }),
  }
}

interface TiedItem {
  key: string
  title: string
  isDefect: boolean
}
function itemsOf(
  ctx: ServiceContext,
  who: Who,
  { repository, source, shas }: { repository: string; source: string; shas: readonly string[] },
): TiedItem[] {
  const things = [
    { kind: 'branch' as const, id: `${repository}/${source}` },
    ...shas.map((sha) => ({ kind: 'commit' as const, id: `${repository}/${sha}` })),
  ]
  const keys = [...new Set(things.flatMap((thing) => visibleItemsTiedTo(ctx.db, who, thing)))]
  return keys.flatMap((key) => {
    const item = getItem(ctx.db, key)
    return item ? [{ key, title: item.title, isDefect: isDefectType(readSetup(ctx.db, item.project).types, item.type) }] : []
  })
}

function titleOf(commits: readonly { subject: string }[], items: readonly TiedItem[], source: string): string {
  const [only] = commits
  if (commits.length === 1 && only) return only.subject.slice(0, 300)
  const [item] = items
  const words = source.replace(/^.*\//, '').replaceAll(/[-_]+/g, ' ')
  return (item ? `${item.title} (${item.key})` : `${words.charAt(0).toUpperCase()}${words.slice(1)}`).slice(0, 300)
}

/** Of several commits each by its first line; of one what it says beyond that. */
function commitsText(commits: readonly { subject: string; message: string }[]): string {
  const [only] = commits
  if (commits.length === 1 && only) return only.message.split('\n').slice(1).join('\n').trim()
  return commits.map(({ subject }) => `- ${subject}`).join('\n')
}

/** When what the items' requirements ask for is met, in their own words. */
function acceptanceOf(ctx: ServiceContext, who: Who, items: readonly TiedItem[]): string[] {
  return sql(ctx.db, LIST_REQUIREMENTS_OF_ITEMS)
    .all<{ key: string; title: string; attributes: string }>({ items: JSON.stringify(items.map(({ key }) => key)) })
    .filter(({ key }) => mayReadThing(ctx.db, who, { kind: 'requirement', id: key }))
    .flatMap(({ key, title, attributes }) => {
      const { Acceptance: said } = JSON.parse(attributes) as Attributes
      return typeof said === 'string' && said !== '' ? [`${key} ${title} is met when\n\n${said}`] : []
    })
}

async function templatesOf(ctx: ServiceContext, repository: string): Promise<string[]> {
  const sha = mainTip(ctx.db, repository)
  if (sha === null) return []
  const names = await quietly(() => gitWorker(ctx).call('listFolder', { dir: mirrorDir(ctx, repository), sha, path: TEMPLATES }))
  const single = (await readMainLineFile(ctx, repository, TEMPLATE)) === null ? [] : [TEMPLATE]
  return [...single, ...names.filter((name) => name.endsWith('.md')).map((name) => `${TEMPLATES}/${name}`)]
}

function conflictsOf(ctx: ServiceContext, repository: string, { base, head }: { base: string; head: string }): Promise<string[]> {
  return quietly(() => gitWorker(ctx).call('tryMerge', { dir: mirrorDir(ctx, repository), base, head }))
}

/** What git says, or nothing where the mirror cannot be read now. */
async function quietly(work: () => Promise<string[]>): Promise<string[]> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error)) return []
    throw error
  }
}
