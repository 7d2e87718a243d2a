-- Each line of the audit trail carries a hash over itself and the line before it; what was written earlier is chained at the first
-- start.
ALTER TABLE audit_entry ADD COLUMN chain TEXT;
