import { isTimeZone } from '#basics/days'
import { zAtMs, zEmpty } from '#basics/wire'
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

/** Address and password, and a code where the account asks for one. */
export const zSignIn = z.strictObject({ email: z.string().max(200), password: z.string().max(200), code: z.string().max(40).optional() })
/** That a session is still its owner's. */
export const zProveAgain = zSignIn.omit({ email: true })
/** A password to be; how good it is, the server judges. */
export const zNewPassword = z.string().min(10, 'At least 10 characters').max(200)
/** A new account by invitation; the first one names the project. */
export const zSignUp = z.strictObject({
  secret: z.string().max(200),
  name: z.string().trim().min(1).max(100),
  email: z.email().max(200),
  password: zNewPassword,
  /** The first project; asked of the first administrator while there is none. */
  project: z.strictObject({ name: zProjectName, prefix: zProjectPrefix }).optional(),
})
/** Whom to invite, and as what. */
export const zInvite = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(100),
  email: z.email('An address such as name@example.org').max(200),
  role: zRole.default('member'),
})
/** The person that the invitation made; `link` where no mail goes out: it is given to them by hand. */
export const zInvited = z.object({ personId: z.string(), link: z.string().nullable() })
/** What a member is from now on. */
export const zGiveRole = z.strictObject({ role: zRole })
/** The password that one has, and the one that one wants. */
export const zChangePassword = z.strictObject({ current: z.string().max(200), next: zNewPassword })
/** Who has forgotten their password; the answer is the same whether there is such an account. */
export const zAskReset = z.strictObject({ email: z.email('An address such as name@example.org').max(200) })
/** A new password by the link of a reset. */
export const zResetPassword = z.strictObject({ secret: z.string().max(200), password: zNewPassword })
/** Where somebody is signed in. */
export const zSession = z.object({
  sessionId: z.string(),
  isThis: z.boolean(),
  openedAtMs: zAtMs,
  usedAtMs: zAtMs,
  expiresAtMs: zAtMs,
  /** The program and the network address that it was opened from. */
  place: z.string(),
})
export type Session = z.infer<typeof zSession>
/** A further address of somebody; what comes from it is theirs once it is confirmed. */
export const zPersonAddress = z.object({ email: z.string(), confirmedAtMs: zAtMs.nullable() })
export type PersonAddress = z.infer<typeof zPersonAddress>
/** What somebody says of themselves. */
export const zOwnProfile = z.object({
  name: z.string(),
  initials: z.string(),
  email: z.string(),
  /** The zone by which days begin for them; null is UTC. */
  timeZone: z.string().nullable(),
  addresses: z.array(zPersonAddress),
  /** Whether links go out by mail; where they do not, an administrator confirms addresses. */
  hasMail: z.boolean(),
})
export type OwnProfile = z.infer<typeof zOwnProfile>
/** An address that somebody says is theirs. */
export const zClaimAddress = z.strictObject({ email: z.email('An address such as name@example.org').max(200) })
/** What stands in the link that was mailed to an address. */
export const zConfirmAddress = z.strictObject({ secret: z.string().max(1000) })
/** A new name, and by which zone one's days begin. */
export const zChangeMe = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(100).optional(),
  timeZone: z.string().max(60).refine(isTimeZone, 'A zone such as Europe/Berlin').nullable().optional(),
})
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
    isOfNow: true,
    answer: zInvitedPerson,
  }),
  proveAgain: operation({
    method: 'post',
    path: '/me/proof',
    summary: 'Show once more that the session is yours, by your password; asked for before tokens, roles and links to passwords are given',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    isSecret: true,
    body: zProveAgain,
    answer: zEmpty,
    problems: ['wrong-credentials', 'second-factor-needed'],
  }),
  signOut: operation({ method: 'delete', path: '/session', summary: 'Sign out', may: 'anyone', about: 'nothing', answer: zEmpty }),
  invitePerson: operation({
    asksAgain: true,
    method: 'post',
    path: '/projects/:project/people',
    summary: 'Invite somebody by mail',
    may: 'people.invite',
    about: 'project',
    isSecret: true,
    body: zInvite,
    answer: zInvited,
  }),
  giveRole: operation({
    asksAgain: true,
    method: 'put',
    path: '/projects/:project/people/:personId',
    summary: 'Give a member another role',
    may: 'people.invite',
    about: 'project',
    body: zGiveRole,
    answer: zEmpty,
  }),
  removeMember: operation({
    method: 'delete',
    path: '/projects/:project/people/:personId',
    summary: 'Take a member out of a project; what they did stays theirs',
    may: 'people.invite',
    about: 'project',
    answer: zEmpty,
  }),
  makeResetLink: operation({
    asksAgain: true,
    method: 'post',
    path: '/projects/:project/people/:personId/reset-link',
    summary: 'A link by which a member chooses a new password, to be given to them by hand',
    may: 'people.make-admin',
    about: 'project',
    isPersonal: true,
    isSecret: true,
    answer: z.object({ link: z.string() }),
  }),
  readProfile: operation({
    method: 'get',
    path: '/me/profile',
    summary: 'The asker’s own account',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    isPersonal: true,
    answer: zOwnProfile,
  }),
  changeMe: operation({
    method: 'patch',
    path: '/me/profile',
    summary: 'Change one’s own name, or time zone',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    body: zChangeMe,
    answer: zOwnProfile,
  }),
  claimAddress: operation({
    method: 'post',
    path: '/me/addresses',
    summary: 'Say that commits and mails from a further address are yours; a link to confirm it is mailed there',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    body: zClaimAddress,
    answer: zOwnProfile,
  }),
  confirmAddress: operation({
    method: 'put',
    path: '/me/addresses',
    summary: 'Confirm a further address by the link that was mailed to it',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    isSecret: true,
    body: zConfirmAddress,
    answer: zPersonAddress,
  }),
  giveUpAddress: operation({
    method: 'delete',
    path: '/me/addresses/:email',
    summary: 'Give a further address up',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    answer: zOwnProfile,
  }),
  listAddresses: operation({
    method: 'get',
    path: '/projects/:project/people/:personId/addresses',
    summary: 'The further addresses of a member',
    may: 'people.make-admin',
    about: 'project',
    isOfNow: true,
    answer: z.object({ rows: z.array(zPersonAddress) }),
  }),
  writeAddressDown: operation({
    asksAgain: true,
    method: 'post',
    path: '/projects/:project/people/:personId/addresses',
    summary: 'Say that an address is a member’s, as an administrator who knows; it is confirmed by that',
    may: 'people.make-admin',
    about: 'project',
    body: zClaimAddress,
    answer: z.object({ rows: z.array(zPersonAddress) }),
  }),
  changePassword: operation({
    method: 'put',
    path: '/me/password',
    summary: 'Change one’s own password; every other session ends',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    isSecret: true,
    body: zChangePassword,
    answer: zEmpty,
    problems: ['wrong-credentials', 'second-factor-needed'],
  }),
  listSessions: operation({
    method: 'get',
    path: '/me/sessions',
    summary: 'Where the asker is signed in',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    isPersonal: true,
    answer: z.object({ rows: z.array(zSession) }),
  }),
  endSession: operation({
    method: 'delete',
    path: '/me/sessions/:sessionId',
    summary: 'End one of one’s own sessions, or all others with the word others',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    answer: zEmpty,
  }),
  askReset: operation({
    method: 'post',
    path: '/password-resets',
    summary: 'Have a link mailed by which a forgotten password is replaced',
    may: 'anyone',
    about: 'nothing',
    isSecret: true,
    body: zAskReset,
    answer: zEmpty,
    status: 202,
  }),
  resetPassword: operation({
    method: 'put',
    path: '/password-resets',
    summary: 'Choose a new password by the link of a reset',
    may: 'anyone',
    about: 'nothing',
    isSecret: true,
    body: zResetPassword,
    answer: zEmpty,
  }),
}
/** A new account with nothing left open. */
export type SignUp = z.output<typeof zSignUp>
