import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** What came of doing a case: it was blocked where it could not be done. */
export const OUTCOMES = ['passed', 'failed', 'blocked', 'skipped'] as const
/** One of them. */
export type Outcome = (typeof OUTCOMES)[number]

/** One step of a case: what is done, with its data, and what is expected then. */
export const zCaseStep = z.strictObject({
  do: z.string().trim().min(1, 'Say what is done').max(4000),
  expect: z.string().trim().max(4000).default(''),
})
/** A step with nothing left open. */
export type CaseStep = z.output<typeof zCaseStep>
const zKey = z.string().trim().toUpperCase().max(20)
const zNumber = z.number().int().min(1).max(1_000_000)
/** A case as somebody writes it. */
export const zWriteCase = z.strictObject({
  title: z.string().trim().min(1, 'It needs a title').max(200),
  /** What has to be so before, in Markdown. */
  text: z.string().max(20_000).default(''),
  steps: z.array(zCaseStep).min(1, 'It needs a step').max(200),
  /** Keys of the requirements and items that it verifies. */
  verifies: z.array(zKey).max(50).default([]),
})
/** A case to write, with nothing left open. */
export type WriteCase = z.output<typeof zWriteCase>

/** A result, with where and by whom. */
export const zCaseResult = z.object({
  resultId: z.string(),
  planId: z.string(),
  planName: z.string(),
  release: z.string().nullable(),
  number: z.number().int(),
  environment: z.string(),
  outcome: z.enum(OUTCOMES),
  revision: z.number().int(),
  /** Whether the case was written anew since. */
  isStale: z.boolean(),
  step: z.number().int().nullable(),
  words: z.string(),
  item: z.string().nullable(),
  by: z.string(),
  atMs: zAtMs,
})
export type CaseResult = z.infer<typeof zCaseResult>
/** A case as a row of the list. */
export const zCase = z.object({
  number: z.number().int(),
  title: z.string(),
  steps: z.number().int(),
  verifies: z.array(z.string()),
  revision: z.number().int(),
  isRetired: z.boolean(),
  last: zCaseResult.nullable(),
})
export type Case = z.infer<typeof zCase>
/** A case whole, with its newest results. */
export const zCaseDetail = zCase.extend({
  project: z.string(),
  text: z.string(),
  steps: z.array(zCaseStep),
  revisions: z.array(z.object({ revision: z.number().int(), title: z.string(), by: z.string(), atMs: zAtMs })),
  results: z.array(zCaseResult),
})
export type CaseDetail = z.infer<typeof zCaseDetail>

/** A plan: which cases are done, of which release, in which environments. */
export const zWritePlan = z.strictObject({
  name: z.string().trim().min(1, 'It needs a name').max(200),
  /** `service@version`; null where none is meant. */
  release: z.string().trim().max(200).nullable().default(null),
  environments: z.array(z.string().trim().min(1).max(100)).min(1, 'Name a place where it is done').max(20),
  cases: z.array(zNumber).max(2000),
})
/** A plan to write, with nothing left open. */
export type WritePlan = z.output<typeof zWritePlan>
const zProgress = z.object({
  passed: z.number().int(),
  failed: z.number().int(),
  blocked: z.number().int(),
  skipped: z.number().int(),
  open: z.number().int(),
})
/** A plan as a row of the list. */
export const zPlan = z.object({
  planId: z.string(),
  name: z.string(),
  release: z.string().nullable(),
  environments: z.array(z.string()),
  cases: z.number().int(),
  progress: zProgress,
  signed: z.object({ by: z.string(), atMs: zAtMs, words: z.string() }).nullable(),
  atMs: zAtMs,
})
export type Plan = z.infer<typeof zPlan>
/** A plan whole: its cases, and the newest result of each in each environment. */
export const zPlanDetail = zPlan.extend({
  project: z.string(),
  cases: z.array(zCase.omit({ last: true })),
  results: z.array(zCaseResult),
})
export type PlanDetail = z.infer<typeof zPlanDetail>

/** What somebody found when doing a case. */
export const zDoCase = z
  .strictObject({
    number: zNumber,
    environment: z.string().trim().min(1).max(100),
    /** The revision that was done; an earlier one than the newest counts as stale. */
    revision: z.number().int().min(1),
    outcome: z.enum(OUTCOMES),
    step: z.number().int().min(1).max(200).nullable().default(null),
    words: z.string().trim().max(20_000).default(''),
    /** An item that is known for it. */
    item: zKey.nullable().default(null),
    /** Logs a defect of what failed, with steps, what was expected and what was seen. */
    logsDefect: z.boolean().default(false),
  })
  .refine(({ outcome, words }) => outcome === 'passed' || words !== '', { path: ['words'], message: 'Say what you saw' })
