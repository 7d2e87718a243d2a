// Of readTriageWeeks; by triage_decision_time; at most 100000 rows.
export const LIST_TRIAGE_DECISION_BY_PROJECT_AND_FIRST = `SELECT decision, disposition, at_ms, waited_ms, source,
    proposed, chosen, undone_at_ms FROM triage_decision
    WHERE project = @project AND at_ms >= @first ORDER BY at_ms LIMIT 100000`

// Of readTriageWeeks; by item_newest; at most 100000 rows.
export const LIST_ITEM_BY_FIRST_AND_PROJECT = `SELECT created_at_ms, fault, logged_cause, came_from
  FROM item INDEXED BY item_newest WHERE created_at_ms >= @first AND project = @project
  ORDER BY created_at_ms DESC LIMIT 100000`

// Of readPutRight; by journal_put_right; at most 20000 rows.
export const LIST_PUT_RIGHT = `SELECT kind, at_ms, actor, subjects FROM journal INDEXED BY journal_put_right
  WHERE kind IN ('fault-merged', 'fault-unmerged', 'fault-split', 'item-merged', 'item-split') AND at_ms >= @first
  ORDER BY at_ms DESC LIMIT 20000`

// Of readPutRight; by journal_severity_set; at most 20000 rows.
export const LIST_SEVERITY_SET = `SELECT kind, at_ms, actor, subjects FROM journal INDEXED BY journal_severity_set
  WHERE kind = 'item-changed' AND json_extract(body, '$.changes.severity.from') IS NOT NULL AND at_ms >= @first
  ORDER BY at_ms DESC LIMIT 20000`

// Of readRuleFates; by routing_rule_project.
export const LIST_ROUTING_RULE_BY_PROJECT = 'SELECT rule_id, name FROM routing_rule WHERE project = @project ORDER BY position, rule_id'

// Of readRuleFates; by the primary key; at most 500 rows.
export const LIST_JOURNAL_SUBJECT_BY_SUBJECT = `SELECT j.seq, j.body FROM journal_subject s
  JOIN journal j ON j.seq = s.seq WHERE s.subject = @subject AND j.kind = 'item-changed' ORDER BY s.seq DESC LIMIT 500`

// Of readRuleFates; by the primary key; at most 100 rows.
export const LIST_JOURNAL_SUBJECT_BY_SUBJECT_AND_SEQ = `SELECT j.body FROM journal_subject s
  JOIN journal j ON j.seq = s.seq
  WHERE s.subject = @subject AND s.seq > @seq AND j.kind = 'item-changed' AND j.actor LIKE 'person:%'
  ORDER BY s.seq LIMIT 100`
