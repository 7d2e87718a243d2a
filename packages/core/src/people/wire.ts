import { z } from 'zod'

export const zRole = z.enum(['reader', 'member', 'lead', 'admin'])
export type Role = z.infer<typeof zRole>
export const zPerson = z.object({ personId: z.string(), name: z.string(), initials: z.string(), role: zRole.nullable() })
export type Person = z.infer<typeof zPerson>
export const zSignIn = z.strictObject({ email: z.string().max(200), password: z.string().max(200) })
export const zSignUp = z.strictObject({
  secret: z.string().max(200),
  name: z.string().trim().min(1).max(100),
  email: z.email().max(200),
  password: z.string().min(10, 'At least 10 characters').max(200),
})
export const zInvite = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(100),
  email: z.email('An address such as rafe@emberwick.example').max(200),
  role: zRole.default('member'),
})
export const zInvited = z.object({ personId: z.string() })
export const zInvitedPerson = z.object({ name: z.string(), email: z.string() })
