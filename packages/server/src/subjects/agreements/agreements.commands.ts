import { Problem } from '@dystracer/core/basics/problem'
import type { AskAgreement } from '@dystracer/core/agreements/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { membershipsOf, requireRight } from '#subjects/people/index'
import { requirementKeysOf } from '#subjects/requirements/index'
import { requireProject } from '#subjects/setup/index'
import { GET_REMARK } from './agreements.queries.js'
import { requireAgreement, textsOf, type AgreementRow } from './agreements.views.js'

interface Of {
  project: string
  agreementId: string
}
const subjectsOf = ({ project }: Of, keys: readonly string[] = []) => [`project:${project}`, ...keys.map((key) => `requirement:${key}`)]

/** Asks people to agree to requirements and gives the id. Throws `invalid-input` for a requirement or a person of another project. */
export function askAgreement(ctx: ServiceContext, who: Who, project: string, input: AskAgreement): string {
  requireProject(ctx.db, project)
  requireKnown(ctx, project, input)
  const agreementId = ctx.newId()
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'agreement-asked',
      actor: who.actor,
      subjects: subjectsOf({ project, agreementId }),
      body: { project, agreementId, ...input },
    })
  })
  return agreementId
}

/** Changes what is asked, or of whom. Throws `not-found`, `conflict` for one that ended, `invalid-input`. */
export function changeAgreement(ctx: ServiceContext, who: Who, of: Of, input: AskAgreement): void {
  requireOpen(ctx, of)
  requireKnown(ctx, of.project, input)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'agreement-changed', actor: who.actor, subjects: subjectsOf(of), body: { ...of, ...input } })
  })
}

/**
 * Agrees to requirements as they stand, or takes that back. Throws `not-allowed` for who is not asked, `changed-meanwhile` where one reads
 * differently by now, `invalid-input` for one that is not of the agreement.
 */
export function agreeTo(
  ctx: ServiceContext,
  who: Who,
  of: Of,
  { verdicts, isOn }: { verdicts: { key: string; revision: number }[]; isOn: boolean },
): void {
  const row = requireOpen(ctx, of)
  if (who.personId === null || !isAsked(row, who)) throw new Problem('not-allowed', { detail: 'You are not among those who are asked.' })
  const texts = textsOf(ctx, row.keys)
  for (const { key, revision } of verdicts) {
    const text = texts.get(key)
    if (!text) throw new Problem('invalid-input', { fields: { verdicts: `${key} is not among what is asked` } })
    if (isOn && text.revision !== revision)
      throw new Problem('changed-meanwhile', { detail: `${key} is at revision ${text.revision} by now. Read it again.` })
  }
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'requirements-agreed',
      actor: who.actor,
      subjects: subjectsOf(
        of,
        verdicts.map(({ key }) => key),
      ),
      body: { ...of, verdicts, isOn },
    })
  })
}

/** Says something about words of a requirement. Throws `not-allowed`, `invalid-input` for words that do not stand there. */
export function remarkOn(ctx: ServiceContext, who: Who, of: Of, { key, quote, text }: { key: string; quote: string; text: string }): void {
  const row = requireOpen(ctx, of)
  if (!isAsked(row, who)) requireRight(who, 'talk.write', of.project)
  const about = textsOf(ctx, row.keys).get(key)
  if (!about) throw new Problem('invalid-input', { fields: { key: `${key} is not among what is asked` } })
  if (quote !== '' && !spaced(`${about.title} ${about.text}`).includes(spaced(quote)))
    throw new Problem('invalid-input', { fields: { quote: `These words do not stand in ${key} as it is now` } })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'agreement-remarked',
      actor: who.actor,
      subjects: subjectsOf(of, [key]),
      body: { ...of, remarkId: ctx.newId(), key, revision: about.revision, quote, text },
    })
  })
}

/** Says that a remark is settled, or open again. Throws `not-found`, `not-allowed` for whom it is no matter. */
export function settleRemark(ctx: ServiceContext, who: Who, { remarkId, ...of }: Of & { remarkId: string }, isSettled: boolean): void {
  requireOpen(ctx, of)
  const remark = sql(ctx.db, GET_REMARK).get<{ key: string; by: string }>({ remarkId, agreementId: of.agreementId })
  if (!remark) throw new Problem('not-found', { detail: 'This remark is not there.' })
  if (remark.by !== who.actor) requireRight(who, 'requirements.write', of.project)
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'agreement-remark-settled',
      actor: who.actor,
      subjects: subjectsOf(of, [remark.key]),
      body: { ...of, remarkId, key: remark.key, isSettled },
    })
  })
}

/** Ends it, whether all agreed or not, or lets it go on. Throws `not-found`, `conflict` where it is so already. */
export function endAgreement(ctx: ServiceContext, who: Who, of: Of, { isEnded, words }: { isEnded: boolean; words: string }): void {
  const row = requireAgreement(ctx, of.project, of.agreementId)
  if ((row.ended_at_ms !== null) === isEnded)
    throw new Problem('conflict', { detail: isEnded ? 'It has ended already.' : 'It goes on already.' })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'agreement-ended', actor: who.actor, subjects: subjectsOf(of), body: { ...of, isEnded, words } })
  })
}

function requireOpen(ctx: ServiceContext, { project, agreementId }: Of): AgreementRow {
  const row = requireAgreement(ctx, project, agreementId)
  if (row.ended_at_ms !== null) throw new Problem('conflict', { detail: 'It has ended. Let it go on first.' })
  return row
}

function isAsked(row: AgreementRow, who: Who): boolean {
  return who.personId !== null && (JSON.parse(row.people) as string[]).includes(who.personId)
}

function requireKnown(ctx: ServiceContext, project: string, { keys, people }: AskAgreement): void {
  const own = requirementKeysOf(ctx, project)
  const strange = keys.find((key) => !own.has(key))
  if (strange !== undefined) throw new Problem('invalid-input', { fields: { keys: `${strange} is no requirement of this project` } })
  const stranger = people.find((personId) => !membershipsOf(ctx.db, personId).some((one) => one.project === project))
  if (stranger !== undefined) throw new Problem('invalid-input', { fields: { people: `${stranger} does not belong to this project` } })
}

/** Words as they are compared: a line break is a blank. */
function spaced(text: string): string {
  return text.replaceAll(/\s+/g, ' ').trim()
}