/** A result with nothing left open. */
export type DoCase = z.output<typeof zDoCase>

/** How large a file of cases may be. */
export const CASE_FILE_MAX_BYTES = 5 << 20
/** What a file of cases would do, or did. */
export const zCaseImport = z.object({
  new: z.array(z.object({ number: z.number().int(), title: z.string(), line: z.number().int() })),
  changed: z.array(z.object({ number: z.number().int(), title: z.string(), line: z.number().int() })),
  same: z.number().int(),
  problems: z.array(z.object({ line: z.number().int(), words: z.string() })),
})
export type CaseImport = z.infer<typeof zCaseImport>

const ofProject = { about: 'project' } as const
const cases = '/projects/:project/cases'
const plans = '/projects/:project/test-plans'
/** What can be asked of tests by hand. */
export const casesOperations = {
  listCases: operation({
    method: 'get',
    path: cases,
    summary: 'The test cases of a project, with the newest result of each',
    may: 'project.read',
    ...ofProject,
    answer: z.object({ rows: z.array(zCase) }),
  }),
  readCase: operation({
    method: 'get',
    path: `${cases}/:number`,
    summary: 'A test case with its steps and its newest results',
    may: 'project.read',
    ...ofProject,
    answer: zCaseDetail,
  }),
  beginCase: operation({
    method: 'post',
    path: cases,
    summary: 'Write a test case',
    may: 'tests.write',
    ...ofProject,
    body: zWriteCase,
    answer: zCaseDetail,
    status: 201,
  }),
  writeCase: operation({
    method: 'put',
    path: `${cases}/:number`,
    summary: 'Write a test case anew: a further revision',
    may: 'tests.write',
    ...ofProject,
    body: zWriteCase,
    answer: zCaseDetail,
  }),
  retireCase: operation({
    method: 'put',
    path: `${cases}/:number/retirement`,
    summary: 'Say that a case is done no more, or is again',
    may: 'tests.write',
    ...ofProject,
    body: z.strictObject({ isRetired: z.boolean() }),
    answer: zCaseDetail,
  }),
  exportCases: operation({
    method: 'get',
    path: `${cases}.csv`,
    summary: 'The test cases of a project as CSV; the import takes them back',
    may: 'project.read',
    ...ofProject,
    media: 'text/csv',
    answer: z.string(),
  }),
  exportCasesAsMarkdown: operation({
    method: 'get',
    path: `${cases}.md`,
    summary: 'The test cases of a project as Markdown',
    may: 'project.read',
    ...ofProject,
    media: 'text/markdown',
    answer: z.string(),
  }),
  importCases: operation({
    method: 'post',
    path: '/projects/:project/case-imports',
    summary:
      'Bring test cases in from CSV (title, steps as lines “done => expected”, text, verifies, number); with trial=true nothing is done',
    may: 'tests.write',
    ...ofProject,
    query: z.object({ trial: z.stringbool().default(false) }),
    bodyMedia: 'text/csv',
    answer: zCaseImport,
  }),
  listTestPlans: operation({
    method: 'get',
    path: plans,
    summary: 'The test plans of a project, the newest first',
    may: 'project.read',
    ...ofProject,
    answer: z.object({ rows: z.array(zPlan) }),
  }),
  readTestPlan: operation({
    method: 'get',
    path: `${plans}/:planId`,
    summary: 'A test plan with the newest result of each case in each environment',
    may: 'project.read',
    ...ofProject,
    answer: zPlanDetail,
  }),
  makeTestPlan: operation({
    method: 'post',
    path: plans,
    summary: 'Plan which cases are done, of which release, where',
    may: 'tests.write',
    ...ofProject,
    body: zWritePlan,
    answer: zPlanDetail,
    status: 201,
  }),
  changeTestPlan: operation({
    method: 'put',
    path: `${plans}/:planId`,
    summary: 'Change a test plan; results stay',
    may: 'tests.write',
    ...ofProject,
    body: zWritePlan,
    answer: zPlanDetail,
  }),
  doCase: operation({
    method: 'post',
    path: `${plans}/:planId/results`,
    summary: 'Say what came of doing a case',
    may: 'tests.write',
    ...ofProject,
    body: zDoCase,
    answer: zPlanDetail,
    status: 201,
  }),
  signTestPlan: operation({
    method: 'put',
    path: `${plans}/:planId/signature`,
    summary: 'Stand for a plan as it was done, or take that back',
    may: 'tests.sign',
    ...ofProject,
    isPersonal: true,
    body: z.strictObject({ isSigned: z.boolean(), words: z.string().trim().max(2000).default('') }),
    answer: zPlanDetail,
  }),
}
