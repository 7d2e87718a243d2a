-- What has to hold before a release may come to an environment, as a JSON list; who agreed to a deployment, and what was checked by hand.
CREATE TABLE place_gate (environment TEXT PRIMARY KEY, gates TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE deployment_agreement (deployment_id TEXT NOT NULL, person_id TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (deployment_id, person_id)) STRICT, WITHOUT ROWID;
CREATE TABLE deployment_check (
  deployment_id TEXT NOT NULL, words TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (deployment_id, words)
) STRICT, WITHOUT ROWID;
CREATE TABLE deployment_pass (
  deployment_id TEXT PRIMARY KEY, why TEXT NOT NULL, unmet TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX deployment_waiting ON deployment (environment) WHERE state = 'asked';
