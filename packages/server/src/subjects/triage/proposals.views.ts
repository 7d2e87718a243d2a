import { whatDiffers, whyAlike } from '@dystracer/core/likeness/why-alike'
import { nameOfPerson } from '#subjects/people/index'
import type { Proposal, Proposals } from '@dystracer/core/triage/wire'
import {
  firstGuess,
  guessSeverityFromAlike,
  guessSeverityFromComponent,
  guessSeverityFromFault,
  guessSeverityFromTitle,
  type SeverityReason,
} from '@dystracer/core/triage/guess-severity'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { decidedBy } from './decisions.commands.js'
import type { ServiceContext } from '#platform/context'
import { readFaultCounts, readPast } from './queue.views.js'
import { readFaultFrames, readFaultSummary } from '#subjects/faults/index'
import { findLookAlikes, likenessWorker } from '#subjects/likeness/index'
import { type ItemRow, requireItem } from '#subjects/records/index'
import { dayOf, onDuty } from '#subjects/routing/index'
import {
  GET_KEEPER_ID_OF_COMPONENT_BY_COMPONENT,
  GET_PERSON_BY_NAME,
  GET_TITLE_OF_REQUIREMENT_BY_KEY,
  LIST_LINK_ASSERTION_BY_ITEM,
  LIST_MILESTONE_BY_PROJECT_AND_TODAY,
} from './proposals.queries.js'

const SHOWN_MAX = 4

/**
 * What a decision on an item could look like, each with its reason, the best founded first: from the history of the failing lines where
 * there is a fault, from decided look-alikes, from who keeps
 * the component and who is on duty, and from words.
 */
export async function readProposals(ctx: ServiceContext, who: Who, key: string): Promise<Proposals> {
  const row = requireItem(ctx, key)
  const proposals: Proposals = {
    severity: { value: 3, reason: '' },
    owners: [],
    components: [],
    milestones: [],
    requirements: [],
    alike: [],
    broughtInBy: [],
    decided: decidedBy(ctx, key),
  }
  if (row.owner_id !== null) add(proposals.owners, { value: row.owner_id, label: nameOf(ctx, row.owner_id), reason: 'set on it already' })
  if (row.component !== null)
    add(proposals.components, {
      value: row.component,
      label: row.component,
      reason: row.fault ? 'its service belongs there' : 'the reporter chose it',
    })
  if (row.fault !== null) await proposeFromFault(ctx, who, row.fault, proposals)
  const alike = await findLookAlikes(ctx, who, {
    title: row.title,
    text: row.description,
    project: row.project,
    component: row.component ?? undefined,
    key,
  })
  for (const { item, ...why } of alike) {
    add(proposals.alike, { value: item.key, label: item.title, reason: [whyAlike(why), whatDiffers(why)].filter(Boolean).join('; ') })
    proposeFromAlike(ctx, item, proposals)
  }
  await proposeRequirements(ctx, row, proposals)
  proposeKeepers(ctx, row, proposals)
  proposeMilestone(ctx, row, proposals)
  proposals.severity = proposeSeverity(ctx, row, alike)
  for (const list of [proposals.owners, proposals.components, proposals.milestones, proposals.requirements, proposals.broughtInBy])
    list.splice(SHOWN_MAX)
  return proposals
}

/** The first reason for a value stands: lists are filled from the best founded down. */
function add(list: Proposal[], proposal: Omit<Proposal, 'isFounded'> & { isFounded?: boolean }): void {
  if (!list.some((known) => known.value === proposal.value)) list.push({ isFounded: false, ...proposal })
}

function nameOf(ctx: ServiceContext, personId: string): string {
  return nameOfPerson(ctx.db, personId) ?? personId
}

function proposeSeverity(
  ctx: ServiceContext,
  row: ItemRow,
  alike: { item: { key: string; severity: number | null; stage: string } }[],
): Proposals['severity'] {
  if (row.severity !== null) return { value: row.severity, reason: row.reporter_id === null ? 'set on it already' : 'the reporter says so' }
  const fault = row.fault === null ? undefined : readFaultCounts(ctx, [row.fault]).get(row.fault)
  const decided = alike.flatMap(({ item }) =>
    item.severity !== null && item.stage !== 'logged' ? [{ key: item.key, severity: item.severity }] : [],
  )
  const guess = firstGuess(
    fault ? guessSeverityFromFault(fault) : null,
    guessSeverityFromTitle(row.title),
    guessSeverityFromAlike(decided),
    row.component === null ? null : guessSeverityFromComponent(row.component, readPast(ctx).get(row.component) ?? []),
  )
  return { value: guess.severity, reason: wordsOf(guess.reason) }
}

