-- What happened around an error: spans and plain log records of traces in which something failed. Others are never written.
CREATE TABLE trail_record (
  trace_id TEXT NOT NULL, mark TEXT NOT NULL, kind TEXT NOT NULL, service TEXT NOT NULL, parent TEXT, at_ms INTEGER NOT NULL, end_ms INTEGER,
  severity_number INTEGER NOT NULL, name TEXT NOT NULL, detail TEXT NOT NULL, received_at_ms INTEGER NOT NULL, PRIMARY KEY (trace_id, mark)
) STRICT, WITHOUT ROWID;
CREATE INDEX trail_record_arrival ON trail_record (received_at_ms);
