/** One row of `hook`. */
export interface HookRow {
  hookId: string
  project: string
  name: string
  proof: string
  readings: string
}

const COLUMNS = 'hook_id AS hookId, project, name, proof, readings'

// Of hookOf; by the primary key; one row.
export const GET_HOOK = `SELECT ${COLUMNS} FROM hook WHERE hook_id = @hookId`

// Of listHooks; by hook_project; tens of rows.
export const LIST_HOOKS = `SELECT ${COLUMNS} FROM hook WHERE project = @project ORDER BY name LIMIT 200`

// Of listHooks; by delivery_sender; one row.
export const COUNT_MESSAGES = 'SELECT count(*) AS messages, max(at_ms) AS lastAtMs FROM delivery WHERE sender = @sender'

// Of messagesOf; by delivery_sender; at most @limit rows.
export const LIST_MESSAGES = `SELECT delivery_id AS deliveryId, at_ms AS atMs, outcome, why, data FROM delivery
  WHERE sender = @sender ORDER BY delivery_id DESC LIMIT @limit`
