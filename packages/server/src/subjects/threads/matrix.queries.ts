// Of readMatrix; by link_to: what items are tied to the requirements, with whether that was for an older text.
export const LIST_TIED_ITEM = `SELECT l.to_id AS row, l.from_id AS key, l.kind, l.link_id AS linkId, l.target_revision <
  r.revision AS isSuspect,
    i.title, i.stage, i.is_open AS isOpen, i.component FROM json_each(@keys) k
  CROSS JOIN requirement r ON r.key = k.value
  CROSS JOIN link_assertion l ON l.to_kind = 'requirement' AND l.to_id = r.key AND l.from_kind = 'item' AND l.retracted_at_ms IS NULL
  CROSS JOIN item i ON i.key = l.from_id ORDER BY i.created_at_ms, l.from_id, l.link_id`

// Of readMatrix; by a small table: the services of a project.
export const LIST_SERVICE_OF_PROJECT = 'SELECT name, repository FROM service WHERE project = @project ORDER BY name'

// Of readMatrix; by the primary key: releases of a service, the newest.
export const LIST_RELEASE_OF_SERVICE = `SELECT name, sha, at_ms AS atMs FROM release WHERE service = @service
  ORDER BY at_ms DESC, name DESC LIMIT 60`

// Of readMatrix; by link_from: the commits that fix the items.
export const LIST_FIX_OF_ITEMS = `SELECT l.from_id AS key, l.to_id AS id FROM json_each(@keys) k
  CROSS JOIN link_assertion l ON l.from_kind = 'item' AND l.from_id = k.value AND l.to_kind = 'commit' AND l.kind = 'fixes'
    AND l.retracted_at_ms IS NULL`
