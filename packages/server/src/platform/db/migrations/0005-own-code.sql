-- What of a repository a service is built from, and what people say of whose code it is: paths and packages, as JSON lists.
ALTER TABLE service ADD COLUMN path_prefix TEXT NOT NULL DEFAULT '';
ALTER TABLE service ADD COLUMN own_code TEXT NOT NULL DEFAULT '[]';
ALTER TABLE service ADD COLUMN foreign_code TEXT NOT NULL DEFAULT '[]';
-- The fault that another went into first: that one may have gone into a third since.
ALTER TABLE fault ADD COLUMN merged_via INTEGER;
UPDATE fault SET merged_via = merged_into WHERE merged_into IS NOT NULL;
-- What is taken out of everything received, beyond the rules that are always there: texts by a pattern, attributes by their names.
CREATE TABLE scrub_rule (rule_id TEXT PRIMARY KEY, kind TEXT NOT NULL, pattern TEXT NOT NULL, name TEXT NOT NULL) STRICT, WITHOUT ROWID;
-- Which folders a change touches, asked by the change.
CREATE INDEX git_commit_patch ON git_commit (repository, patch_id) WHERE patch_id IS NOT NULL;
