import { Problem } from '@dystracer/core/basics/problem'
import type { ReportState } from '@dystracer/core/incoming/wire'
import { sql } from '#platform/db/statements'
import { STRANGER } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { readReportToken } from '#subjects/inbox/index'
import { getItem, type ItemRow } from '#subjects/records/index'
import { addComment } from '#subjects/talk/index'
import { readStand } from '#subjects/triage/index'
import { GET_INTO_KEY_OF_ITEM_MERGE_BY_KEY, GET_ITEM_BY_KEY } from './report-link.queries.js'

const ANSWERS_MAX = 50
type State = ReportState['state']
const STATE_BY_STAGE: Record<ItemRow['stage'], State> = {
  logged: 'waits',
  accepted: 'accepted',
  underway: 'underway',
  'in-review': 'underway',
  merged: 'fixed',
  released: 'released',
  verified: 'verified',
}

function requireReport(ctx: ServiceContext, token: string): { row: ItemRow; cameFrom: string } {
  const opened = readReportToken(ctx, token)
  const row = opened && getItem(ctx.db, opened.key)
  if (!opened || !row) throw new Problem('not-found', { detail: 'This link opens no report. Check that it is complete.' })
  return { row, cameFrom: opened.cameFrom }
}

/** What became of a report, for the reporter without an account who holds its private link. Nothing else of the item is told. */
export function readReport(ctx: ServiceContext, token: string): ReportState {
  const { row, cameFrom } = requireReport(ctx, token)
  const stand = readStand(ctx, row.key)
  const isAsked = stand.asked_until_ms !== null && stand.asked_until_ms > ctx.nowMs()
  const into = sql(ctx.db, GET_INTO_KEY_OF_ITEM_MERGE_BY_KEY).get<{ into_key: string }>({ key: row.key })?.into_key
  const target = into === undefined ? undefined : getItem(ctx.db, into)
  return {
    title: row.title,
    reportedAtMs: row.created_at_ms,
    state: stateOf(row, isAsked),
    disposition: row.disposition,
    words: wordsTo(ctx, row, isAsked),
    sameAsState: target && target.is_confidential === 0 ? stateOf(target, false) : null,
    answers: sql(
      ctx.db,
      `SELECT text, at_ms AS atMs FROM comment WHERE item_key = @key AND from_address = @cameFrom ORDER BY at_ms LIMIT ${ANSWERS_MAX}`,
    ).all<{ text: string; atMs: number }>({ key: row.key, cameFrom }),
  }
}

function stateOf(row: ItemRow, isAsked: boolean): State {
  if (row.disposition === 'duplicate') return 'same-as'
  if (row.disposition !== null) return 'rejected'
  if (row.has_come_back === 1) return 'came-back'
  return isAsked ? 'asked' : STATE_BY_STAGE[row.stage]
}

function wordsTo(ctx: ServiceContext, row: ItemRow, isAsked: boolean): string {
  const words = sql(ctx.db, GET_ITEM_BY_KEY).get<{
    asked_words: string | null
    disposed_words: string | null
  }>({ key: row.key })
  return (row.disposition !== null ? words?.disposed_words : isAsked ? words?.asked_words : null) ?? ''
}

/** The reporter's answer by the private link: a comment from their address, after which the item waits for a decision again. */
export function answerReport(ctx: ServiceContext, token: string, text: string): void {
  const { row, cameFrom } = requireReport(ctx, token)
  addComment(ctx, STRANGER, row.key, { text, from: cameFrom })
}
