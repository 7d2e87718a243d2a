-- Whether anybody told of the start or end of a build. Reports alone make a finished one, with the outcome of its cases.
ALTER TABLE build ADD COLUMN is_told INTEGER NOT NULL DEFAULT 1;
WITH told AS (
  SELECT DISTINCT json_extract(body, '$.repository') AS repository, json_extract(body, '$.number') AS number FROM journal WHERE kind IN ('build-started', 'build-finished')
), reported AS (
  SELECT json_extract(body, '$.repository') AS repository, json_extract(body, '$.build') AS number, max(at_ms) AS at_ms FROM journal WHERE kind = 'tests-reported' GROUP BY 1, 2
)
UPDATE build SET is_told = 0, state = CASE WHEN failed > 0 THEN 'broke' ELSE 'passed' END, finished_at_ms = reported.at_ms FROM reported
WHERE reported.repository = build.repository AND reported.number = build.number
  AND NOT EXISTS (SELECT 1 FROM told WHERE told.repository = build.repository AND told.number = build.number);