function wordsOf(reason: SeverityReason): string {
  switch (reason.code) {
    case 'words':
      return `says “${reason.word}”`
    case 'in-production':
      return `happens in production, ${reason.occurrences} ${reason.occurrences === 1 ? 'time' : 'times'} so far`
    case 'not-in-production':
      return 'not seen in production'
    case 'alike':
      return `as ${reason.keys.slice(0, 3).join(', ')}, which look alike`
    case 'component':
      return `the middle of ${reason.count} decided ones of ${reason.component}`
    case 'no-sign':
      return 'no sign of more'
  }
}

/** Who last changed the failing lines, in which commit, and what that commit's items are tied to. */
async function proposeFromFault(ctx: ServiceContext, who: Who, fault: string, proposals: Proposals): Promise<void> {
  const { repository } = readFaultSummary(ctx, fault)
  const { frames } = await readFaultFrames(ctx, who, fault)
  for (const frame of frames) {
    if (!frame.blame) continue
    const place = `${frame.path}:${frame.line}`
    add(proposals.broughtInBy, {
      value: `${repository}/${frame.blame.sha}`,
      label: frame.blame.subject,
      reason: `last changed ${place}`,
    })
    const person = sql(ctx.db, GET_PERSON_BY_NAME).get<{ person_id: string; name: string }>({
      name: frame.blame.author,
    })
    if (person) add(proposals.owners, { value: person.person_id, label: person.name, reason: `last changed ${place}` })
    for (const item of frame.blame.items)
      for (const requirement of requirementsOf(ctx, item))
        add(proposals.requirements, { ...requirement, reason: `the failing line came with ${item}, which is tied to it`, isFounded: true })
  }
}

function requirementsOf(ctx: ServiceContext, item: string): { value: string; label: string }[] {
  return sql(ctx.db, LIST_LINK_ASSERTION_BY_ITEM).all<{ value: string; label: string }>({ item })
}

/** What a decided look-alike was given. */
function proposeFromAlike(
  ctx: ServiceContext,
  item: { key: string; ownerId: string | null; component: string | null; stage: string; disposition: string | null },
  proposals: Proposals,
): void {
  for (const requirement of requirementsOf(ctx, item.key))
    add(proposals.requirements, { ...requirement, reason: `${item.key}, which looks alike, is tied to it` })
  if (item.stage === 'logged' || item.disposition !== null) return
  if (item.component !== null)
    add(proposals.components, { value: item.component, label: item.component, reason: `as ${item.key}, which looks alike` })
  if (item.ownerId !== null)
    add(proposals.owners, { value: item.ownerId, label: nameOf(ctx, item.ownerId), reason: `owns ${item.key}, which looks alike` })
}

async function proposeRequirements(ctx: ServiceContext, row: ItemRow, proposals: Proposals): Promise<void> {
  const hits = await likenessWorker(ctx).call('findRequirements', {
    report: { id: row.key, title: row.title, text: row.description.slice(0, 4000), scope: row.project, component: row.component },
    limit: SHOWN_MAX,
  })
  for (const hit of hits) {
    const requirement = sql(ctx.db, GET_TITLE_OF_REQUIREMENT_BY_KEY).get<{ title: string }>({ key: hit.id })
    if (!requirement) continue
    const [pair] = hit.relatedWords
    const reason =
      hit.sharedWords.length > 0
        ? `shares “${hit.sharedWords.slice(0, 3).join('”, “')}”`
        : pair
          ? `“${pair[0]}” is related to “${pair[1]}”`
          : 'what looks alike points to it'
    add(proposals.requirements, { value: hit.id, label: requirement.title, reason })
  }
}

/** Who keeps the likely component, and who is on duty this week. */
function proposeKeepers(ctx: ServiceContext, row: ItemRow, proposals: Proposals): void {
  const component = proposals.components[0]?.value
  const keeper = sql(ctx.db, GET_KEEPER_ID_OF_COMPONENT_BY_COMPONENT).get<{ keeper_id: string | null }>({
    component: component ?? null,
  })?.keeper_id
  if (keeper) add(proposals.owners, { value: keeper, label: nameOf(ctx, keeper), reason: `keeps ${component}` })
  const duty = onDuty(ctx, row.project)
  if (duty !== null) add(proposals.owners, { value: duty, label: nameOf(ctx, duty), reason: 'is on duty this week' })
}

/** The milestone that is being worked on, then the next one due. */
function proposeMilestone(ctx: ServiceContext, row: ItemRow, proposals: Proposals): void {
  if (row.milestone !== null) add(proposals.milestones, { value: row.milestone, label: row.milestone, reason: 'set on it already' })
  for (const milestone of sql(ctx.db, LIST_MILESTONE_BY_PROJECT_AND_TODAY).all<{ name: string; due_on: string }>({
    project: row.project,
    today: dayOf(ctx.nowMs()),
  }))
    add(proposals.milestones, { value: milestone.name, label: milestone.name, reason: `the next one due, on ${milestone.due_on}` })
}
