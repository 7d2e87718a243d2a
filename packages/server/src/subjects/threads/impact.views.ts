import { Problem } from '@dystracer/core/basics/problem'
import { groupBy } from '@dystracer/core/basics/group-by'
import type { Who } from '@dystracer/core/people/who'
import type { Impact } from '@dystracer/core/threads/impact-wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { graphOf, pathsOf } from '#subjects/code/index'
import { nameOfPerson } from '#subjects/people/index'
import { listItemsByKeys, mayReadThing, onlyVisible } from '#subjects/records/index'
import { checksOf, verifyingTests } from '#subjects/requirements/index'
import { GET_PROJECT_OF_PREFIX, LIST_COMMIT_OF_ITEMS, LIST_ITEM_OF_REQUIREMENTS, LIST_REFINING, LIST_RUNNING } from './impact.queries.js'

/** So many files are listed; the rest is counted. */
const FILES_SHOWN = 60
interface CommitRow {
  key: string
  repository: string
  sha: string
  author: string
  atMs: number
  files: string
}

/** What a change of a requirement would reach, by evidence; items that the asker may not see, and what only they lead to, are left out. */
export function readImpact(ctx: ServiceContext, who: Who, key: string): Impact {
  const refining = sql(ctx.db, LIST_REFINING)
    .all<{ key: string; title: string; steps: number }>({ key })
    .filter((one) => mayReadThing(ctx.db, who, { kind: 'requirement', id: one.key }))
  if (refining.length === 0) throw new Problem('not-found', { detail: `There is no requirement ${key}.` })
  const keys = refining.map((one) => one.key)
  const ties = sql(ctx.db, LIST_ITEM_OF_REQUIREMENTS).all<{ of: string; key: string; kind: string }>({ keys: JSON.stringify(keys) })
  const visible = new Map(
    onlyVisible(ctx.db, who, listItemsByKeys(ctx.db, [...new Set(ties.map((tie) => tie.key))])).map((item) => [item.key, item]),
  )
  const items = ties.flatMap((tie) => {
    const item = visible.get(tie.key)
    return item ? [{ ...item, of: tie.of, linkKind: tie.kind }] : []
  })
  const commits = sql(ctx.db, LIST_COMMIT_OF_ITEMS).all<CommitRow>({ keys: JSON.stringify([...visible.keys()]) })
  const files = filesOf(commits)
  return {
    key,
    refinedBy: refining.filter(({ steps }) => steps > 0),
    items,
    files: files.slice(0, FILES_SHOWN),
    moreFiles: Math.max(0, files.length - FILES_SHOWN),
    tests: testsOf(ctx, keys),
    people: peopleOf(ctx, [...visible.values()], commits),
    runs: runsOf(ctx, key, commits),
  }
}

function filesOf(commits: readonly CommitRow[]): Impact['files'] {
  const touched = commits.flatMap(({ repository, sha, atMs, files }) => pathsOf(files).map((path) => ({ repository, path, sha, atMs })))
  return [...groupBy(touched, ({ repository, path }) => `${repository}\0${path}`).values()]
    .flatMap((those) => {
      const [first] = those
      return first
        ? [
            {
              repository: first.repository,
              path: first.path,
              commits: new Set(those.map(({ sha }) => sha)).size,
              lastAtMs: Math.max(...those.map(({ atMs }) => atMs)),
            },
          ]
        : []
    })
    .sort((a, b) => b.commits - a.commits || (a.path < b.path ? -1 : 1))
}

function testsOf(ctx: ServiceContext, keys: readonly string[]): Impact['tests'] {
  const tests = verifyingTests(ctx)
  const checks = checksOf(ctx)
  return keys.flatMap((of) => [
    ...(tests.get(of) ?? []).map(({ name, outcome }) => ({ name, of, outcome, byHand: false })),
    ...(checks.get(of) ?? []).map(({ title, environment, outcome }) => ({ name: `${title} in ${environment}`, of, outcome, byHand: true })),
  ])
}

function peopleOf(
  ctx: ServiceContext,
  items: readonly { key: string; ownerId: string | null }[],
  commits: readonly CommitRow[],
): Impact['people'] {
  const people = new Map<string, Impact['people'][number]>()
  const of = (name: string) => {
    const known = people.get(name) ?? { name, items: 0, commits: 0 }
    people.set(name, known)
    return known
  }
  for (const { ownerId } of items) if (ownerId !== null) of(nameOfPerson(ctx.db, ownerId) ?? ownerId).items++
  const counted = new Set<string>()
  for (const { repository, sha, author } of commits) {
    if (counted.has(`${repository}/${sha}`)) continue
    counted.add(`${repository}/${sha}`)
    of(author).commits++
  }
  return [...people.values()].sort((a, b) => b.items + b.commits - a.items - a.commits || (a.name < b.name ? -1 : 1))
}

/** What runs now and holds a commit for one of the items. */
function runsOf(ctx: ServiceContext, key: string, commits: readonly CommitRow[]): Impact['runs'] {
  const project = sql(ctx.db, GET_PROJECT_OF_PREFIX).get<{ project: string }>({ prefix: key.slice(0, key.lastIndexOf('-')) })?.project ?? ''
  return sql(ctx.db, LIST_RUNNING)
    .all<{ service: string; repository: string; release: string; environment: string; sha: string }>({ project })
    .flatMap(({ service, repository, release, environment, sha }) => {
      const graph = graphOf(ctx, repository)
      const held = commits
        .filter((commit) => commit.repository === repository && graph.isReachable(commit.sha, sha))
        .map((commit) => commit.key)
      return held.length > 0 ? [{ service, release, environment, items: [...new Set(held)].sort() }] : []
    })
}
