import type { RoutingEvents } from '@dystracer/core/routing/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of routing stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const routingAppliers: Appliers<RoutingEvents> = {
  'routing-rule-set': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT OR REPLACE INTO routing_rule (rule_id, project, position, name, conditions, sets)
        VALUES (@ruleId, @project, @position, @name, @conditions, @sets)`,
    ).run({ ...body, conditions: JSON.stringify(body.conditions), sets: JSON.stringify(body.sets) })
  },
  'routing-rule-removed': (db, entry) => {
    sql(db, 'DELETE FROM routing_rule WHERE project = @project AND rule_id = @ruleId').run(entry.body)
  },
  'duty-set': (db, entry) => {
    const { project, weekOn, personId } = entry.body
    if (personId === null) sql(db, 'DELETE FROM duty WHERE project = @project AND week_on = @weekOn').run({ project, weekOn })
    else
      sql(db, 'INSERT OR REPLACE INTO duty (project, week_on, person_id) VALUES (@project, @weekOn, @personId)').run({
        project,
        weekOn,
        personId,
      })
  },
}
