-- The charts that a project pinned, in their order.
CREATE TABLE pinned_charts (project TEXT PRIMARY KEY, charts TEXT NOT NULL) STRICT, WITHOUT ROWID;
