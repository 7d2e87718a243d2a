import { Problem } from '@dystracer/core/basics/problem'
import type { PullRequestDetail } from '@dystracer/core/code/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { OutsideError } from '#platform/outside-error'
import { requireRightInOneOf } from '#subjects/people/index'
import { projectsOfRepository } from '#subjects/records/index'
import type { MergeMethod } from '@dystracer/core/reviews/events'
import type { GateCode, MergeGate } from '@dystracer/core/reviews/gates'
import { codeHostOf, findPullRequest, readPullRequest, type PullRequestRow } from '#subjects/code/index'
import { gatesOf } from './gates.views.js'
import { changeHere, createBranchHere, mergeHere, openHere, type OpenInput } from './own-pull-requests.js'

/**
 * Opens a pull request of a branch and gives its number: in the code host that the repository lives in, else here. Throws
 * `outside-unreachable` where the host does not answer, and what openHere throws.
 */
export async function openPullRequest(ctx: ServiceContext, who: Who, input: OpenInput): Promise<{ number: number }> {
  const { repository, source } = input
  requireRightInOneOf(who, 'code.contribute', projectsOfRepository(ctx.db, repository))
  const host = codeHostOf(ctx, repository)
  if (!host) return { number: openHere(ctx, who, input) }
  const base = input.target === undefined ? {} : { base: input.target }
  const { number } = await asking(() => host.openPullRequest({ repository, head: source, ...base, by: nameOf(who) }))
  return { number }
}

/** Merges a pull request where nothing is missing any more. Throws `gate-closed` with what is, and what mergeHere throws. */
export async function mergePullRequest(ctx: ServiceContext, who: Who, input: { repository: string; number: string }): Promise<void> {
  const row = findPullRequest(ctx, who, `${input.repository}/${input.number}`)
  if (row.state !== 'open') throw new Problem('gate-closed', { detail: `It is ${row.state} already.` })
  const unmet = (await gatesOf(ctx, who, row)).gates.find(({ isMet }) => !isMet)
  if (unmet)
    throw new Problem('gate-closed', {
      detail: HAS_WORDS.has(unmet.code) && unmet.words !== null ? unmet.words : GATE_WORDS[unmet.code](unmet),
      facts: { gate: unmet.code },
    })
  await mergeNow(ctx, who, row, 'merge')
}

/** Gates whose own words say what to do. */
const HAS_WORDS: ReadonlySet<GateCode> = new Set(['build', 'file', 'main'])
/** What each gate asks for, as what to do. */
const GATE_WORDS: Record<GateCode, (gate: MergeGate) => string> = {
  build: () => 'No build of its newest commit has passed yet.',
  agreements: ({ has, needs }) => `${has} of ${needs} people agree to it as it is now. Ask somebody who wrote none of it.`,
  'no-objection': () => 'Somebody asks for changes. Make them, and ask them to look again.',
  settled: ({ has }) => `${has} remarks are not settled.`,
  item: () => 'No item is tied to it: name one in its title, its branch or a commit.',
  file: () => 'The file of gates cannot be read.',
  draft: () => 'It is a draft. Say that it is ready first.',
  owners: () => 'Somebody who looks after its files has to agree to it.',
  requirement: () => 'No requirement asks for it: tie one to its item.',
  suspects: ({ has }) => `${has} ties of its items to requirements wait to be looked at again.`,
  time: () => 'No time is logged for its items.',
  findings: ({ has }) => `${has} findings are new with it.`,
  coverage: ({ words, has, needs }) => words ?? `Tests run ${has} of a hundred lines that it brings; ${needs} are asked for.`,
  quality: ({ words }) => `It is beyond the quality that is asked for: ${words}.`,
  main: () => 'The line that it goes to is broken.',
  hours: ({ words }) => `It may be merged ${words}.`,
  queue: () => 'It is built on top of those before it first: say that it is to be merged once all holds.',
}

/** Merges without asking the gates: in the code host that it lives in, else here by git. Throws what either throws. */
export async function mergeNow(ctx: ServiceContext, who: Who, row: PullRequestRow, method: MergeMethod): Promise<void> {
  const { repository, number } = row
  requireRightInOneOf(who, 'code.contribute', projectsOfRepository(ctx.db, repository))
  const host = codeHostOf(ctx, repository)
  if (host) await asking(() => host.mergePullRequest({ repository, number, by: nameOf(who) }))
  else await mergeHere(ctx, who, row, method)
}

/** Changes one that lives here; gives it as it is then. Throws `conflict` for one that lives elsewhere. */
export function changePullRequest(
  ctx: ServiceContext,
  who: Who,
  { repository, number, ...change }: { repository: string; number: string } & Parameters<typeof changeHere>[3],
): PullRequestDetail {
  const id = `${repository}/${number}`
  changeHere(ctx, who, findPullRequest(ctx, who, id), change)
  return readPullRequest(ctx, who, id)
}

/** Creates a branch at the tip of another, where the repository lives. Throws `outside-unreachable`, with nothing changed. */
export async function createBranch(
  ctx: ServiceContext,
  who: Who,
  input: { repository: string; branch: string; from: string },
): Promise<void> {
  const host = codeHostOf(ctx, input.repository)
  if (host) await asking(() => host.createBranch({ ...input, by: nameOf(who) }))
  else await createBranchHere(ctx, input)
}

function nameOf(who: Who): string {
  return who.personId ?? who.actor
}

const REFUSALS: ReadonlySet<number> = new Set([404, 409, 422])

async function asking<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof OutsideError) {
      // A host that answers and does not want it is there: what was asked does not fit what it has.
      const isRefusal = error.status !== null && REFUSALS.has(error.status)
      throw new Problem(isRefusal ? 'conflict' : 'outside-unreachable', {
        detail: `${error.message}. Nothing was changed here.`,
        cause: error,
      })
    }
    throw error
  }
}
