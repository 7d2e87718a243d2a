import { zEmpty } from '#basics/wire'
import { operation } from './operation.js'
import { ROLES } from './permissions.js'
import { z } from 'zod'

/** What a member is in one project. */
export const zRole = z.enum(ROLES)
/** A person as shown to others; `role` is the one in the asked project. */
export const zPerson = z.object({ personId: z.string(), name: z.string(), initials: z.string(), role: zRole.nullable() })
export type Person = z.infer<typeof zPerson>
/** A project's name. */
export const zProjectName = z.string().trim().min(1, 'A name is needed').max(60)
/** How the keys of a project's items begin. `F` is for faults. */
export const zProjectPrefix = z
  .string()
  .trim()
  .toUpperCase()
  .regex(/^[A-Z][A-Z0-9]{1,9}$/, 'Two to ten letters and digits, a letter first')

/** Address and password. */
export const zSignIn = z.strictObject({ email: z.string().max(200), password: z.string().max(200) })
/** A new account by invitation; the first one names the project. */
export const zSignUp = z.strictObject({
  secret: z.string().max(200),
  name: z.string().trim().min(1).max(100),
  email: z.email().max(200),
  password: z.string().min(10, 'At least 10 characters').max(200),
  /** The first project; asked of the first administrator while there is none. */
  project: z.strictObject({ name: zProjectName, prefix: zProjectPrefix }).optional(),
})
/** Whom to invite, and as what. */
export const zInvite = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(100),
  email: z.email('An address such as name@example.org').max(200),
  role: zRole.default('member'),
})
/** The person that the invitation made. */
export const zInvited = z.object({ personId: z.string() })
/** Whom a sign-up link is for; `needsProject` while there is no project yet. */
export const zInvitedPerson = z.object({ name: z.string(), email: z.string(), needsProject: z.boolean() })

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
/** A new account with nothing left open. */
export type SignUp = z.output<typeof zSignUp>
