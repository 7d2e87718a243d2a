import { zAtMs } from '#basics/wire'
import { z } from 'zod'
import { operation } from './operation.js'

/** Whether one's account asks for a code beside the password. */
export const zSecondFactor = z.object({
  isOn: z.boolean(),
  sinceMs: zAtMs.nullable(),
  /** How many of the codes for a lost device are left. */
  recoveryLeft: z.number().int(),
})
export type SecondFactor = z.infer<typeof zSecondFactor>

const zPassword = z.strictObject({ password: z.string().max(200) })
const common = { may: 'member-of-any', about: 'nothing', isPersonal: true, isSecret: true } as const

/** One's own second factor: codes by time (RFC 6238), of any authenticator. */
export const secondFactorOperations = {
  readSecondFactor: operation({
    method: 'get',
    path: '/me/second-factor',
    summary: 'Whether one’s account asks for a code beside the password',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    isPersonal: true,
    answer: zSecondFactor,
  }),
  beginSecondFactor: operation({
    ...common,
    method: 'post',
    path: '/me/second-factor',
    summary: 'Begin a second factor: the secret for an authenticator; it is asked for once a code of it was confirmed',
    body: zPassword,
    answer: z.object({ secret: z.string(), uri: z.string() }),
    problems: ['wrong-credentials', 'second-factor-needed'],
  }),
  confirmSecondFactor: operation({
    ...common,
    method: 'post',
    path: '/me/second-factor/confirmation',
    summary: 'Confirm the second factor by a code; gives the codes for a lost device, once',
    body: z.strictObject({ code: z.string().trim().max(40) }),
    answer: z.object({ recoveryCodes: z.array(z.string()) }),
    problems: ['wrong-credentials', 'second-factor-needed'],
  }),
  endSecondFactor: operation({
    ...common,
    method: 'post',
    path: '/me/second-factor/end',
    summary: 'Ask for no code any more',
    body: zPassword,
    answer: zSecondFactor,
    problems: ['wrong-credentials', 'second-factor-needed'],
  }),
}
