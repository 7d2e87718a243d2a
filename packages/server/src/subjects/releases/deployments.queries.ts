// Of askDeployment; by the primary key; one row.
export const GET_SHA_OF_RELEASE_BY_SERVICE_AND_RELEASE = 'SELECT sha FROM release WHERE service = @service AND name = @release'

// Of askDeployment; by the primary key; one row.
export const GET_NEEDS_APPROVAL_OF_ENVIRONMENT_BY_ENVIRONMENT = 'SELECT needs_approval FROM environment WHERE name = @environment'

// Of askDeployment; by deployment_place; one row.
export const GET_DEPLOYMENT_BY_SERVICE_AND_ENVIRONMENT = `SELECT deployment_id, state FROM deployment
  WHERE service = @service AND environment = @environment AND release = @release AND state IN ('asked', 'approved')`

// Of gatesOf; environments are a handful.
export const HAS_STAGING = `SELECT 1 FROM environment WHERE kind = 'staging' LIMIT 1`

// Of gatesOf; by deployment_place and the primary key; one row.
export const HAS_DEPLOYMENT_BY_SERVICE_AND_RELEASE = `SELECT 1 FROM deployment d
  JOIN environment e ON e.name = d.environment AND e.kind = 'staging'
  WHERE d.service = @service AND d.release = @release AND d.running_at_ms IS NOT NULL`

// Of serviceOfDeployment; by the primary key; one row.
export const GET_SERVICE_OF_DEPLOYMENT_BY_DEPLOYMENT_ID = 'SELECT service FROM deployment WHERE deployment_id = @deploymentId'

// Of getDeployment; by the primary key; one row.
export const GET_DEPLOYMENT_BY_DEPLOYMENT_ID = `SELECT d.deployment_id, d.service, d.release, d.environment, d.state,
    s.repository, r.tag, r.sha, e.needs_approval FROM deployment d
    JOIN service s ON s.name = d.service JOIN release r ON r.service = d.service AND r.name = d.release
      JOIN environment e ON e.name = d.environment WHERE d.deployment_id = @deploymentId`

// Of seeDeployment; by the primary key; one row.
export const GET_REPOSITORY_OF_SERVICE_BY_SERVICE = 'SELECT repository FROM service WHERE name = @service'

// Of seeDeployment; by the primary key; one row.
export const HAS_ENVIRONMENT_BY_NAME = 'SELECT 1 FROM environment WHERE name = @name'

// Of letOutWhatMay; by deployment_waiting: what waits for the gates of a place in which nobody has to approve.
export const LIST_WAITING_FOR_GATES = `SELECT d.deployment_id FROM deployment d INDEXED BY deployment_waiting
  JOIN environment e ON e.name = d.environment AND e.needs_approval = 0 JOIN place_gate g ON g.environment = d.environment
  WHERE d.state = 'asked' ORDER BY d.at_ms`
