-- What is counted again and again is counted from an index alone: the columns that a condition names stand in it, too, since SQLite asks for
-- them also where the index has only rows that meet it.
DROP INDEX item_open;
CREATE INDEX item_open ON item (is_open, is_archived, is_confidential, project);
DROP INDEX item_component_severity;
CREATE INDEX item_component_severity ON item (component, severity, accepted_at_ms)
  WHERE accepted_at_ms IS NOT NULL AND severity IS NOT NULL AND component IS NOT NULL;
CREATE INDEX item_sprint_name ON item (project, sprint) WHERE sprint IS NOT NULL;
