import { zPage, zAtMs, zPageQuery } from '#basics/wire'
import { BUILD_STATES } from '#ladder/ladder-input'
import { operation } from '#people/operation'
import { z } from 'zod'
import { SUSPECT_REASONS } from './suspects.js'

/** A branch with its tip and the item that it is tied to. */
export const zBranch = z.object({
  repository: z.string(),
  name: z.string(),
  sha: z.string(),
  atMs: zAtMs,
  isMain: z.boolean(),
  items: z.array(z.string()),
  forcedAtMs: zAtMs.nullable(),
})
export type Branch = z.infer<typeof zBranch>
/** A commit that may have brought a failure in, with why, and what it was made for. */
export const zSuspect = z.object({
  sha: z.string(),
  subject: z.string(),
  author: z.string(),
  atMs: zAtMs,
  items: z.array(z.string()),
  /** What those items implement, break or fix. */
  requirements: z.array(z.string()),
  /** The number of the pull request that carried it; null where none is known. */
  pullRequest: z.number().int().nullable(),
  reasons: z.array(z.enum(SUSPECT_REASONS)),
})
export type SuspectRow = z.infer<typeof zSuspect>
/** How a repository is read, as people see it: never the secret itself. */
export const zRepositoryAccess = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('none') }),
  z.object({ kind: z.literal('login'), userName: z.string() }),
  z.object({ kind: z.literal('key'), publicKey: z.string() }),
])
export type RepositoryAccess = z.infer<typeof zRepositoryAccess>
/** How a repository is to be read: by anybody, with a name and a secret, or with a key that was made for it here. */
export const zRepositoryAccessInput = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('none') }),
  z.strictObject({
    kind: z.literal('login'),
    userName: z
      .string()
      .trim()
      .min(1, 'A name is needed')
      .max(200)
      .regex(/^[^:\0\r\n]*$/, 'A name has no colon'),
    secret: z.string().min(1, 'A password or access token is needed').max(2000),
  }),
  z.strictObject({ kind: z.literal('key'), keyId: z.string().max(100) }),
])
export type RepositoryAccessInput = z.output<typeof zRepositoryAccessInput>
/** A connected repository and how its reading stands. */
export const zRepository = z.object({
  repository: z.string(),
  mainBranch: z.string(),
  /** Branches that live as long as the main line, such as maintenance lines. */
  longLines: z.array(z.string()),
  url: z.string(),
  commits: z.number().int(),
  fetchedAtMs: zAtMs.nullable(),
  trouble: z.string().nullable(),
  retryAtMs: zAtMs.nullable(),
  /** Since when it is read no more; null while it is. */
  disconnectedAtMs: zAtMs.nullable(),
  /** How far the fetching and reading has come that is under way; null while nothing is. Commits are counted once they are read. */
  reading: z.object({ words: z.string(), done: z.number().int().nullable(), of: z.number().int().nullable() }).nullable(),
  /** Whether its pull requests live here, since plain git is all that reaches it. */
  keepsPullRequests: z.boolean(),
  branches: z.array(zBranch),
  /** The projects that use it. */
  projects: z.array(z.string()),
  access: zRepositoryAccess,
})
export type Repository = z.infer<typeof zRepository>
/** A commit as a line of a list. */
export const zCommitSummary = z.object({
  repository: z.string(),
  sha: z.string(),
  subject: z.string(),
  author: z.string(),
  atMs: zAtMs,
  items: z.array(z.string()),
})
export type CommitSummary = z.infer<typeof zCommitSummary>
/** A commit with its message, its changed files and what it is tied to. */
export const zCommit = zCommitSummary.extend({
  message: z.string(),
  parents: z.array(z.string()),
  files: z.array(z.object({ path: z.string(), added: z.number().nullable(), removed: z.number().nullable() })),
  branches: z.array(z.string()),
  releases: z.array(z.string()),
  pullRequests: z.array(z.number().int()),
})
export type Commit = z.infer<typeof zCommit>
/** A unified diff; `isCut` says that it was longer than may be sent. */
export const zDiff = z.object({ diff: z.string(), isCut: z.boolean() })
/** A build as a line of a list: its commit, state and counts. */
export const zBuild = z.object({
  repository: z.string(),
  number: z.number().int(),
  /** What its service calls it; the number's digits where it counts. */
  name: z.string(),
  /** Empty where nobody said of which commit it is. */
  sha: z.string(),
  branch: z.string(),
  /** `stopped`: broken off; `ended`: nobody said how, and no test was reported. */
  state: z.enum(BUILD_STATES),
  startedAtMs: zAtMs,
  finishedAtMs: zAtMs.nullable(),
  passed: z.number().int(),
  failed: z.number().int(),
  skipped: z.number().int(),
})
export type Build = z.infer<typeof zBuild>
/** A pull request as a line of a list, with what its merge still waits for. */
export const zPullRequest = z.object({
  repository: z.string(),
  number: z.number().int(),
  title: z.string(),
  state: z.enum(['open', 'merged', 'closed']),
  /** It is not ready yet: nobody is asked to look, and it is not merged. */
  isDraft: z.boolean(),
  author: z.string(),
  head: z.string(),
  base: z.string(),
  headSha: z.string(),
  mergeSha: z.string().nullable(),
  createdAtMs: zAtMs,
  updatedAtMs: zAtMs,
  items: z.array(z.string()),
  build: zBuild.nullable(),
})
export type PullRequest = z.infer<typeof zPullRequest>
/** A pull request with its text and its commits. */
export const zPullRequestDetail = zPullRequest.extend({
  body: z.string(),
  commits: z.array(zCommitSummary),
  /** Whether it lives here, and is changed and closed here; else where its host says. */
  isOurs: z.boolean(),
  /** What its builds keep it from being merged for, as what to do; null where nothing does. All gates stand in its review. */
  missing: z.string().nullable(),
})
export type PullRequestDetail = z.infer<typeof zPullRequestDetail>
/** Which pull requests: by repository and by state. */
export const zPullRequestQuery = zPageQuery.extend({
  repository: z.string().optional(),
  state: z.enum(['open', 'merged', 'closed']).optional(),
  /** In the grammar of items' filters, with the words of pull requests. */
  filter: z.string().max(1000).optional(),
})
/** What is needed to open a pull request: the branch to merge; the rest is taken from git where it is left out. */
export const zOpenPullRequest = z.strictObject({
  repository: z.string(),
  source: z.string().min(1).max(200),
  /** The branch to merge into; the main line where it is left out. */
  target: z.string().min(1).max(200).optional(),
  title: z.string().trim().min(1, 'A title is needed').max(300).optional(),
  text: z.string().max(20_000).optional(),
  isDraft: z.boolean().default(false),
})
/** What may be changed of a pull request that lives here. */
export const zChangePullRequest = z
  .strictObject({
    title: z.string().trim().min(1, 'A title is needed').max(300).optional(),
    text: z.string().max(20_000).optional(),
    state: z.enum(['open', 'closed']).optional(),
    isDraft: z.boolean().optional(),
    /** The branch to merge into. */
    target: z.string().min(1).max(200).optional(),
  })
  .refine((input) => Object.keys(input).length > 0, { path: ['title'], message: 'Say what is to change' })

