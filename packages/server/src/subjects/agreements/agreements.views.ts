import { groupBy } from '@dystracer/core/basics/group-by'
import { Problem } from '@dystracer/core/basics/problem'
import { standingOf, type Agreed } from '@dystracer/core/agreements/standing'
import type { Agreement, AgreementDetail } from '@dystracer/core/agreements/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import {
  GET_AGREEMENT,
  GET_OLDER_TEXT,
  LIST_AGREEMENT,
  LIST_OPEN_AGREEMENT,
  LIST_REMARK,
  LIST_REVISION_OF_KEYS,
  LIST_TEXT_OF_KEYS,
  LIST_VERDICT,
} from './agreements.queries.js'

/** An agreement as its table holds it; keys and people are JSON. */
export interface AgreementRow {
  project: string
  agreement_id: string
  name: string
  words: string
  keys: string
  people: string
  due_on: string | null
  by: string
  at_ms: number
  ended_words: string | null
  ended_by: string | null
  ended_at_ms: number | null
}
interface Text {
  key: string
  title: string
  text: string
  isHeading: number
  revision: number
}
interface RemarkRow {
  remarkId: string
  key: string
  quote: string
  text: string
  revision: number
  by: string
  atMs: number
  settledBy: string | null
}

/** Sets of requirements that people are asked to agree to, the newest first. */
export function listAgreements(ctx: ServiceContext, project: string): Agreement[] {
  return sql(ctx.db, LIST_AGREEMENT)
    .all<AgreementRow>({ project })
    .map((row) => toAgreement(ctx, row).agreement)
}

/** One of them with each requirement. Throws `not-found`. */
export function readAgreement(ctx: ServiceContext, who: Who, project: string, agreementId: string): AgreementDetail {
  const row = requireAgreement(ctx, project, agreementId)
  const { agreement, standing, verdicts, remarks } = toAgreement(ctx, row)
  const texts = textsOf(ctx, row.keys)
  const byKey = groupBy(remarks, ({ key }) => key)
  const mine = new Map(verdicts.filter(({ personId }) => personId === who.personId).map((one) => [one.key, one.revision]))
  return {
    ...agreement,
    keys: JSON.parse(row.keys) as string[],
    rows: standing.rows.flatMap(({ key, ...said }): AgreementDetail['rows'] => {
      const text = texts.get(key)
      if (!text) return []
      const seen = mine.get(key)
      return [
        {
          ...text,
          ...said,
          isHeading: text.isHeading === 1,
          seen: seen === undefined || seen === text.revision ? null : { revision: seen, text: olderText(ctx, key, seen) },
          remarks: (byKey.get(key) ?? []).map(({ key: _, ...remark }) => remark),
        },
      ]
    }),
  }
}

/** What waits for somebody's word: open agreements, with the first requirement that they have not agreed to as it is now. */
export function agreementsWaitingFor(ctx: ServiceContext, personId: string): { agreement: Agreement; key: string; left: number }[] {
  return sql(ctx.db, LIST_OPEN_AGREEMENT)
    .all<AgreementRow>({ personId })
    .flatMap((row) => {
      const { agreement, standing } = toAgreement(ctx, row)
      const left = standing.rows.filter(({ agreedBy }) => !agreedBy.includes(personId))
      const [first] = left
      return first ? [{ agreement, key: first.key, left: left.length }] : []
    })
}

/** Throws `not-found`. */
export function requireAgreement(ctx: ServiceContext, project: string, agreementId: string): AgreementRow {
  const row = sql(ctx.db, GET_AGREEMENT).get<AgreementRow>({ project, agreementId })
  if (!row) throw new Problem('not-found', { detail: 'There is no such agreement in this project.' })
  return row
}

/** The requirements of an agreement that are there, by key. */
export function textsOf(ctx: ServiceContext, keys: string): Map<string, Text> {
  return new Map(
    sql(ctx.db, LIST_TEXT_OF_KEYS)
      .all<Text>({ keys })
      .map((text) => [text.key, text]),
  )
}

function toAgreement(ctx: ServiceContext, row: AgreementRow) {
  const agreementId = row.agreement_id
  const revisions = new Map(
    sql(ctx.db, LIST_REVISION_OF_KEYS)
      .all<{ key: string; revision: number }>({ keys: row.keys })
      .map(({ key, revision }) => [key, revision]),
  )
  const verdicts = sql(ctx.db, LIST_VERDICT).all<Agreed>({ agreementId })
  const remarks = sql(ctx.db, LIST_REMARK).all<RemarkRow>({ agreementId })
  const people = JSON.parse(row.people) as string[]
  const standing = standingOf({ keys: JSON.parse(row.keys) as string[], people, revisions }, verdicts)
  const agreement: Agreement = {
    project: row.project,
    agreementId,
    name: row.name,
    words: row.words,
    by: row.by,
    atMs: row.at_ms,
    dueOn: row.due_on,
    total: standing.rows.length,
    agreed: standing.rows.filter(({ agreedBy }) => agreedBy.length === people.length).length,
    isAgreed: standing.isAgreed,
    people: people.map((personId) => ({ personId, agreed: standing.agreedBy.get(personId) ?? 0 })),
    openRemarks: remarks.filter(({ settledBy }) => settledBy === null).length,
    ended: row.ended_at_ms === null ? null : { words: row.ended_words ?? '', by: row.ended_by ?? '', atMs: row.ended_at_ms },
  }
  return { agreement, standing, verdicts, remarks }
}

function olderText(ctx: ServiceContext, key: string, revision: number): string {
  return sql(ctx.db, GET_OLDER_TEXT).get<{ text: string }>({ key, revision })?.text ?? ''
}
