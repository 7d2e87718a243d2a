import type { SetupEvents } from '@dystracer/core/setup/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of setup stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const setupAppliers: Appliers<SetupEvents> = {
  'project-renamed': (db, entry) => {
    sql(db, 'UPDATE project SET name = @name WHERE prefix = @project').run(entry.body)
  },
  'project-created': (db, entry) => {
    const body = entry.body
    sql(db, 'INSERT INTO project (prefix, name, silence_ms) VALUES (@prefix, @name, @silenceMs)').run(body)
    const insert = sql(db, 'INSERT INTO key_prefix (prefix, kind, project) VALUES (@prefix, @kind, @project)')
    insert.run({ prefix: body.prefix, kind: 'item', project: body.prefix })
    for (const prefix of body.requirementPrefixes) insert.run({ prefix, kind: 'requirement', project: body.prefix })
  },
  'prefix-taken': (db, entry) => {
    sql(db, 'INSERT INTO key_prefix (prefix, kind, project) VALUES (@prefix, @kind, @project)').run(entry.body)
  },
  'component-added': (db, entry) => {
    sql(
      db,
      `INSERT INTO component (project, name, keeper_id, repository, path_prefix)
        VALUES (@project, @name, @keeperId, @repository, @pathPrefix)
        ON CONFLICT (project, name) DO UPDATE SET keeper_id = excluded.keeper_id, repository = excluded.repository,
          path_prefix = excluded.path_prefix`,
    ).run(entry.body)
  },
  'component-removed': (db, entry) => {
    sql(db, 'DELETE FROM component WHERE project = @project AND name = @name').run(entry.body)
  },
  'type-defined': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT OR REPLACE INTO item_type (project, type, is_defect, position, fields, template)
        VALUES (@project, @type, @isDefect, @position, @fields, @template)`,
    ).run({
      project: body.project,
      type: body.type,
      isDefect: Number(body.isDefect),
      position: body.position,
      fields: JSON.stringify(body.fields),
      template: JSON.stringify(body.template),
    })
  },
  'own-field-defined': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT OR REPLACE INTO own_field (project, field_id, name, kind, choices, types, colour, position)
        VALUES (@project, @fieldId, @name, @kind, @choices, @types, @colour, @position)`,
    ).run({ ...body, choices: JSON.stringify(body.choices), types: JSON.stringify(body.types) })
  },
  'type-removed': (db, entry) => {
    sql(db, 'DELETE FROM item_type WHERE project = @project AND type = @type').run(entry.body)
  },
  'own-field-removed': (db, entry) => {
    sql(db, 'DELETE FROM own_field WHERE project = @project AND field_id = @fieldId').run(entry.body)
  },
  'own-fields-ordered': (db, entry) => {
    const { project, fieldIds } = entry.body
    for (const [position, fieldId] of fieldIds.entries())
      sql(db, 'UPDATE own_field SET position = @position WHERE project = @project AND field_id = @fieldId').run({
        project,
        fieldId,
        position,
      })
  },
  'milestone-set': (db, entry) => {
    const { formerName, ...body } = entry.body
    if (formerName !== undefined) {
      sql(db, 'DELETE FROM milestone WHERE project = @project AND name = @formerName').run({ project: body.project, formerName })
      sql(db, 'UPDATE item SET milestone = @name WHERE project = @project AND milestone = @formerName').run({
        project: body.project,
        name: body.name,
        formerName,
      })
    }
    sql(
      db,
      `INSERT OR REPLACE INTO milestone (project, name, starts_on, due_on, is_closed)
        VALUES (@project, @name, @startsOn, @dueOn, @isClosed)`,
    ).run({ ...body, isClosed: Number(body.isClosed) })
  },
  'milestone-removed': (db, entry) => {
    sql(db, 'DELETE FROM milestone WHERE project = @project AND name = @name').run(entry.body)
  },
  'label-coloured': (db, entry) => {
    sql(db, 'INSERT OR REPLACE INTO label_colour (project, label, colour) VALUES (@project, @label, @colour)').run(entry.body)
  },
  'stage-rule-set': (db, entry) => {
    const { project, stage, needs } = entry.body
    sql(db, 'INSERT OR REPLACE INTO stage_rule (project, stage, needs) VALUES (@project, @stage, @needs)').run({
      project,
      stage,
      needs: JSON.stringify(needs),
    })
  },
  'setting-changed': (db, entry) => {
    sql(db, 'INSERT OR REPLACE INTO project_setting (project, name, value) VALUES (@project, @name, @value)').run(entry.body)
  },
}
