import type { QualityEvents } from '@dystracer/core/quality/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of quality rules stand in the tables. */
export const qualityAppliers: Appliers<QualityEvents> = {
  'quality-rules-set': (db, { body: { project, rules } }) => {
    sql(
      db,
      `INSERT INTO quality_rule_set (project, rules) VALUES (@project, @rules)
        ON CONFLICT (project) DO UPDATE SET rules = excluded.rules`,
    ).run({ project, rules: JSON.stringify(rules) })
  },
  'quality-rule-fired': (db, { body, atMs }) => {
    sql(
      db,
      `INSERT INTO quality_firing (firing_id, project, rule_id, about, identity, what, place, key, outcome, at_ms)
        VALUES (@firingId, @project, @ruleId, @about, @identity, @what, @place, @key, @outcome, @atMs)`,
    ).run({ ...body, atMs })
  },
}
