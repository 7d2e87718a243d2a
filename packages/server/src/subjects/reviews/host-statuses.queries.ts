import { PULL_REQUEST_COLUMNS } from '#subjects/code/index'

// Of startTellingHosts; reads the table, a row for each repository.
export const LIST_CONNECTED_REPOSITORIES = 'SELECT name FROM repository WHERE disconnected_at_ms IS NULL'

// Of tellOfRepository; by the primary key; the newest of those that are open, and what was told of others before they ended.
export const LIST_PULL_REQUESTS_TO_TELL_OF = `SELECT ${PULL_REQUEST_COLUMNS} FROM pull_request
  WHERE repository = @repository AND is_ours = 0 AND (state = 'open'
    OR EXISTS (SELECT 1 FROM told_status t WHERE t.repository = pull_request.repository AND t.number = pull_request.number
      AND (t.trouble IS NOT NULL OR json_extract(nullif(t.told, ''), '$.state') <> 'over')))
  ORDER BY number DESC LIMIT 500` as const

// Of tellOfRepository and hostStatusOf; by the primary key; one row.
export const GET_TOLD_STATUS = 'SELECT told, at_ms AS atMs, trouble FROM told_status WHERE repository = @repository AND number = @number'

// Of tellOfRepository.
export const SET_TOLD_STATUS = `INSERT INTO told_status (repository, number, told, at_ms, trouble)
  VALUES (@repository, @number, @told, @atMs, NULL)
  ON CONFLICT DO UPDATE SET told = excluded.told, at_ms = excluded.at_ms, trouble = NULL`

// Of tellOfRepository; what was told before stays, for that is what the host shows.
export const SET_TROUBLE_OF_TOLD_STATUS = `INSERT INTO told_status (repository, number, told, at_ms, trouble)
  VALUES (@repository, @number, '', @atMs, @trouble)
  ON CONFLICT DO UPDATE SET at_ms = excluded.at_ms, trouble = excluded.trouble`
