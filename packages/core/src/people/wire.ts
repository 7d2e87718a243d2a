import { zEmpty } from '#basics/wire'
import { operation } from './operation.js'
import { ROLES } from './permissions.js'
import { z } from 'zod'

export const zRole = z.enum(ROLES)
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

/** What can be asked of people. */
export const peopleOperations = {
  readSignUp: operation({
    method: 'get',
    path: '/sign-up/:secret',
    summary: 'Whom a sign-up link is for',
    may: 'anyone',
    about: 'nothing',
    answer: zInvitedPerson,
  }),
  signOut: operation({ method: 'delete', path: '/session', summary: 'Sign out', may: 'anyone', about: 'nothing', answer: zEmpty }),
  invitePerson: operation({
    method: 'post',
    path: '/projects/:project/people',
    summary: 'Invite somebody by mail',
    may: 'people.invite',
    about: 'project',
    body: zInvite,
    answer: zInvited,
  }),
}
