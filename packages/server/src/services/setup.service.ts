import { Problem } from '@dystracer/core/basics/problem'
import type { ProjectSetup } from '@dystracer/core/contract/items'
import { STANDARD_TYPES, type ItemTypeDefinition } from '@dystracer/core/items/item-type'
import type { OwnField } from '@dystracer/core/items/own-field'
import type { Stage } from '@dystracer/core/ladder/ladder'
import { sql } from '../db/statements.js'
import type { Db } from '../db/open.js'
import { requireRole, type Who } from './access.js'
import type { ServiceContext } from './service-context.js'

/** How a project is set up: types (its own in place of the standard ones with the same name), own fields, rules, the public form. */
export function readSetup(db: Db, project: string): ProjectSetup {
  const defined = sql<object, { type: string; is_defect: number; position: number; fields: string; template: string }>(
    db,
    'SELECT type, is_defect, position, fields, template FROM item_type WHERE project = @project ORDER BY position, type',
  )
    .all({ project })
    .map(
      (row): ItemTypeDefinition => ({
        type: row.type,
        isDefect: row.is_defect === 1,
        position: row.position,
        fields: JSON.parse(row.fields) as ItemTypeDefinition['fields'],
        template: JSON.parse(row.template) as ItemTypeDefinition['template'],
      }),
    )
  const types = [...STANDARD_TYPES.filter((type) => !defined.some((own) => own.type === type.type)), ...defined].sort(
    (a, b) => a.position - b.position,
  )
  return {
    types,
    ownFields: listOwnFields(db, project),
    stageRules: sql<object, { stage: Stage; needs: string }>(db, 'SELECT stage, needs FROM stage_rule WHERE project = @project ORDER BY stage')
      .all({ project })
      .map((row) => ({ stage: row.stage, needs: JSON.parse(row.needs) as string[] })),
    hasPublicForm: readSetting(db, project, 'public-form') === 'on',
  }
}

export function listOwnFields(db: Db, project: string): OwnField[] {
  return sql<
    object,
    { field_id: string; name: string; kind: OwnField['kind']; choices: string; types: string; colour: string | null; position: number }
  >(db, 'SELECT field_id, name, kind, choices, types, colour, position FROM own_field WHERE project = @project ORDER BY position, field_id')
    .all({ project })
    .map((row) => ({
      fieldId: row.field_id,
      name: row.name,
      kind: row.kind,
      choices: JSON.parse(row.choices) as string[],
      types: JSON.parse(row.types) as string[],
      colour: row.colour,
      position: row.position,
    }))
}

export function readSetting(db: Db, project: string, name: string): string | null {
  return (
    sql<object, { value: string }>(db, 'SELECT value FROM project_setting WHERE project = @project AND name = @name').get({ project, name })?.value ??
    null
  )
}

export function requireProject(db: Db, project: string): void {
  if (!sql(db, 'SELECT 1 FROM project WHERE prefix = @project').get({ project }))
    throw new Problem('not-found', { detail: `There is no project ${project}.` })
}

export function defineType(ctx: ServiceContext, who: Who, project: string, definition: ItemTypeDefinition): void {
  requireRole(who, 'lead')
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'type-defined', actor: who.actor, subjects: [`project:${project}`], body: { ...definition, project } })
  })
}

/** Adds an own field or changes one. Its kind stays, since values of it may exist. Throws `conflict`. */
export function defineOwnField(ctx: ServiceContext, who: Who, project: string, field: OwnField): void {
  requireRole(who, 'lead')
  requireProject(ctx.db, project)
  const known = listOwnFields(ctx.db, project).find((entry) => entry.fieldId === field.fieldId)
  if (known && known.kind !== field.kind)
    throw new Problem('conflict', { detail: `${field.name} holds values of the kind "${known.kind}". Make a new field for the other kind.` })
  if ((field.kind === 'one-of' || field.kind === 'several-of') && field.choices.length === 0)
    throw new Problem('invalid-input', { fields: { choices: 'Name at least one value to choose from' } })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'own-field-defined', actor: who.actor, subjects: [`project:${project}`], body: { ...field, project } })
  })
}

export function setStageRule(ctx: ServiceContext, who: Who, project: string, rule: { stage: Stage; needs: string[] }): void {
  requireRole(who, 'lead')
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'stage-rule-set', actor: who.actor, subjects: [`project:${project}`], body: { project, ...rule } })
  })
}

export function setPublicForm(ctx: ServiceContext, who: Who, project: string, isOn: boolean): void {
  requireRole(who, 'lead')
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'setting-changed',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { project, name: 'public-form', value: isOn ? 'on' : 'off' },
    })
  })
}
