import { type SqlValue, sql } from '#platform/db/statements'
import { Problem } from '@dystracer/core/basics/problem'
import type { ProjectSetup } from '@dystracer/core/setup/wire'
import { STANDARD_TYPES, type ItemTypeDefinition } from '@dystracer/core/setup/item-type'
import { colourForNewLabel, type LabelColour } from '@dystracer/core/setup/label-colour'
import type { Milestone } from '@dystracer/core/setup/milestone'
import type { OwnField } from '@dystracer/core/setup/own-field'
import type { Stage } from '@dystracer/core/ladder/ladder'
import type { Db } from '#platform/db/open'
import type { JournalWriter } from '#platform/journal/journal'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import {
  LIST_COMPONENT_OF_PROJECT,
  GET_VALUE_OF_PROJECT_SETTING_BY_PROJECT_AND_NAME,
  HAS_ITEM_TYPE_BY_PROJECT_AND_TYPE,
  HAS_PROJECT_BY_PROJECT,
  LIMIT,
  LIST_ITEM_BY_KEY,
  LIST_ITEM_TYPE_BY_PROJECT,
  LIST_KNOWN_BY_PROJECT,
  LIST_LABEL_COLOUR_BY_PROJECT,
  LIST_OWN_FIELD_BY_PROJECT,
  LIST_PROJECT_SETTING_BY_PROJECT,
  LIST_STAGE_RULE_BY_PROJECT,
} from './setup.queries.js'

/** How a project is set up: types (its own in place of the standard ones with the same name), own fields, rules, the public form. */
export function readSetup(db: Db, project: string): ProjectSetup {
  const defined = sql(db, LIST_ITEM_TYPE_BY_PROJECT)
    .all<{ type: string; is_defect: number; position: number; fields: string; template: string }>({ project })
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
    stageRules: sql(db, LIST_STAGE_RULE_BY_PROJECT)
      .all<{ stage: Stage; needs: string }>({ project })
      .map((row) => ({ stage: row.stage, needs: JSON.parse(row.needs) as string[] })),
    hasPublicForm: readSetting(db, project, 'public-form') === 'on',
    milestones: listMilestones(db, project),
    labels: listLabels(db, project),
    components: sql(db, LIST_COMPONENT_OF_PROJECT).all<ProjectSetup['components'][number]>({ project }),
    limits: listLimits(db, project),
  }
}

/** Milestones by due day, those without one last; what items merely name stands among them without days. */
function listMilestones(db: Db, project: string): ProjectSetup['milestones'] {
  return sql(db, LIST_KNOWN_BY_PROJECT)
    .all<{ name: string; startsOn: string | null; dueOn: string | null; is_closed: number; openItems: number; settledItems: number }>({
      project,
    })
    .map(({ is_closed, ...row }) => ({ ...row, isClosed: is_closed === 1 }))
}

function listLabels(db: Db, project: string): ProjectSetup['labels'] {
  return sql(db, LIST_LABEL_COLOUR_BY_PROJECT).all<{
    label: string
    colour: LabelColour
  }>({ project })
}

/** Gives each new label of the touched items a colour of its own, inside the write that coined it. */
export function colourNewLabels(db: Db, writer: JournalWriter, touched: ReadonlySet<string>): void {
  for (const key of touched) {
    const fresh = sql(db, LIST_ITEM_BY_KEY).all<{ project: string; label: string }>({ key })
    for (const { project, label } of fresh) {
      const colour = colourForNewLabel(listLabels(db, project).map((known) => known.colour))
      writer.append({ kind: 'label-coloured', actor: 'system', subjects: [`project:${project}`], body: { project, label, colour } })
    }
  }
}

export function listOwnFields(db: Db, project: string): OwnField[] {
  return sql(db, LIST_OWN_FIELD_BY_PROJECT)
    .all<{
      field_id: string
      name: string
      kind: OwnField['kind']
      choices: string
      types: string
      colour: string | null
      position: number
    }>({
      project,
    })
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
  return sql(db, GET_VALUE_OF_PROJECT_SETTING_BY_PROJECT_AND_NAME).get<{ value: string }>({ project, name })?.value ?? null
}

export function requireProject(db: Db, project: string): void {
  if (!sql(db, HAS_PROJECT_BY_PROJECT).get({ project })) throw new Problem('not-found', { detail: `There is no project ${project}.` })
}

export function defineType(ctx: ServiceContext, who: Who, project: string, definition: ItemTypeDefinition): void {
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'type-defined', actor: who.actor, subjects: [`project:${project}`], body: { ...definition, project } })
  })
}

/** Adds an own field or changes one. Its kind stays, since values of it may exist. Throws `conflict`. */
export function defineOwnField(ctx: ServiceContext, who: Who, project: string, field: OwnField): void {
  requireProject(ctx.db, project)
  const known = listOwnFields(ctx.db, project).find((entry) => entry.fieldId === field.fieldId)
  if (known && known.kind !== field.kind)
    throw new Problem('conflict', {
      detail: `${field.name} holds values of the kind "${known.kind}". Make a new field for the other kind.`,
    })
  if ((field.kind === 'one-of' || field.kind === 'several-of') && field.choices.length === 0)
    throw new Problem('invalid-input', { fields: { choices: 'Name at least one value to choose from' } })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'own-field-defined', actor: who.actor, subjects: [`project:${project}`], body: { ...field, project } })
  })
}

