import { STANDS_FOR_FAULT } from './fault-items.queries.js'

// Of itemOf; the newest item that stands for a fault, and what people did with it; one row.
export const GET_ITEM_OF_FAULT =
  `SELECT i.key, i.logged_cause AS loggedCause, i.created_at_ms AS createdAtMs, i.accepted_at_ms AS acceptedAtMs,
    i.stage_rank AS stageRank, i.disposition, i.disposed_words AS disposedWords, i.severity
  FROM item i WHERE ${STANDS_FOR_FAULT} ORDER BY i.created_at_ms DESC, i.key LIMIT 1` as const

// Of itemByKey; by the primary key; one row.
export const GET_ITEM_BY_KEY = `SELECT i.key, i.logged_cause AS loggedCause, i.created_at_ms AS createdAtMs,
    i.accepted_at_ms AS acceptedAtMs,
    i.stage_rank AS stageRank, i.disposition, i.disposed_words AS disposedWords, i.severity FROM item i WHERE i.key = @key`

// Of keysByRules; by rule_firing_fault: items that rules made, or tied, for a fault.
export const LIST_KEY_BY_RULE = `SELECT item_key AS key FROM rule_firing
  WHERE fault = @number AND outcome IN ('logged', 'gathered', 'tied')`

// Of placeOf; by the primary key.
export const LIST_ENVIRONMENT_OF_FAULT =
  'SELECT DISTINCT environment FROM fault_release WHERE fingerprint = @fingerprint ORDER BY environment'
