import { DESCRIPTION_PATH } from '@dystracer/core/build-machines/description'
import type { WantedBuild } from '@dystracer/core/build-machines/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { proposeFile, tipOf } from '#subjects/reviews/index'
import { GET_BUILD_TO_REPEAT, HAS_COMMIT, LIST_OPEN_WANTED, type WantedRow } from './build-machines.queries.js'
import { requireConnected, requireWanted, toWanted } from './build-machines.views.js'
import { planOfText } from './descriptions.js'

/** What a build is wanted of. */
export interface WantInput {
  branch?: string | undefined
  commit?: string | undefined
  again?: number | undefined
}

/**
 * Wants a build; one that waits for the same commit already is that one. Throws `invalid-input` for a branch, a commit or a build that is
 * not there, `conflict` for a build that runs.
 */
export function wantBuild(ctx: ServiceContext, who: Who, repository: string, input: WantInput): WantedBuild {
  const { mainBranch } = requireConnected(ctx, repository)
  const { sha, branch, again } = meantBy(ctx, repository, input, mainBranch)
  const known = sql(ctx.db, LIST_OPEN_WANTED)
    .all<WantedRow>({})
    .find((row) => row.repository === repository && row.sha === sha && row.again === again && (again !== null || row.takenAtMs === null))
  if (known) return toWanted(known)
  const wantedId = ctx.journal.write((writer) =>
    appendWanted(ctx, writer, { actor: who.actor, repository, sha, branch, again, isByPush: false }),
  )
  return toWanted(requireWanted(ctx, wantedId))
}

function meantBy(
  ctx: ServiceContext,
  repository: string,
  { branch, commit, again }: WantInput,
  mainBranch: string,
): { sha: string; branch: string; again: number | null } {
  if (again !== undefined) {
    const build = sql(ctx.db, GET_BUILD_TO_REPEAT).get<{ sha: string; branch: string; state: string }>({ repository, number: again })
    if (!build || build.sha === '')
      throw new Problem('invalid-input', { fields: { again: build ? 'Nobody said which commit it is of' : `There is no build ${again}` } })
    if (build.state === 'running') throw new Problem('conflict', { detail: 'It runs still; stop it first, or wait for its end.' })
    return { sha: build.sha, branch: build.branch, again }
  }
  if (commit !== undefined) {
    if (!sql(ctx.db, HAS_COMMIT).get({ repository, sha: commit }))
      throw new Problem('invalid-input', { fields: { commit: 'No such commit of this repository is known here' } })
    return { sha: commit, branch: branch ?? '', again: null }
  }
  const name = branch ?? mainBranch
  const sha = tipOf(ctx, repository, name)
  if (sha === null) throw new Problem('invalid-input', { fields: { branch: `There is no branch ${name}; push it first` } })
  return { sha, branch: name, again: null }
}

/** Notes that a build is wanted, inside a write; gives its id. */
export function appendWanted(
  ctx: ServiceContext,
  writer: JournalWriter,
  { actor, ...wanted }: { actor: string; repository: string; sha: string; branch: string; again: number | null; isByPush: boolean },
): string {
  const wantedId = ctx.newId()
  writer.append({ kind: 'build-wanted', actor, subjects: subjectsOf(wanted.repository, wanted.again), body: { wantedId, ...wanted } })
  return wantedId
}

/** What an entry about a wanted build is about. */
export function subjectsOf(repository: string, number: number | null): string[] {
  return [...(number === null ? [] : [`build:${repository}/${number}`]), `repository:${repository}`]
}

/** Stops a build that waits at once, one that runs when its machine hears of it; one that ended stays so. Throws `not-found`. */
export function stopWantedBuild(ctx: ServiceContext, who: Who, repository: string, wantedId: string): WantedBuild {
  const row = requireWanted(ctx, wantedId, repository)
  if (row.endedAtMs === null && row.isStopWanted === 0)
    ctx.journal.write((writer) => {
      const entry = { actor: who.actor, subjects: subjectsOf(repository, row.number ?? row.again) }
      writer.append({ ...entry, kind: 'build-stop-wanted', body: { wantedId } })
      if (row.takenAtMs === null) writer.append({ ...entry, kind: 'wanted-build-ended', body: { wantedId, outcome: 'stopped' } })
    })
  return toWanted(requireWanted(ctx, wantedId))
}

/**
 * Commits a description to a branch of its own and opens a pull request for it. Throws `invalid-input` with what is wrong with it, and what
 * `proposeFile` throws.
 */
export async function proposeBuildDescription(
  ctx: ServiceContext,
  who: Who,
  { repository, text }: { repository: string; text: string },
  lookAgain: (repository: string) => Promise<void>,
): Promise<{ branch: string; number: number }> {
  const { problems } = await planOfText(ctx, repository, text)
  const [first] = problems
  if (first) throw new Problem('invalid-input', { fields: { text: `${first.line === null ? '' : `line ${first.line}: `}${first.text}` } })
  const message = `Say how this is built\n\nBuild machines do what ${DESCRIPTION_PATH} says; each commit is built by its own.\n`
  return proposeFile(ctx, who, { repository, path: DESCRIPTION_PATH, text, branch: 'build-description', message }, lookAgain)
}
