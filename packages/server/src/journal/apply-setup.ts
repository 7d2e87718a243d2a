import { sql } from '../db/statements.js'
import type { Db } from '../db/open.js'
import type { EventBodies, JournalEntry } from './events.js'

/** Events of what a project consists of: people, components, repositories, services, rules, requirements. False when the kind is another family's. */
export function applySetupEvent(db: Db, entry: JournalEntry): boolean {
  switch (entry.kind) {
    case 'project-created': {
      const body = entry.body as EventBodies['project-created']
      sql(db, 'INSERT INTO project (prefix, name, silence_ms) VALUES (@prefix, @name, @silenceMs)').run(body)
      const insert = sql(db, 'INSERT INTO key_prefix (prefix, kind, project) VALUES (@prefix, @kind, @project)')
      insert.run({ prefix: body.prefix, kind: 'item', project: body.prefix })
      for (const prefix of body.requirementPrefixes) insert.run({ prefix, kind: 'requirement', project: body.prefix })
      return true
    }
    case 'person-added':
      sql(db, 'INSERT INTO person (person_id, name, initials, email) VALUES (@personId, @name, @initials, @email)').run(entry.body)
      return true
    case 'role-given':
      sql(
        db,
        `INSERT INTO membership (project, person_id, role) VALUES (@project, @personId, @role)
        ON CONFLICT (project, person_id) DO UPDATE SET role = excluded.role`,
      ).run(entry.body)
      return true
    case 'component-added':
      sql(
        db,
        `INSERT INTO component (project, name, keeper_id, repository, path_prefix) VALUES (@project, @name, @keeperId, @repository, @pathPrefix)
        ON CONFLICT (project, name) DO UPDATE SET keeper_id = excluded.keeper_id, repository = excluded.repository, path_prefix = excluded.path_prefix`,
      ).run(entry.body)
      return true
    case 'repository-added':
      sql(
        db,
        `INSERT INTO repository (name, url, main_branch) VALUES (@name, @url, @mainBranch)
        ON CONFLICT (name) DO UPDATE SET url = excluded.url, main_branch = excluded.main_branch`,
      ).run(entry.body)
      return true
    case 'service-added':
      sql(
        db,
        'INSERT INTO service (name, project, repository, tag_prefix, path_prefix) VALUES (@name, @project, @repository, @tagPrefix, @pathPrefix)',
      ).run({ pathPrefix: '', ...entry.body })
      return true
    case 'service-changed': {
      const { ownCode, foreignCode, ...body } = entry.body as EventBodies['service-changed']
      sql(
        db,
        `UPDATE service SET repository = @repository, tag_prefix = @tagPrefix, path_prefix = @pathPrefix, own_code = @own, foreign_code = @foreign WHERE name = @name`,
      ).run({ ...body, own: JSON.stringify(ownCode), foreign: JSON.stringify(foreignCode) })
      return true
    }
    case 'scrub-rule-added':
      sql(db, 'INSERT INTO scrub_rule (rule_id, kind, pattern, name) VALUES (@ruleId, @kind, @pattern, @name)').run(entry.body)
      return true
    case 'scrub-rule-removed':
      sql(db, 'DELETE FROM scrub_rule WHERE rule_id = @ruleId').run(entry.body)
      return true
    case 'environment-added': {
      const body = entry.body as EventBodies['environment-added']
      sql(db, 'INSERT INTO environment (name, kind, needs_approval, position) VALUES (@name, @kind, @needsApproval, @position)').run({
        ...body,
        needsApproval: Number(body.needsApproval),
      })
      return true
    }
    case 'rule-added':
      sql(
        db,
        `INSERT INTO intake_rule (rule_id, project, name, environment_kind, severity_at_least, count_at_least, window_ms)
        VALUES (@ruleId, @project, @name, @environmentKind, @severityAtLeast, @countAtLeast, @windowMs)`,
      ).run(entry.body)
      return true
    case 'requirement-written': {
      const body = entry.body as EventBodies['requirement-written']
      sql(
        db,
        `INSERT INTO requirement (key, title, text, parent, is_heading, revision, position) VALUES (@key, @title, @text, @parent, @isHeading, @revision, @position)
        ON CONFLICT (key) DO UPDATE SET title = excluded.title, text = excluded.text, parent = excluded.parent, is_heading = excluded.is_heading, revision = excluded.revision`,
      ).run({ ...body, isHeading: Number(body.isHeading) })
      sql(db, 'INSERT INTO requirement_revision (key, revision, title, text, at_ms, by) VALUES (@key, @revision, @title, @text, @atMs, @by)').run({
        key: body.key,
        revision: body.revision,
        title: body.title,
        text: body.text,
        atMs: entry.atMs,
        by: entry.actor,
      })
      return true
    }
    case 'type-removed':
      sql(db, 'DELETE FROM item_type WHERE project = @project AND type = @type').run(entry.body)
      return true
    case 'own-field-removed':
      sql(db, 'DELETE FROM own_field WHERE project = @project AND field_id = @fieldId').run(entry.body)
      return true
    case 'own-fields-ordered': {
      const { project, fieldIds } = entry.body as EventBodies['own-fields-ordered']
      for (const [position, fieldId] of fieldIds.entries())
        sql(db, 'UPDATE own_field SET position = @position WHERE project = @project AND field_id = @fieldId').run({ project, fieldId, position })
      return true
    }
    case 'milestone-set': {
      const { formerName, ...body } = entry.body as EventBodies['milestone-set']
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
        `INSERT OR REPLACE INTO milestone (project, name, starts_on, due_on, is_closed) VALUES (@project, @name, @startsOn, @dueOn, @isClosed)`,
      ).run({ ...body, isClosed: Number(body.isClosed) })
      return true
    }
    case 'milestone-removed':
      sql(db, 'DELETE FROM milestone WHERE project = @project AND name = @name').run(entry.body)
      return true
    case 'view-saved': {
      const body = entry.body as EventBodies['view-saved']
      sql(
        db,
        `INSERT OR REPLACE INTO saved_view (view_id, project, owner_id, name, filter, sort, columns, look, is_shared, at_ms)
        VALUES (@viewId, @project, @ownerId, @name, @filter, @sort, @columns, @look, @isShared, @atMs)`,
      ).run({
        ...body,
        columns: JSON.stringify(body.columns),
        look: JSON.stringify(body.look ?? {}),
        isShared: Number(body.isShared),
        atMs: entry.atMs,
      })
      return true
    }
    case 'view-removed':
      sql(db, 'DELETE FROM saved_view WHERE view_id = @viewId').run(entry.body)
      sql(db, 'DELETE FROM pinned_view WHERE view_id = @viewId').run(entry.body)
      return true
    case 'view-pinned': {
      const { viewId, personId, isPinned } = entry.body as EventBodies['view-pinned']
      if (isPinned) sql(db, 'INSERT OR IGNORE INTO pinned_view (person_id, view_id) VALUES (@personId, @viewId)').run({ personId, viewId })
      else sql(db, 'DELETE FROM pinned_view WHERE person_id = @personId AND view_id = @viewId').run({ personId, viewId })
      return true
    }
    case 'label-coloured':
      sql(db, 'INSERT OR REPLACE INTO label_colour (project, label, colour) VALUES (@project, @label, @colour)').run(entry.body)
      return true
    default:
      return false
  }
}
