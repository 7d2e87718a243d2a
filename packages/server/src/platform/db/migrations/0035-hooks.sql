-- Ways in for programs that send plain JSON in shapes of their own, with how their messages are read.
CREATE TABLE hook (
  hook_id TEXT PRIMARY KEY, project TEXT NOT NULL, name TEXT NOT NULL, proof TEXT NOT NULL, readings TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX hook_project ON hook (project, name);
-- The newest messages are kept for each sender.
CREATE INDEX delivery_sender ON delivery (sender, delivery_id);
