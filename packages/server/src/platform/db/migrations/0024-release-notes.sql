-- Words of people in the notes of a release: the key of an item, or empty for those at the beginning.
CREATE TABLE release_note (
  service TEXT NOT NULL, release TEXT NOT NULL, reader TEXT NOT NULL, key TEXT NOT NULL, text TEXT NOT NULL, PRIMARY KEY (service, release, reader, key)
) STRICT, WITHOUT ROWID;
-- Why a deployment failed, in the deployer's words.
ALTER TABLE deployment ADD COLUMN why TEXT;
UPDATE deployment SET why = (
  SELECT json_extract(j.body, '$.why') FROM journal j WHERE j.kind = 'deployment-failed' AND json_extract(j.body, '$.deploymentId') = deployment.deployment_id ORDER BY j.seq DESC LIMIT 1
) WHERE deployment_id IN (SELECT json_extract(body, '$.deploymentId') FROM journal WHERE kind = 'deployment-failed');
