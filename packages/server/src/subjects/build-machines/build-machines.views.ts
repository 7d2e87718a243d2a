import { DESCRIPTION_PATH } from '@dystracer/core/build-machines/description'
import { manifestsOf, suggestDescription } from '@dystracer/core/build-machines/suggest'
import type { BuildDescription, BuildMachine, WantedBuild } from '@dystracer/core/build-machines/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { textAt, trackedFilesOf } from '#subjects/git/index'
import { tipOf } from '#subjects/reviews/index'
import { hiddenRepositories } from '#subjects/records/index'
import {
  GET_REPOSITORY,
  GET_WANTED,
  LIST_ENDED_WANTED,
  LIST_ENDED_WANTED_OF_REPOSITORY,
  LIST_OPEN_WANTED,
  type WantedRow,
} from './build-machines.queries.js'
import { descriptionAt } from './descriptions.js'
import { MACHINES } from './machines.js'

const ENDED_MAX = 20
const PERSON = /^person:/

/** A row as it is answered. */
export function toWanted({ again, by, isByPush, isStopWanted, ...row }: WantedRow): WantedBuild {
  const state = row.endedAtMs !== null ? 'ended' : row.takenAtMs === null ? 'waiting' : isStopWanted === 1 ? 'stopping' : 'running'
  return {
    ...row,
    state,
    by: isByPush === 0 && PERSON.test(by) ? by.replace(PERSON, '') : null,
    number: row.number ?? again,
    isAgain: again !== null,
  }
}

/** Builds that are wanted, those that wait or run first, then those that ended last; and the machines. Of what somebody may see. */
export function listWantedBuilds(
  ctx: ServiceContext,
  who: Who,
  { repository }: { repository?: string | undefined },
): { rows: WantedBuild[]; machines: BuildMachine[] } {
  const hidden = hiddenRepositories(ctx.db, who)
  const isHidden = new Set(JSON.parse(hidden) as string[])
  const isMeant = (row: { repository: string }) =>
    !isHidden.has(row.repository) && (repository === undefined || row.repository === repository)
  const open = sql(ctx.db, LIST_OPEN_WANTED).all<WantedRow>({}).filter(isMeant)
  const ended =
    repository === undefined
      ? sql(ctx.db, LIST_ENDED_WANTED).all<WantedRow>({ hidden, limit: ENDED_MAX })
      : sql(ctx.db, LIST_ENDED_WANTED_OF_REPOSITORY).all<WantedRow>({ repository, limit: ENDED_MAX }).filter(isMeant)
  const rows = [...open, ...ended].map(toWanted)
  const seen = new Set(rows.map((row) => row.wantedId))
  // Which machines there are, what they are at and what they build is told as far as the asker sees those repositories.
  const machines = ctx
    .use(MACHINES)
    .list(ctx.nowMs())
    .filter(({ repositories }) => repositories.length === 0 || repositories.some((name) => !isHidden.has(name)))
    .map((machine) => ({
      ...machine,
      repositories: machine.repositories.filter((name) => !isHidden.has(name)),
      wantedId: machine.wantedId !== null && seen.has(machine.wantedId) ? machine.wantedId : null,
    }))
  return { rows, machines }
}

/** A wanted build of a repository. Throws `not-found`. */
export function requireWanted(ctx: ServiceContext, wantedId: string, repository?: string): WantedRow {
  const row = sql(ctx.db, GET_WANTED).get<WantedRow>({ wantedId })
  if (!row || (repository !== undefined && row.repository !== repository))
    throw new Problem('not-found', { detail: 'No such build is wanted.' })
  return row
}

/** Where a repository lies and what its main line is called. Throws `not-found`. */
export function requireConnected(ctx: ServiceContext, repository: string): { url: string; mainBranch: string } {
  const row = sql(ctx.db, GET_REPOSITORY).get<{ url: string; mainBranch: string }>({ repository })
  if (!row) throw new Problem('not-found', { detail: `No repository ${repository} is connected.` })
  return row
}

/** How a repository says that it is built on a branch, its main line without one; with a suggestion where it does not say. */
export async function readBuildDescription(
  ctx: ServiceContext,
  repository: string,
  asked: { branch?: string | undefined },
): Promise<BuildDescription> {
  const { mainBranch } = requireConnected(ctx, repository)
  const branch = asked.branch ?? mainBranch
  const sha = tipOf(ctx, repository, branch)
  const none = { path: DESCRIPTION_PATH, branch, sha, text: null, problems: [], plan: null, starts: null, suggestion: null }
  if (sha === null) return none
  const { text, file, plan, problems } = await descriptionAt(ctx, repository, sha)
  const suggestion = text === null ? await suggest(ctx, repository, sha) : null
  return { ...none, text, plan, problems, starts: file?.starts ?? null, suggestion }
}

async function suggest(ctx: ServiceContext, repository: string, sha: string): Promise<BuildDescription['suggestion']> {
  const paths = (await trackedFilesOf(ctx, repository, sha)) ?? []
  const texts = new Map<string, string>()
  for (const path of manifestsOf(paths)) {
    const text = await textAt(ctx, repository, sha, path)
    if (text !== null) texts.set(path, text)
  }
  return suggestDescription(paths, texts)
}
