// Of readFaultCauses; by the primary key; one row.
export const GET_FIRST_SEEN =
  "SELECT release, environment, first_at_ms AS atMs FROM fault_release WHERE fingerprint = @fingerprint AND release <> '' ORDER BY first_at_ms LIMIT 1"

// Of readFaultCauses; by the primary key; one row.
export const GET_RELEASE = 'SELECT name AS release, sha FROM release WHERE service = @service AND name = @release'

// Of readFaultCauses; by deployment_place; one row.
export const GET_LAST_DEPLOYMENT = `SELECT deployment_id AS deploymentId, environment, running_at_ms AS atMs FROM deployment
    WHERE service = @service AND environment = @environment AND release = @release AND running_at_ms <= @atMs ORDER BY running_at_ms DESC LIMIT 1`
