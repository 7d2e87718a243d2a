-- What people put right of what was found by itself, by time: the weekly look counts it.
CREATE INDEX journal_put_right ON journal (at_ms)
  WHERE kind IN ('fault-merged', 'fault-unmerged', 'fault-split', 'item-merged', 'item-split');
CREATE INDEX journal_severity_set ON journal (at_ms) WHERE kind = 'item-changed' AND json_extract(body, '$.changes.severity.from') IS NOT NULL;