const zCodeQuery = zPageQuery.extend({ repository: z.string().optional(), filter: z.string().max(1000).optional() })
/** What can be asked of code. */
export const codeOperations = {
  listRepositories: operation({
    method: 'get',
    path: '/repositories',
    summary: 'Repositories with their branches',
    may: 'member-of-any',
    about: 'nothing',
    answer: z.object({ rows: z.array(zRepository) }),
  }),
  listBranches: operation({
    method: 'get',
    path: '/branches',
    summary: 'Branches that are there, last moved first, by a filter',
    may: 'member-of-any',
    about: 'nothing',
    query: zCodeQuery,
    answer: zPage(zBranch),
  }),
  listCommits: operation({
    method: 'get',
    path: '/commits',
    summary: 'Commits, newest first, by a filter',
    may: 'member-of-any',
    about: 'nothing',
    query: zCodeQuery,
    answer: zPage(zCommitSummary),
  }),
  readCommit: operation({
    method: 'get',
    path: '/commits/:sha',
    summary: 'A commit by hash or its beginning',
    may: 'member-of-any',
    about: 'nothing',
    answer: zCommit,
    problems: ['ambiguous-reference'],
  }),
  readCommitOf: operation({
    method: 'get',
    path: '/commits/:repository/:sha',
    summary: 'A commit of a repository',
    may: 'project.read',
    about: 'repository',
    answer: zCommit,
  }),
  readCommitDiff: operation({
    method: 'get',
    path: '/commits/:repository/:sha/diff',
    summary: 'Its diff',
    may: 'project.read',
    about: 'repository',
    answer: zDiff,
  }),
  listPullRequests: operation({
    method: 'get',
    path: '/pull-requests',
    summary: 'Pull requests, last changed first, by a filter',
    may: 'member-of-any',
    about: 'nothing',
    query: zPullRequestQuery,
    answer: zPage(zPullRequest),
  }),
  readPullRequest: operation({
    method: 'get',
    path: '/pull-requests/:number',
    summary: 'A pull request by number alone',
    may: 'member-of-any',
    about: 'nothing',
    answer: zPullRequestDetail,
    problems: ['ambiguous-reference'],
  }),
  readPullRequestOf: operation({
    method: 'get',
    path: '/pull-requests/:repository/:number',
    summary: 'A pull request',
    may: 'project.read',
    about: 'repository',
    answer: zPullRequestDetail,
  }),
  readPullRequestDiff: operation({
    method: 'get',
    path: '/pull-requests/:repository/:number/diff',
    summary: 'Its diff',
    may: 'project.read',
    about: 'repository',
    answer: zDiff,
  }),
  openPullRequest: operation({
    method: 'post',
    path: '/pull-requests',
    summary: 'Open a pull request, in its code host or, where plain git is all there is, here',
    may: 'code.contribute',
    about: 'nothing',
    body: zOpenPullRequest,
    answer: z.object({ number: z.number().int() }),
    problems: ['outside-unreachable'],
  }),
  proposePullRequest: operation({
    method: 'get',
    path: '/repositories/:repository/pull-request-proposal',
    summary:
      'What a pull request of a branch could say (by its commits, the repository’s own text and the items), what it would ' +
      'bring, and what would conflict',
    may: 'project.read',
    about: 'repository',
    query: z.object({
      source: z.string().min(1).max(200),
      target: z.string().min(1).max(200).optional(),
      template: z.string().max(200).optional(),
    }),
    answer: z.object({
      target: z.string(),
      title: z.string(),
      text: z.string(),
      /** Texts that the repository keeps for this, by their names; one is taken. */
      templates: z.array(z.string()),
      template: z.string().nullable(),
      commits: z.array(z.object({ sha: z.string(), subject: z.string() })),
      /** Files that both lines changed against each other. */
      conflicts: z.array(z.string()),
    }),
  }),
  changePullRequest: operation({
    method: 'patch',
    path: '/pull-requests/:repository/:number',
    summary: 'Change title or text of a pull request that lives here, close it or open it again',
    may: 'code.contribute',
    about: 'repository',
    body: zChangePullRequest,
    answer: zPullRequestDetail,
  }),
  mergePullRequest: operation({
    method: 'post',
    path: '/pull-requests/:repository/:number/merge',
    summary: 'Merge in the code host',
    may: 'code.contribute',
    about: 'repository',
    answer: z.object({}),
  }),
}
