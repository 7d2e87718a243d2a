import { z } from 'zod'
import { isDay } from './own-field.js'

const zRealDay = z.string().refine(isDay, 'A day such as 2026-12-01').nullable().default(null)

/** A milestone: a name that items are planned for, with the days between which it is worked on. */
export const zMilestone = z
  .strictObject({
    name: z.string().trim().min(1, 'A name is needed').max(50),
    startsOn: zRealDay,
    dueOn: zRealDay,
    isClosed: z.boolean().default(false),
  })
  .refine((milestone) => milestone.startsOn === null || milestone.dueOn === null || milestone.startsOn <= milestone.dueOn, {
    message: 'It cannot be due before it starts',
    path: ['dueOn'],
  })
export type Milestone = z.infer<typeof zMilestone>
