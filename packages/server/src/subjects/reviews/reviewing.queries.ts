import { NAME_OF_BUILD, PULL_REQUEST_COLUMNS } from '#subjects/code/index'

// Of reviewState; by the primary key.
export const LIST_REVIEW_ASKS = `SELECT person_id AS personId, by, at_ms AS atMs FROM review_ask
  WHERE repository = @repository AND number = @number
    ORDER BY at_ms, person_id`

// Of askReview; by the primary key; one row.
export const HAS_REVIEW_ASK = 'SELECT 1 FROM review_ask WHERE repository = @repository AND number = @number AND person_id = @personId'

// Of reviewState; by verdict_pull_request.
export const LIST_VERDICTS = `SELECT person_id AS personId, verdict, words, patches, at_ms AS atMs FROM verdict
    WHERE repository = @repository AND number = @number ORDER BY at_ms, review_id`

// Of reviewState; by remark_pull_request; at most 2000 rows.
export const LIST_REMARKS = `SELECT remark_id, reply_to, person_id, path, line, last_line, side, sha, text, instead, at_ms,
    settled_by, settled_at_ms FROM remark
    WHERE repository = @repository AND number = @number ORDER BY at_ms, path, line, remark_id LIMIT 2000`

// Of settleRemark and makeRemark; by the primary key; one row.
export const GET_REMARK = `SELECT remark_id, reply_to, person_id, settled_at_ms FROM remark
    WHERE remark_id = @remarkId AND repository = @repository AND number = @number`

// Of reviewState; by the primary key; one row.
export const GET_MERGE_WISH = 'SELECT by, method, at_ms AS atMs FROM merge_wish WHERE repository = @repository AND number = @number'

// Of startMerging; by the primary key; all wishes of a repository.
export const LIST_MERGE_WISHES = 'SELECT number, by, method FROM merge_wish WHERE repository = @repository ORDER BY at_ms, number'

// Of startMerging; by the primary key of the wishes, for each repository; few are wanted at any moment.
export const LIST_REPOSITORIES_WITH_WISHES =
  'SELECT r.name AS repository FROM repository r WHERE EXISTS (SELECT 1 FROM merge_wish w WHERE w.repository = r.name)'

// Of listReviewerProposals; by commit_path's primary key; the newest 3,000 commits of the paths.
export const LIST_WORK_ON_PATHS = `SELECT coalesce(known.person_id, more.person_id, '') AS author, c.committed_at_ms AS atMs
    FROM json_each(@paths) f
    CROSS JOIN commit_path p ON p.repository = @repository AND p.path = f.value
    CROSS JOIN git_commit c ON c.repository = p.repository AND c.sha = p.sha AND json_array_length(c.parents) < 2
    LEFT JOIN person known ON known.email = c.author_email
    LEFT JOIN person_address more ON more.email = c.author_email AND more.confirmed_at_ms IS NOT NULL
    ORDER BY p.committed_at_ms DESC LIMIT 3000`

// Of listReviewerProposals; reads the asks that stand, of open pull requests alone.
export const LIST_WAITING_REVIEWS = `SELECT a.person_id AS personId, count(*) AS count FROM pull_request p
    CROSS JOIN review_ask a ON a.repository = p.repository AND a.number = p.number
    WHERE p.state = 'open' GROUP BY a.person_id`

// Of tryMergeGates; by the primary key, from the newest back; at most 60 rows.
export const LIST_MERGED_PULL_REQUEST = `SELECT ${PULL_REQUEST_COLUMNS} FROM pull_request
    WHERE repository = @repository AND state = 'merged' ORDER BY number DESC LIMIT 60` as const

// Of tryMergeGates; by link_to.
export const LIST_BROUGHT_IN_BY_COMMITS = `SELECT DISTINCT l.from_id AS key FROM json_each(@ids) c
    CROSS JOIN link_assertion l ON l.to_kind = 'commit' AND l.to_id = c.value AND l.kind = 'brought-in-by'
    WHERE l.from_kind = 'item' AND l.retracted_at_ms IS NULL`

// Of readRepositoryGates; by the primary key.
export const LIST_MERGE_GATE_RULES = 'SELECT branches, gates FROM merge_gate_rule WHERE repository = @repository ORDER BY branches'

