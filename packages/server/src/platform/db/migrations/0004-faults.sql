-- Faults that were found to be one: the other goes on under this one's number.
ALTER TABLE fault ADD COLUMN merged_into INTEGER;
CREATE INDEX fault_merged ON fault (merged_into) WHERE merged_into IS NOT NULL;
