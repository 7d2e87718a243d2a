import { doesStart } from '@dystracer/core/build-machines/build-plan'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { graphOf, mainTip } from '#subjects/code/index'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { archivedProjects } from '#subjects/people/index'
import { projectsOfRepository } from '#subjects/records/index'
import { HAS_WANTED_OF_COMMIT, LIST_OPEN_WANTED, type WantedRow } from './build-machines.queries.js'
import { requireConnected } from './build-machines.views.js'
import { descriptionAt } from './descriptions.js'
import { appendWanted, subjectsOf } from './wanted.commands.js'

/** A push of more branches than this is a history that was brought over, not work to be built. */
const BRANCHES_MAX = 20
const BRANCH = 'refs/heads/'

interface Push {
  repository: string
  branch: string
  from: string | null
  to: string
}

/**
 * Wants a build of each pushed commit whose own description says so, once the push is in the journal. A branch without a commit of its own
 * starts none, nor do the branches that come with a repository's first reading, beside its main line. Gives its own stopper.
 */
export function startBuildingPushes(ctx: ServiceContext): () => void {
  return ctx.journal.onCommit((entries) => {
    const pushes = entries.flatMap(({ kind, body }) => (kind === 'refs-moved' ? pushesIn(ctx, body) : []))
    if (pushes.length === 0) return
    ctx.background.add(
      (async () => {
        for (const push of pushes) await wantAsSaid(ctx, push)
      })(),
      'builds that pushes start',
    )
  })
}

function pushesIn(
  ctx: ServiceContext,
  { repository, moves }: { repository: string; moves: readonly { ref: string; from: string | null; to: string | null }[] },
): Push[] {
  const { mainBranch } = requireConnected(ctx, repository)
  const branches = moves.filter((move) => move.ref.startsWith(BRANCH) && move.to !== null)
  const isFirst = branches.some((move) => move.ref === `${BRANCH}${mainBranch}` && move.from === null)
  if (branches.length > BRANCHES_MAX) return []
  return branches
    .filter((move) => !isFirst || move.ref === `${BRANCH}${mainBranch}`)
    .map(({ ref, from, to }) => ({ repository, branch: ref.slice(BRANCH.length), from, to: to ?? '' }))
}

async function wantAsSaid(ctx: ServiceContext, { repository, branch, from, to }: Push): Promise<void> {
  const archived = archivedProjects(ctx.db)
  if (projectsOfRepository(ctx.db, repository).every((project) => archived.includes(project))) return
  const main = branch === requireConnected(ctx, repository).mainBranch ? null : mainTip(ctx.db, repository)
  if (from === null && main !== null && graphOf(ctx, repository).isReachable(to, main)) return
  // A file whose includes cannot be read starts all the same: the build says what is wrong with it.
  const { file } = await descriptionAt(ctx, repository, to)
  if (file === null || !doesStart(file, { branch, paths: await pathsBetween(ctx, repository, from, to) })) return
  if (sql(ctx.db, HAS_WANTED_OF_COMMIT).get({ repository, sha: to })) return
  ctx.journal.write((writer) => {
    for (const row of sql(ctx.db, LIST_OPEN_WANTED).all<WantedRow>({}))
      if (row.repository === repository && row.branch === branch && row.isByPush === 1 && row.takenAtMs === null)
        writer.append({
          kind: 'wanted-build-ended',
          actor: 'source:git',
          subjects: subjectsOf(repository, null),
          body: { wantedId: row.wantedId, outcome: 'replaced' },
        })
    appendWanted(ctx, writer, { actor: 'source:git', repository, sha: to, branch, again: null, isByPush: true })
  })
}

/** What a push changed; null where that is not known, as for a new branch. */
async function pathsBetween(ctx: ServiceContext, repository: string, from: string | null, to: string): Promise<string[] | null> {
  if (from === null) return null
  try {
    return (await gitWorker(ctx).call('changedFiles', { dir: mirrorDir(ctx, repository), from, to })).paths
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error)) return null
    throw error
  }
}
