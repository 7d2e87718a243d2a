// Of readFaultCauses; by deployment_place; one row.
export const GET_LAST_DEPLOYMENT = `SELECT deployment_id AS deploymentId, environment, running_at_ms AS atMs FROM deployment
    WHERE service = @service AND environment = @environment AND release = @release AND running_at_ms <= @atMs
      ORDER BY running_at_ms DESC LIMIT 1`

// Of likelyRequirement; by the primary keys: which of some requirements stand, and are of a project.
export const LIST_STANDING_REQUIREMENT = `SELECT r.key FROM json_each(@keys) k JOIN requirement r ON r.key = k.value
  JOIN key_prefix p ON p.prefix = substr(r.key, 1, instr(r.key, '-') - 1) AND p.project = @project
  WHERE r.retired_at_ms IS NULL AND r.is_heading = 0`