// Of gatesOf; by remark_pull_request.
export const COUNT_OPEN_REMARKS = `SELECT count(*) AS count FROM remark
    WHERE repository = @repository AND number = @number AND reply_to IS NULL AND settled_at_ms IS NULL`

// Of gatesOf; by link_from and the primary key.
export const COUNT_SUSPECTS_OF_ITEMS = `SELECT count(DISTINCT l.link_id) AS count FROM json_each(@items) i
    CROSS JOIN link_assertion l ON l.from_kind = 'item' AND l.from_id = i.value AND l.to_kind = 'requirement' AND l.retracted_at_ms IS NULL
    CROSS JOIN requirement r ON r.key = l.to_id WHERE l.target_revision < r.revision`

// Of gatesOf; by time_entry_item.
export const SUM_TIME_OF_ITEMS = `SELECT sum(t.minutes) AS minutes FROM json_each(@items) i
    CROSS JOIN time_entry t ON t.item_key = i.value WHERE t.taken_back_at_ms IS NULL`

// Of gatesOf; by the primary key, from the newest back; one row.
export const GET_BROKEN_BASE = `SELECT number, state, failed FROM build
    WHERE repository = @repository AND branch = @branch AND finished_at_ms IS NOT NULL ORDER BY number DESC LIMIT 1`

// Of reviewState; reads the members of the projects that use the repository.
export const LIST_MEMBERS_OF_PROJECTS = `SELECT DISTINCT p.person_id AS personId, p.name, p.email FROM membership m
    JOIN person p ON p.person_id = m.person_id
    WHERE m.project IN (SELECT value FROM json_each(@projects)) AND m.role <> 'reader' ORDER BY p.name, p.person_id`

// Of requirementsOf; by the index of links from an item; at most 20 rows.
export const LIST_REQUIREMENTS_OF_ITEMS = `SELECT DISTINCT r.key, r.title, r.attributes FROM json_each(@items) i
    CROSS JOIN link_assertion l ON l.from_kind = 'item' AND l.from_id = i.value AND l.to_kind = 'requirement' AND l.retracted_at_ms IS NULL
    JOIN requirement r ON r.key = l.to_id ORDER BY r.key LIMIT 20`

// Of happenedTo; by journal_subject; at most 40 rows.
export const LIST_ENTRIES_OF_PULL_REQUEST = `SELECT j.seq, j.kind, j.at_ms AS atMs, j.actor, j.body
    FROM journal_subject s JOIN journal j ON j.seq = s.seq
    WHERE s.subject = @subject ORDER BY s.seq DESC LIMIT 40`

// Of readChangedCoverage; by the index of builds by commit; one row.
export const GET_MEASURED_BUILD = `SELECT b.number FROM build b WHERE b.repository = @repository AND b.sha = @sha
    AND EXISTS (SELECT 1 FROM coverage c WHERE c.repository = b.repository AND c.build = b.number) ORDER BY b.number DESC LIMIT 1`

// Of readChangedCoverage; by the primary key, for each path.
export const LIST_COVERAGE_OF_PATHS = `SELECT c.path, c.covered, c.missed FROM json_each(@paths) p
    CROSS JOIN coverage c ON c.repository = @repository AND c.build = @build AND c.path = p.value ORDER BY c.path`

// Of reactionsTo; by the primary key.
export const LIST_REACTIONS = `SELECT r.remark_id AS remarkId, r.reaction, r.person_id AS personId FROM json_each(@remarkIds) j
  JOIN remark_reaction r ON r.remark_id = j.value ORDER BY r.reaction, r.person_id`

// Of trialWords and the queue; by the primary key, its build by the index of builds by commit; one row.
export const GET_MERGE_TRIAL = `SELECT t.on_sha AS "on", t.head_sha AS headSha, t.sha, t.branch, t.method, t.ahead, b.state,
    ${NAME_OF_BUILD} AS build
    FROM merge_trial t LEFT JOIN build b ON b.repository = t.repository AND b.number = (SELECT max(l.number) FROM build l
      WHERE l.repository = t.repository AND l.sha = t.sha)
    WHERE t.repository = @repository AND t.number = @number`

// Of the queue; by the primary key; few are tried at any moment.
export const LIST_MERGE_TRIAL = 'SELECT number, sha, branch FROM merge_trial WHERE repository = @repository ORDER BY number'
