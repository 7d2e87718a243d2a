-- Reports for audits that are kept, and how often one is by itself; figures are JSON.
CREATE TABLE audit_schedule (project TEXT PRIMARY KEY, every TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE kept_report (
  project TEXT NOT NULL, at TEXT NOT NULL, words TEXT NOT NULL, by TEXT NOT NULL, figures TEXT NOT NULL, PRIMARY KEY (project, at)
) STRICT, WITHOUT ROWID;
