-- The newest events that came in as webhooks, and what became of each; older ones go.
CREATE TABLE delivery (
  delivery_id INTEGER PRIMARY KEY, at_ms INTEGER NOT NULL, sender TEXT NOT NULL, kind TEXT NOT NULL, data TEXT NOT NULL, outcome TEXT NOT NULL, why TEXT
) STRICT;
