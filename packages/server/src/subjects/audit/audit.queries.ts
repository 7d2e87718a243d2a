const COLUMNS = 'audit_id AS auditId, at_ms AS atMs, kind, actor, about, place, facts'

// Of noteAudit.
export const INSERT_AUDIT_ENTRY = `INSERT INTO audit_entry (at_ms, kind, actor, about, place, facts, chain)
  VALUES (@atMs, @kind, @actor, @about, @place, @facts, @chain)`

// Of noteInOlderState: its table has no hashes yet.
export const INSERT_AUDIT_ENTRY_UNCHAINED = `INSERT INTO audit_entry (at_ms, kind, actor, about, place, facts)
  VALUES (@atMs, @kind, @actor, @about, @place, @facts)`

// Of noteAudit; by the primary key; one row.
export const GET_NEWEST_CHAIN = 'SELECT chain FROM audit_entry WHERE audit_id = (SELECT MAX(audit_id) FROM audit_entry)'

// Of chainOlderAudit; by the primary key; one row.
export const GET_OLDEST_CHAIN = 'SELECT chain FROM audit_entry WHERE audit_id = (SELECT MIN(audit_id) FROM audit_entry)'

// Of chainOlderAudit; by the primary key.
export const UPDATE_AUDIT_CHAIN = 'UPDATE audit_entry SET chain = @chain WHERE audit_id = @auditId'

// Of isTrailChained; one row.
export const HAS_AUDIT_CHAIN = "SELECT 1 FROM pragma_table_info('audit_entry') WHERE name = 'chain'"

// Of findBrokenAudit and chainOlderAudit; by the primary key.
export const LIST_AUDIT_ENTRY_WITH_CHAIN = `SELECT audit_id AS auditId, at_ms AS atMs, kind, actor, about, place, facts, chain
  FROM audit_entry WHERE audit_id > @after ORDER BY audit_id LIMIT @limit`

// Of noteAudit; by the primary key.
export const DELETE_OLD_AUDIT_ENTRIES = 'DELETE FROM audit_entry WHERE audit_id <= (SELECT max(audit_id) FROM audit_entry) - @kept'

// Of listAudit; by the primary key.
export const LIST_AUDIT_ENTRY = `SELECT ${COLUMNS} FROM audit_entry WHERE audit_id < @before AND (@kind IS NULL OR kind = @kind)
  ORDER BY audit_id DESC LIMIT @limit`

// Of auditAsCsv; by the primary key.
export const LIST_AUDIT_ENTRY_AFTER = `SELECT ${COLUMNS} FROM audit_entry WHERE audit_id > @after ORDER BY audit_id LIMIT @limit`
