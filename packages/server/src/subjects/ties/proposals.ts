import type { LikenessHit } from '@dystracer/core/likeness/likeness-index'
import type { Who } from '@dystracer/core/people/who'
import { isDefectType } from '@dystracer/core/setup/item-type'
import type { ProjectSetup } from '@dystracer/core/setup/wire'
import {
  isUpkeep,
  learnTieWeights,
  proposeTies,
  textOfCommit,
  type DecidedTie,
  type TieFacts,
  type TieProposal,
  type TieWeights,
} from '@dystracer/core/ties/commit-links'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { pathsOf } from '#subjects/code/index'
import { personByAddress } from '#subjects/people/index'
import { likenessWorker } from '#subjects/likeness/index'
import { onlyVisible, projectsOfRepository } from '#subjects/records/index'
import { readSetup } from '#subjects/setup/index'
import { LIST_CANDIDATE_ITEM, LIST_TIE_DECISION, LIST_TIE_REFUSED, LIST_WORK_OF_ITEMS } from './ties.queries.js'

/** A commit as proposals are made for it. */
export interface ProposedCommit {
  repository: string
  sha: string
  message: string
  author_email: string
  author_at_ms: number
  files: string
}

interface Candidate {
  key: string
  title: string
  type: string
  project: string
  component: string | null
  ownerId: string | null
  isOpen: number
  createdAtMs: number
  updatedAtMs: number
  isConfidential: number
  place: string | null
  holders: string
}

/** A proposal with what its line shows. */
export interface ShownProposal extends TieProposal {
  title: string
  words: string[]
  facts: TieFacts
}

const CANDIDATES = 15
const DAY_MS = 86_400_000
/** A share that rests on few commits counts less: as if so many more had been for something else. */
const FEW = 2

/** What is read once for all commits of a list. */
export interface ProposalContext {
  /** What was done in the repository before. */
  work: PastWork
  weights: TieWeights
  /** Whether items of a type are about something broken. */
  isDefect: (item: { project: string; type: string }) => boolean
}

/** What was done in a repository for whom: files by item, and the shares of components by folder. */
interface PastWork {
  filesOf: Map<string, Set<string>>
  byPlace: Map<string, { all: number; of: Map<string, number> }>
}

/** What proposals for commits of a repository are made with. */
export function proposalContext(ctx: Pick<ServiceContext, 'db'>, repository: string): ProposalContext {
  const types = new Map<string, ProjectSetup['types']>()
  return {
    work: pastWorkOf(ctx, repository),
    weights: learnedWeights(ctx),
    isDefect: ({ project, type }) => {
      const known = types.get(project) ?? readSetup(ctx.db, project).types
      types.set(project, known)
      return isDefectType(known, type)
    },
  }
}

/** The files that items' commits touched, and how the work in each folder is spread over components. Reads at most 3,000 ties. */
function pastWorkOf(ctx: Pick<ServiceContext, 'db'>, repository: string): PastWork {
  const work: PastWork = { filesOf: new Map(), byPlace: new Map() }
  for (const { key, component, files } of sql(ctx.db, LIST_WORK_OF_ITEMS).iterate<{ key: string; component: string | null; files: string }>(
    {
      repository,
    },
  )) {
    const paths = pathsOf(files)
    const known = work.filesOf.get(key) ?? new Set<string>()
    for (const path of paths) known.add(path)
    work.filesOf.set(key, known)
    for (const place of new Set(paths.flatMap(placesOf))) {
      const at = work.byPlace.get(place) ?? { all: 0, of: new Map<string, number>() }
      at.all++
      if (component !== null) at.of.set(component, (at.of.get(component) ?? 0) + 1)
      work.byPlace.set(place, at)
    }
  }
  return work
}

/** What past decisions of people made of the weights. */
function learnedWeights(ctx: Pick<ServiceContext, 'db'>): TieWeights {
  const rows = sql(ctx.db, LIST_TIE_DECISION).all<{ isRight: number; facts: string }>({})
  return learnTieWeights(rows.map(({ isRight, facts }): DecidedTie => ({ isRight: isRight === 1, facts: JSON.parse(facts) as TieFacts })))
}

