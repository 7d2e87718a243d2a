// Of listMoments; by the primary keys of journal_subject and journal; 200 rows.
export const LIST_MOMENT_OF_RELEASES = `SELECT r.service || ' ' || r.name AS name, r.service || char(64) || r.name AS id,
    (SELECT j.recorded_at_ms FROM journal_subject e JOIN journal j ON j.seq = e.seq
      WHERE e.subject = 'release:' || r.service || char(64) || r.name ORDER BY e.seq LIMIT 1) AS atMs
  FROM release r ORDER BY r.at_ms DESC LIMIT 200`

// Of listMoments; reads the table, which holds tens of rows.
export const LIST_MOMENT_OF_BASELINES = 'SELECT name, project, at_ms AS atMs FROM baseline ORDER BY at_ms DESC LIMIT 100'

// Of listMoments; reads the table, which holds tens of rows.
export const LIST_MOMENT_OF_INCIDENTS = `SELECT number || ': ' || title AS name, project, started_at_ms AS atMs FROM incident
  ORDER BY started_at_ms DESC LIMIT 100`

// Of listMoments; by the primary key; one row.
export const GET_FIRST_ENTRY = 'SELECT recorded_at_ms AS atMs FROM journal ORDER BY seq LIMIT 1'

// Of listLateFacts; by the primary key, from the moment on.
export const LIST_LATE_ENTRY = `SELECT seq, kind, subjects, at_ms AS atMs, recorded_at_ms AS knownAtMs FROM journal
  WHERE seq > @afterSeq AND recorded_at_ms > @atMs AND at_ms <= @atMs ORDER BY seq LIMIT @limit`
