import { zDay } from '#basics/wire'
import { zStage } from '#ladder/wire'
import { zProjectName } from '#people/wire'
import { operation } from '#people/operation'
import { zItemTypeDefinition } from './item-type.js'
import { LABEL_COLOUR_NAMES } from './label-colour.js'
import { zMilestone } from './milestone.js'
import { zOwnField } from './own-field.js'
import { z } from 'zod'

/** A project's set-up as forms and filters need it. */
export const zProjectSetup = z.object({
  types: z.array(zItemTypeDefinition),
  ownFields: z.array(zOwnField),
  stageRules: z.array(z.object({ stage: zStage, needs: z.array(z.string()) })),
  hasPublicForm: z.boolean(),
  /** Those that were set up, and those that items merely name (without days); with how many of their items are open and settled. */
  milestones: z.array(
    z.object({
      name: z.string(),
      startsOn: zDay.nullable(),
      dueOn: zDay.nullable(),
      isClosed: z.boolean(),
      openItems: z.number().int(),
      settledItems: z.number().int(),
    }),
  ),
  labels: z.array(z.object({ label: z.string(), colour: z.enum(LABEL_COLOUR_NAMES) })),
  /** Parts of the software, each with who looks after it and where its code lies. */
  components: z.array(
    z.object({ name: z.string(), keeperId: z.string().nullable(), repository: z.string().nullable(), pathPrefix: z.string().nullable() }),
  ),
  /** How many cards a board's column should hold at most. */
  limits: z.array(z.object({ field: z.string(), value: z.string(), most: z.number().int() })),
})
export type ProjectSetup = z.infer<typeof zProjectSetup>
/** Which fields an item must have before it may pass a stage. */
export const zSetStageRule = z.strictObject({ stage: zStage, needs: z.array(z.string().max(50)).max(20) })
/** A milestone, new, changed or under a new name. */
export const zSetMilestone = z.strictObject({ milestone: zMilestone, formerName: z.string().max(50).optional() })
/** The colour of a label. */
export const zColourLabel = z.strictObject({ label: z.string().trim().min(1).max(40), colour: z.enum(LABEL_COLOUR_NAMES) })
/** The own fields in their new order. */
export const zOrderFields = z.strictObject({ fieldIds: z.array(z.string().max(40)).max(200) })
/** How many items a column of a board may hold. */
export const zSetLimit = z.strictObject({
  field: z.string().max(50),
  value: z.string().max(100),
  most: z.number().int().min(1).max(10_000).nullable(),
})
/** What a project is called from now on. */
export const zRenameProject = z.strictObject({ name: zProjectName })
/** Whether people without an account may report. */
export const zSetPublicForm = z.strictObject({ isOn: z.boolean() })
/** A component: its name, its paths in the code and who keeps it. */
export const zAddComponent = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(100),
  keeperId: z.string().max(100).nullable().optional(),
  repository: z.string().max(100).nullable().optional(),
  /** The folder of the repository that it lives in; null for all of it. */
  pathPrefix: z
    .string()
    .trim()
    .max(200)
    .regex(/^(?!\/)[^\\\0*]*$/, 'A folder of the repository, such as src/payment')
    .transform((folder) => folder.replace(/\/+$/, '') || null)
    .nullable()
    .optional(),
})
/** A component with nothing left open. */
export type AddComponent = z.output<typeof zAddComponent>

/** What can be asked of setup. */
export const setupOperations = {
  setComponent: operation({
    method: 'put',
    path: '/projects/:project/components',
    summary: 'Add a component, or change who keeps it',
    may: 'setup.change',
    about: 'project',
    body: zAddComponent,
    answer: zProjectSetup,
  }),
  removeComponent: operation({
    method: 'delete',
    path: '/projects/:project/components/:name',
    summary: 'Take a component off; items that name it keep the word',
    may: 'setup.change',
    about: 'project',
    answer: zProjectSetup,
  }),
  readSetup: operation({
    method: 'get',
    path: '/projects/:project/setup',
    summary: 'Types, own fields, rules',
    may: 'project.read',
    about: 'project',
    answer: zProjectSetup,
  }),
  defineType: operation({
    method: 'put',
    path: '/projects/:project/types',
    summary: 'Define a type, with its template and the fields that it shows',
    may: 'setup.change',
    about: 'project',
    body: zItemTypeDefinition,
    answer: zProjectSetup,
  }),
  defineOwnField: operation({
    method: 'put',
    path: '/projects/:project/fields',
    summary: 'Define an own field',
    may: 'setup.change',
    about: 'project',
    body: zOwnField,
    answer: zProjectSetup,
  }),
  setStageRule: operation({
    method: 'put',
    path: '/projects/:project/stage-rules',
    summary: 'Say what must be filled before a stage',
    may: 'setup.change',
    about: 'project',
    body: zSetStageRule,
    answer: zProjectSetup,
  }),
  renameProject: operation({
    method: 'put',
    path: '/projects/:project/name',
    summary: 'Call the project otherwise; its keys stay',
    may: 'setup.change',
    about: 'project',
    body: zRenameProject,
    answer: zProjectSetup,
  }),
  setPublicForm: operation({
    method: 'put',
    path: '/projects/:project/public-form',
    summary: 'Switch the public form on or off',
    may: 'setup.change',
    about: 'project',
    body: zSetPublicForm,
    answer: zProjectSetup,
  }),
  setLimit: operation({
    method: 'put',
    path: '/projects/:project/limits',
    summary: 'Say how many cards a board’s column should hold at most',
    may: 'setup.change',
    about: 'project',
    body: zSetLimit,
    answer: zProjectSetup,
  }),
  removeType: operation({
    method: 'delete',
    path: '/projects/:project/types/:type',
    summary: 'Remove an own type, or put a standard one back as it comes',
    may: 'setup.change',
    about: 'project',
    answer: zProjectSetup,
  }),
  removeOwnField: operation({
    method: 'delete',
    path: '/projects/:project/fields/:fieldId',
    summary: 'Take an own field off the forms',
    may: 'setup.change',
    about: 'project',
    answer: zProjectSetup,
  }),
  removeMilestone: operation({
    method: 'delete',
    path: '/projects/:project/milestones/:name',
    summary: 'Remove a milestone that no item is planned for',
    may: 'setup.change',
    about: 'project',
    answer: zProjectSetup,
  }),
  orderOwnFields: operation({
    method: 'put',
    path: '/projects/:project/field-order',
    summary: 'Put the own fields in order',
    may: 'setup.change',
    about: 'project',
    body: zOrderFields,
    answer: zProjectSetup,
  }),
  setMilestone: operation({
    method: 'put',
    path: '/projects/:project/milestones',
    summary: 'Set up a milestone, or change it',
    may: 'setup.change',
    about: 'project',
    body: zSetMilestone,
    answer: zProjectSetup,
  }),
  colourLabel: operation({
    method: 'put',
    path: '/projects/:project/labels',
    summary: 'Give a label another colour',
    may: 'labels.colour',
    about: 'project',
    body: zColourLabel,
    answer: zProjectSetup,
  }),
}