/**
 * The items that a commit may be for, likeliest first, as far as the asker may see them; those that somebody said it is not for are left
 * out. Asks the likeness index once for each project of the repository.
 */
export async function proposalsFor(
  ctx: ServiceContext,
  who: Who,
  commit: ProposedCommit,
  context: ProposalContext,
): Promise<ShownProposal[]> {
  const hits = await hitsFor(ctx, commit)
  const refused = new Set(
    sql(ctx.db, LIST_TIE_REFUSED)
      .all<{ key: string }>({ repository: commit.repository, sha: commit.sha })
      .map(({ key }) => key),
  )
  const wanted = [...hits.keys()].filter((key) => !refused.has(key))
  const rows = sql(ctx.db, LIST_CANDIDATE_ITEM).all<Candidate>({ keys: JSON.stringify(wanted) })
  const visible = onlyVisible(
    ctx.db,
    who,
    rows.map((row) => ({ ...row, isConfidential: row.isConfidential === 1 })),
  )
  const known = new Map(visible.map((row) => [row.key, row]))
  const author = personByAddress(ctx.db, commit.author_email)?.personId ?? null
  const facts = new Map(visible.map((row) => [row.key, factsOf({ commit, row, words: hits.get(row.key)?.score ?? 0, author }, context)]))
  return proposeTies(
    [...facts].map(([key, each]) => ({ key, facts: each })),
    { weights: context.weights },
  ).flatMap((proposal) => {
    const row = known.get(proposal.key)
    const each = facts.get(proposal.key)
    return row && each ? [{ ...proposal, title: row.title, words: hits.get(proposal.key)?.sharedWords.slice(0, 4) ?? [], facts: each }] : []
  })
}

async function hitsFor(ctx: ServiceContext, commit: ProposedCommit): Promise<Map<string, LikenessHit>> {
  const text = textOfCommit({ message: commit.message, files: pathsOf(commit.files) })
  const hits = new Map<string, LikenessHit>()
  for (const scope of projectsOfRepository(ctx.db, commit.repository))
    for (const hit of await likenessWorker(ctx).call('find', { text: { id: '', ...text, scope, component: null }, limit: CANDIDATES }))
      hits.set(hit.id, hit)
  return hits
}

function factsOf(
  { commit, row, words, author }: { commit: ProposedCommit; row: Omit<Candidate, 'isConfidential'>; words: number; author: string | null },
  { work, isDefect }: ProposalContext,
): TieFacts {
  const paths = pathsOf(commit.files)
  const own = work.filesOf.get(row.key)
  const holders = JSON.parse(row.holders) as string[]
  const yes = (holds: boolean) => (holds ? 1 : 0)
  return {
    words,
    component: Math.max(0, ...paths.flatMap(placesOf).map((place) => shareOf(work, place, row.component))),
    files: own === undefined || paths.length === 0 ? 0 : paths.filter((path) => own.has(path)).length / paths.length,
    author: yes(author !== null && (row.ownerId === author || holders.includes(author))),
    fault: yes(row.place !== null && paths.some((path) => row.place?.includes(path.slice(path.lastIndexOf('/') + 1)))),
    later: yes(row.createdAtMs > commit.author_at_ms + DAY_MS),
    settled: yes(row.isOpen === 0 && row.updatedAtMs < commit.author_at_ms - DAY_MS),
    'no-mend': yes(isDefect(row) && isUpkeep(commit.message)),
  }
}

function shareOf(work: PastWork, place: string, component: string | null): number {
  const at = work.byPlace.get(place)
  return at === undefined || component === null ? 0 : (at.of.get(component) ?? 0) / (at.all + FEW)
}

/** `src/relay/door.ts` lies in itself, in `src/relay` and in `src`. */
function placesOf(path: string): string[] {
  const folders = path.split('/')
  return [path, folders.slice(0, 2).join('/'), folders[0] ?? path]
}
