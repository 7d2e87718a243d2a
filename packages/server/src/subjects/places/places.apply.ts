import type { PlacesEvents } from '@dystracer/core/places/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of places stand in the tables. */
export const placesAppliers: Appliers<PlacesEvents> = {
  'place-gates-set': (db, { body: { environment, gates } }) => {
    sql(db, 'DELETE FROM place_gate WHERE environment = @environment').run({ environment })
    if (gates.length > 0)
      sql(db, 'INSERT INTO place_gate (environment, gates) VALUES (@environment, @gates)').run({
        environment,
        gates: JSON.stringify(gates),
      })
  },
  'deployment-agreed': (db, { body: { deploymentId, isOn }, actor, atMs }) => {
    const of = { deploymentId, personId: actor.replace(/^person:/, '') }
    if (isOn)
      sql(db, 'INSERT OR REPLACE INTO deployment_agreement (deployment_id, person_id, at_ms) VALUES (@deploymentId, @personId, @atMs)').run(
        { ...of, atMs },
      )
    else sql(db, 'DELETE FROM deployment_agreement WHERE deployment_id = @deploymentId AND person_id = @personId').run(of)
  },
  'deployment-checked': (db, { body: { deploymentId, words, isOn }, actor, atMs }) => {
    if (isOn)
      sql(db, 'INSERT OR REPLACE INTO deployment_check (deployment_id, words, by, at_ms) VALUES (@deploymentId, @words, @by, @atMs)').run({
        deploymentId,
        words,
        by: actor,
        atMs,
      })
    else sql(db, 'DELETE FROM deployment_check WHERE deployment_id = @deploymentId AND words = @words').run({ deploymentId, words })
  },
  'place-gates-passed-over': (db, { body: { deploymentId, why, unmet }, actor, atMs }) => {
    sql(
      db,
      'INSERT OR REPLACE INTO deployment_pass (deployment_id, why, unmet, by, at_ms) VALUES (@deploymentId, @why, @unmet, @by, @atMs)',
    ).run({ deploymentId, why, unmet: JSON.stringify(unmet), by: actor, atMs })
  },
}
