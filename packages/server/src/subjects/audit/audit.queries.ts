const COLUMNS = 'audit_id AS auditId, at_ms AS atMs, kind, actor, about, place, facts'

// Of noteAudit.
export const INSERT_AUDIT_ENTRY =
  'INSERT INTO audit_entry (at_ms, kind, actor, about, place, facts) VALUES (@nowMs, @kind, @actor, @about, @place, @facts)'

// Of noteAudit; by the primary key.
export const DELETE_OLD_AUDIT_ENTRIES = 'DELETE FROM audit_entry WHERE audit_id <= (SELECT max(audit_id) FROM audit_entry) - @kept'

// Of listAudit; by the primary key.
export const LIST_AUDIT_ENTRY = `SELECT ${COLUMNS} FROM audit_entry WHERE audit_id < @before AND (@kind IS NULL OR kind = @kind)
  ORDER BY audit_id DESC LIMIT @limit`

// Of auditAsCsv; by the primary key.
export const LIST_AUDIT_ENTRY_AFTER = `SELECT ${COLUMNS} FROM audit_entry WHERE audit_id > @after ORDER BY audit_id LIMIT @limit`
