// Of listPlaceGates; reads the table: a row for each environment that has gates.
export const LIST_PLACE_GATE = 'SELECT environment, gates FROM place_gate ORDER BY environment'

// Of gatesOfPlace; by the primary key; one row.
export const GET_PLACE_GATE = 'SELECT gates FROM place_gate WHERE environment = @environment'

// Of setPlaceGates; by the primary key; one row.
export const HAS_PLACE = 'SELECT 1 FROM environment WHERE name = @environment'

// Of factsOf; environments are a handful: the one before in the order in which releases go through.
export const GET_PLACE_BEFORE = `SELECT b.name FROM environment e JOIN environment b ON b.position < e.position AND b.kind <> 'production'
  WHERE e.name = @environment ORDER BY b.position DESC LIMIT 1`

// Of factsOf; by deployment_place; one row: since when a release ran in a place, and until when, where it does no more.
export const GET_RUN_IN_PLACE = `SELECT min(d.running_at_ms) AS sinceMs,
    (SELECT min(n.running_at_ms) FROM deployment n WHERE n.service = @service AND n.environment = @environment
      AND n.running_at_ms > (SELECT max(running_at_ms) FROM deployment WHERE service = @service AND environment = @environment
        AND release = @release)) AS untilMs
  FROM deployment d WHERE d.service = @service AND d.environment = @environment AND d.release = @release AND d.running_at_ms IS NOT NULL`

// Of factsOf; by the primary key: the minutes since a release began to run there.
export const COUNT_UNITS_IN_PLACE = `SELECT coalesce(sum(count), 0) AS count FROM activity_minute
  WHERE service = @service AND minute >= @fromMinute AND release = @release AND environment = @environment`

// Of factsOf; the faults of a service that nobody had seen before this release failed there.
export const COUNT_NEW_FAULTS_IN_PLACE = `SELECT count(*) AS count FROM fault_group g
    JOIN fault_release r ON r.fingerprint = g.fingerprint AND r.release = @release AND r.environment = @environment
    WHERE g.service = @service AND NOT EXISTS (SELECT 1 FROM fault_release e
      WHERE e.fingerprint = g.fingerprint AND e.first_at_ms < r.first_at_ms)`

// Of factsOf; by the primary key; one row.
export const GET_PROJECT_OF_SERVICE = 'SELECT project FROM service WHERE name = @service'

// Of runningIn; by deployment_place; one row: what runs there now.
export const GET_RUNNING_IN_PLACE = `SELECT r.name, r.sha FROM deployment d JOIN release r ON r.service = d.service AND r.name = d.release
  WHERE d.service = @service AND d.environment = @environment AND d.state = 'running' ORDER BY d.running_at_ms DESC LIMIT 1`

// Of factsOf; by the primary key: those of one deployment.
export const LIST_AGREEMENT_OF_DEPLOYMENT = 'SELECT person_id AS personId FROM deployment_agreement WHERE deployment_id = @deploymentId'

// Of factsOf; by the primary key: those of one deployment.
export const LIST_CHECK_OF_DEPLOYMENT = 'SELECT words FROM deployment_check WHERE deployment_id = @deploymentId'

// Of passOf; by the primary key; one row.
export const GET_PASS = 'SELECT why, by, unmet FROM deployment_pass WHERE deployment_id = @deploymentId'