/** Removes a type of the project's own, or puts a standard one back as it comes. Throws `conflict` while items are of an own type. */
export function removeType(ctx: ServiceContext, who: Who, project: string, type: string): void {
  if (!sql(ctx.db, HAS_ITEM_TYPE_BY_PROJECT_AND_TYPE).get({ project, type }))
    throw new Problem('not-found', { detail: `This project has no type ${type} of its own.` })
  if (!STANDARD_TYPES.some((standard) => standard.type === type)) {
    const used = countOf(ctx.db, 'SELECT count(*) AS count FROM item WHERE project = @project AND type = @type', { project, type })
    if (used > 0)
      throw new Problem('conflict', {
        detail: `${used} items are of the type ${type}. Give them another type first; nothing was removed.`,
        facts: { used },
      })
  }
  ctx.journal.write((writer) => {
    writer.append({ kind: 'type-removed', actor: who.actor, subjects: [`project:${project}`], body: { project, type } })
  })
}

function countOf(db: Db, text: string, bind: Record<string, SqlValue>): number {
  return sql(db, text).get<{ count: number }>(bind)?.count ?? 0
}

/** Takes an own field off the forms. What items hold in it stays in their history and shows again if the field is made again. */
export function removeOwnField(ctx: ServiceContext, who: Who, project: string, fieldId: string): void {
  if (!listOwnFields(ctx.db, project).some((field) => field.fieldId === fieldId))
    throw new Problem('not-found', { detail: `This project has no field ${fieldId}.` })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'own-field-removed', actor: who.actor, subjects: [`project:${project}`], body: { project, fieldId } })
  })
}

/** Puts the own fields in the order given; those not named keep their place behind. */
export function orderOwnFields(ctx: ServiceContext, who: Who, project: string, input: { fieldIds: string[] }): void {
  const known = listOwnFields(ctx.db, project).map((field) => field.fieldId)
  const first = input.fieldIds.filter((fieldId) => known.includes(fieldId))
  const fieldIds = [...new Set([...first, ...known])]
  ctx.journal.write((writer) => {
    writer.append({ kind: 'own-fields-ordered', actor: who.actor, subjects: [`project:${project}`], body: { project, fieldIds } })
  })
}

/** Sets up a milestone or changes it; a new name goes to its items too. Throws `conflict` for a name that another has. */
export function setMilestone(
  ctx: ServiceContext,
  who: Who,
  project: string,
  input: { milestone: Milestone; formerName?: string | undefined },
): void {
  requireProject(ctx.db, project)
  const { milestone, formerName } = input
  const isRenamed = formerName !== undefined && formerName !== milestone.name
  if (isRenamed && listMilestones(ctx.db, project).some((known) => known.name === milestone.name))
    throw new Problem('conflict', { detail: `There is a milestone ${milestone.name} already. Choose another name.` })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'milestone-set',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { ...milestone, project, ...(isRenamed && { formerName }) },
    })
  })
}

/** Removes a milestone that no item is planned for. Throws `conflict` otherwise. */
export function removeMilestone(ctx: ServiceContext, who: Who, project: string, name: string): void {
  const known = listMilestones(ctx.db, project).find((milestone) => milestone.name === name)
  if (!known) throw new Problem('not-found', { detail: `There is no milestone ${name}.` })
  const used = known.openItems + known.settledItems
  if (used > 0)
    throw new Problem('conflict', {
      detail: `${used} items are planned for ${name}. Close it, or plan them for another first; nothing was removed.`,
    })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'milestone-removed', actor: who.actor, subjects: [`project:${project}`], body: { project, name } })
  })
}

/** Gives a label another colour of the palette. */
export function colourLabel(ctx: ServiceContext, who: Who, project: string, input: { label: string; colour: LabelColour }): void {
  if (!listLabels(ctx.db, project).some((known) => known.label === input.label))
    throw new Problem('not-found', { detail: `No item bears the label ${input.label}.` })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'label-coloured', actor: who.actor, subjects: [`project:${project}`], body: { project, ...input } })
  })
}

export function setStageRule(ctx: ServiceContext, who: Who, project: string, rule: { stage: Stage; needs: string[] }): void {
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'stage-rule-set', actor: who.actor, subjects: [`project:${project}`], body: { project, ...rule } })
  })
}

/** How many cards the columns of boards should hold at most, by field and value. */
function listLimits(db: Db, project: string): ProjectSetup['limits'] {
  return sql(db, LIST_PROJECT_SETTING_BY_PROJECT)
    .all<{ name: string; value: string }>({ project })
    .map((row) => {
      const [field = '', value = ''] = row.name.slice(LIMIT.length).split('/', 2)
      return { field, value: decodeURIComponent(value), most: Number(row.value) }
    })
}

/** Says how many cards a column should hold at most; null for no limit. A limit warns, it stops nobody. */
export function setLimit(
  ctx: ServiceContext,
  who: Who,
  project: string,
  limit: { field: string; value: string; most: number | null },
): void {
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'setting-changed',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: {
        project,
        name: `${LIMIT}${limit.field}/${encodeURIComponent(limit.value)}`,
        value: limit.most === null ? '' : String(limit.most),
      },
    })
  })
}

/** Calls the project otherwise; its keys stay. */
export function renameProject(ctx: ServiceContext, who: Who, project: string, { name }: { name: string }): void {
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'project-renamed', actor: who.actor, subjects: [`project:${project}`], body: { project, name } })
  })
}

export function setPublicForm(ctx: ServiceContext, who: Who, project: string, isOn: boolean): void {
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
