// Of requireFaultNumber; by the primary key; one row.
export const GET_FAULT_BY_NUMBER = 'SELECT number, merged_into FROM fault WHERE number = @number'

// Of fingerprintOf; by the primary key; one row.
export const GET_FINGERPRINT_OF_FAULT_BY_NUMBER = 'SELECT fingerprint FROM fault WHERE number = @number'

// Of unmergeFault; by the primary key; one row.
export const GET_FAULT_FOR_UNMERGE_FAULT = 'SELECT number, fingerprint, merged_via, merged_into FROM fault WHERE number = @number'

// Of innerMerges; reads the table.
export const LIST_GONE = `WITH RECURSIVE gone (number) AS
  (SELECT number FROM fault WHERE merged_via = @number UNION SELECT f.number FROM fault f
  JOIN gone g ON f.merged_via = g.number) SELECT number FROM gone ORDER BY number`

// Of itemsBefore; by the primary key; one row.
export const GET_SUBJECTS_OF_JOURNAL_SUBJECT_BY_SUBJECT_AND_NUMBER = `SELECT j.subjects FROM journal_subject s
  JOIN journal j ON j.seq = s.seq
  WHERE s.subject = @subject AND j.kind = 'fault-merged' AND json_extract(j.body, '$.number') = @number
  ORDER BY s.seq DESC LIMIT 1`

// Of placeOccurrence; by a unique key; one row.
export const GET_NUMBER_OF_FAULT_BY_FINGERPRINT = 'SELECT number FROM fault WHERE fingerprint = @fingerprint'

// Of requireOccurrence; by the primary key; one row.
export const HAS_OCCURRENCE_BY_OCCURRENCE_ID_AND_FINGERPRINT =
  'SELECT 1 FROM occurrence WHERE occurrence_id = CAST(@occurrenceId AS INTEGER) AND fingerprint = @fingerprint'

// Of noteMergedGroups; reads the table.
export const LIST_GROUP_ALIAS = 'SELECT fingerprint, into_fingerprint FROM group_alias ORDER BY fingerprint'

// Of noteMergedGroups; by a unique key; one row.
export const GET_FAULT_BY_FINGERPRINT = 'SELECT number, merged_into FROM fault WHERE fingerprint = @fingerprint'

// Of noteMergedGroups; by a unique key; one row.
export const GET_FAULT_FOR_NOTE_MERGED_GROUPS = 'SELECT coalesce(merged_into, number) AS number FROM fault WHERE fingerprint = @fingerprint'

// Of repairMerges; by the primary key.
export const LIST_FAULT = `SELECT f.fingerprint AS "from", m.fingerprint AS "into" FROM fault f JOIN fault m ON m.number = f.merged_into
    WHERE f.merged_into IS NOT NULL ORDER BY f.number`

// Of repairMerges; by the primary key; one row.
export const HAS_GROUP_ALIAS_BY_FROM = 'SELECT 1 FROM group_alias WHERE fingerprint = @from'

// Of itemsOf; by item_fault.
export const LIST_ITEM_BY_FAULT = 'SELECT key FROM item WHERE fault = @fault ORDER BY key'
