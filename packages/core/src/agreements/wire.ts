import { zAtMs, zDay } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

const zEnded = z.object({ words: z.string(), by: z.string(), atMs: zAtMs })
/** A set of requirements that people are asked to agree to. */
export const zAgreement = z.object({
  project: z.string(),
  agreementId: z.string(),
  name: z.string(),
  words: z.string(),
  by: z.string(),
  atMs: zAtMs,
  dueOn: z.string().nullable(),
  /** Requirements of it that are there. */
  total: z.number().int(),
  /** How many of them everybody agreed to as they are now. */
  agreed: z.number().int(),
  isAgreed: z.boolean(),
  /** How many of them each of those who are asked agreed to. */
  people: z.array(z.object({ personId: z.string(), agreed: z.number().int() })),
  openRemarks: z.number().int(),
  ended: zEnded.nullable(),
})
export type Agreement = z.infer<typeof zAgreement>

const zAgreementRemark = z.object({
  remarkId: z.string(),
  /** The words that it is about; empty for the whole. */
  quote: z.string(),
  text: z.string(),
  revision: z.number().int(),
  by: z.string(),
  atMs: zAtMs,
  settledBy: z.string().nullable(),
})
/** One of them with each requirement: how it reads, who agreed, and what was remarked. */
export const zAgreementDetail = zAgreement.extend({
  keys: z.array(z.string()),
  rows: z.array(
    z.object({
      key: z.string(),
      title: z.string(),
      text: z.string(),
      isHeading: z.boolean(),
      revision: z.number().int(),
      agreedBy: z.array(z.string()),
      outdatedBy: z.array(z.string()),
      waitsFor: z.array(z.string()),
      /** The text that the asker agreed to, where it is another by now. */
      seen: z.object({ revision: z.number().int(), text: z.string() }).nullable(),
      remarks: z.array(zAgreementRemark),
    }),
  ),
})
export type AgreementDetail = z.infer<typeof zAgreementDetail>

/** What people are asked to agree to. */
export const zAskAgreement = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name').max(120),
  words: z.string().trim().max(4000).default(''),
  keys: z.array(z.string().trim().toUpperCase().max(20)).min(1, 'Choose requirements').max(5000),
  people: z.array(z.string().max(60)).min(1, 'Name somebody').max(50),
  dueOn: zDay.nullable().default(null),
})
/** The same, with nothing left open. */
export type AskAgreement = z.output<typeof zAskAgreement>

const PATH = '/projects/:project/agreements'

/** What can be asked of agreements. */
export const agreementsOperations = {
  listAgreements: operation({
    method: 'get',
    path: PATH,
    summary: 'Sets of requirements that people are asked to agree to, the newest first',
    may: 'project.read',
    about: 'project',
    answer: z.object({ rows: z.array(zAgreement) }),
  }),
  readAgreement: operation({
    method: 'get',
    path: `${PATH}/:agreementId`,
    summary: 'One of them, with each requirement, who agreed to it, and what was remarked',
    may: 'project.read',
    about: 'project',
    answer: zAgreementDetail,
  }),
  askAgreement: operation({
    method: 'post',
    path: PATH,
    summary: 'Ask people to agree to requirements',
    may: 'requirements.write',
    about: 'project',
    body: zAskAgreement,
    answer: zAgreementDetail,
    status: 201,
  }),
  changeAgreement: operation({
    method: 'put',
    path: `${PATH}/:agreementId`,
    summary: 'Change what is asked, or of whom; what was agreed stays',
    may: 'requirements.write',
    about: 'project',
    body: zAskAgreement,
    answer: zAgreementDetail,
  }),
  agreeToRequirements: operation({
    method: 'post',
    path: `${PATH}/:agreementId/verdicts`,
    summary: 'Agree to requirements as they stand, or take that back; for those who are asked',
    may: 'project.read',
    about: 'project',
    isPersonal: true,
    body: z.strictObject({
      verdicts: z
        .array(z.strictObject({ key: z.string().trim().toUpperCase().max(20), revision: z.number().int().min(1) }))
        .min(1)
        .max(5000),
      isOn: z.boolean().default(true),
    }),
    answer: zAgreementDetail,
    problems: ['changed-meanwhile'],
  }),
  remarkOnAgreement: operation({
    method: 'post',
    path: `${PATH}/:agreementId/remarks`,
    summary: 'Say something about words of a requirement; for those who are asked, and who may comment',
    may: 'project.read',
    about: 'project',
    body: z.strictObject({
      key: z.string().trim().toUpperCase().max(20),
      quote: z.string().max(1000).default(''),
      text: z.string().trim().min(1, 'Say something').max(4000),
    }),
    answer: zAgreementDetail,
    status: 201,
  }),
  settleAgreementRemark: operation({
    method: 'put',
    path: `${PATH}/:agreementId/remarks/:remarkId`,
    summary: 'Say that a remark is settled, or open again; for who made it, and who writes requirements',
    may: 'project.read',
    about: 'project',
    body: z.strictObject({ isSettled: z.boolean() }),
    answer: zAgreementDetail,
  }),
  endAgreement: operation({
    method: 'post',
    path: `${PATH}/:agreementId/end`,
    summary: 'End it with words, whether all agreed or not, or let it go on',
    may: 'requirements.write',
    about: 'project',
    body: z.strictObject({ isEnded: z.boolean(), words: z.string().trim().max(2000).default('') }),
    answer: zAgreementDetail,
  }),
}
