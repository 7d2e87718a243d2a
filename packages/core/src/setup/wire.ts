import { z } from 'zod'
import { zDay } from '#basics/wire'
import { zStage } from '#ladder/wire'
import { zItemTypeDefinition } from './item-type.js'
import { LABEL_COLOUR_NAMES } from './label-colour.js'
import { zMilestone } from './milestone.js'
import { zOwnField } from './own-field.js'

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
  /** How many cards a board's column should hold at most. */
  limits: z.array(z.object({ field: z.string(), value: z.string(), most: z.number().int() })),
})
export type ProjectSetup = z.infer<typeof zProjectSetup>
export const zSetStageRule = z.strictObject({ stage: zStage, needs: z.array(z.string().max(50)).max(20) })
export const zSetMilestone = z.strictObject({ milestone: zMilestone, formerName: z.string().max(50).optional() })
export const zColourLabel = z.strictObject({ label: z.string().trim().min(1).max(40), colour: z.enum(LABEL_COLOUR_NAMES) })
export const zOrderFields = z.strictObject({ fieldIds: z.array(z.string().max(40)).max(200) })
export const zSetLimit = z.strictObject({
  field: z.string().max(30),
  value: z.string().max(100),
  most: z.number().int().min(1).max(10_000).nullable(),
})
export const zSetPublicForm = z.strictObject({ isOn: z.boolean() })
export const zAddComponent = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(100),
  keeperId: z.string().max(100).nullable().optional(),
  repository: z.string().max(100).nullable().optional(),
})
export type AddComponent = z.output<typeof zAddComponent>
