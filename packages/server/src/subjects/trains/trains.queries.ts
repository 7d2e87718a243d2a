// Of listTrains; by the primary key: those of a project.
export const LIST_TRAIN = 'SELECT * FROM train WHERE project = @project ORDER BY at_ms DESC, train_id LIMIT 500'

// Of requireTrain; by the primary key; one row.
export const GET_TRAIN = 'SELECT * FROM train WHERE project = @project AND train_id = @trainId'

// Of lookAtTrains and trainsWaitingFor; by train_open: tens of rows.
export const LIST_OPEN_TRAIN = `SELECT * FROM train INDEXED BY train_open WHERE called_off_at_ms IS NULL AND waits_for <> '' ORDER BY at_ms`

// Of requireKnown; by the primary key: the services of a project.
export const LIST_SERVICE_OF_PROJECT = 'SELECT name FROM service WHERE project = @project'

// Of listTrains and readTrain; by deployment_place: where each release of a service ran in production.
export const WAS_IN_PRODUCTION = `SELECT 1 FROM deployment d JOIN environment e ON e.name = d.environment AND e.kind = 'production'
  WHERE d.service = @service AND d.release = @release AND d.running_at_ms IS NOT NULL LIMIT 1`

// Of carOf; by deployment_place; one row: what runs in production.
export const GET_RELEASE_IN_PRODUCTION = `SELECT r.name, r.sha FROM deployment d JOIN environment e ON e.name = d.environment
    AND e.kind = 'production' JOIN release r ON r.service = d.service AND r.name = d.release
  WHERE d.service = @service AND d.state = 'running' ORDER BY e.position DESC, d.running_at_ms DESC LIMIT 1`

// Of carOf; by the primary key; one row.
export const GET_RELEASE_OF_CAR = `SELECT r.sha, s.repository, (SELECT w.why FROM withdrawn_release w
    WHERE w.service = r.service AND w.release = r.name) AS withdrawnWhy
  FROM release r JOIN service s ON s.name = r.service WHERE r.service = @service AND r.name = @release`
