import { z } from 'zod'
import { zRole } from './common.js'

/** A project from nothing: only its name and prefix are needed. */
export const zNewProject = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(60),
  prefix: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^[A-Z][A-Z0-9]{1,9}$/, 'Two to ten letters and digits, a letter first'),
  component: z.string().trim().min(1).max(100).nullable().default(null),
  firstItem: z.string().trim().min(1).max(200).nullable().default(null),
  repositoryUrl: z
    .url({ protocol: /^(?:https?|ssh|git)$/, error: 'An address such as https://code.example/kiln.git' })
    .max(500)
    .nullable()
    .default(null),
})
export type NewProject = z.output<typeof zNewProject>
export const zProjectMade = z.object({ prefix: z.string(), firstItem: z.string().nullable(), repository: z.string().nullable() })
export const zAddComponent = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(100),
  keeperId: z.string().max(100).nullable().optional(),
  repository: z.string().max(100).nullable().optional(),
})
export type AddComponent = z.output<typeof zAddComponent>
export const zInvite = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(100),
  email: z.email('An address such as rafe@emberwick.example').max(200),
  role: zRole.default('member'),
})
export const zInvited = z.object({ personId: z.string() })
export const zInvitedPerson = z.object({ name: z.string(), email: z.string() })

/** A prefix that a name suggests: its initials, or the beginning of its only word. */
export function suggestPrefix(name: string): string {
  const words = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toUpperCase()
    .match(/[A-Z0-9]+/g)
  if (!words) return ''
  const letters = words.length > 1 ? words.map((word) => word[0]).join('') : (words[0] ?? '').slice(0, 3)
  return letters.replace(/^[0-9]+/, '').slice(0, 5)
}
