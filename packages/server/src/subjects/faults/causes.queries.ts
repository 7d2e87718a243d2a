// Of readFaultCauses; by deployment_place; one row.
export const GET_LAST_DEPLOYMENT = `SELECT deployment_id AS deploymentId, environment, running_at_ms AS atMs FROM deployment
    WHERE service = @service AND environment = @environment AND release = @release AND running_at_ms <= @atMs
      ORDER BY running_at_ms DESC LIMIT 1`
