import type { FieldKind, Filter, FilterVocabulary } from './filter.js'

/** What a condition on commits can name, and how its values are read. */
export const COMMIT_FIELDS = {
  repository: 'word',
  author: 'text',
  path: 'text',
  item: 'key',
  made: 'age',
} as const satisfies Record<string, FieldKind>
/** A field of commits. */
export type CommitField = keyof typeof COMMIT_FIELDS
/** What is true or false of a commit. */
export const COMMIT_FLAGS = ['tied', 'untied', 'merge', 'revert', 'excused'] as const
/** A word of those. */
export type CommitFlag = (typeof COMMIT_FLAGS)[number]
/** The grammar of items with the words of commits; words alone are looked for in the message. */
export const COMMIT_VOCABULARY: FilterVocabulary<CommitField, CommitFlag> = { fields: COMMIT_FIELDS, flags: COMMIT_FLAGS, bare: new Map() }
/** A condition on commits as a tree. */
export type CommitFilter = Filter<CommitField, CommitFlag>

/** What a condition on pull requests can name. */
export const PULL_REQUEST_FIELDS = {
  repository: 'word',
  author: 'text',
  branch: 'text',
  into: 'text',
  item: 'key',
  number: 'number',
  opened: 'age',
  updated: 'age',
} as const satisfies Record<string, FieldKind>
/** A field of pull requests. */
export type PullRequestField = keyof typeof PULL_REQUEST_FIELDS
/** What is true or false of a pull request. */
export const PULL_REQUEST_FLAGS = ['open', 'merged', 'closed', 'tied', 'untied'] as const
/** A word of those. */
export type PullRequestFlag = (typeof PULL_REQUEST_FLAGS)[number]
/** The grammar of items with the words of pull requests; words alone are looked for in title and text. */
export const PULL_REQUEST_VOCABULARY: FilterVocabulary<PullRequestField, PullRequestFlag> = {
  fields: PULL_REQUEST_FIELDS,
  flags: PULL_REQUEST_FLAGS,
  bare: new Map(),
}
/** A condition on pull requests as a tree. */
export type PullRequestFilter = Filter<PullRequestField, PullRequestFlag>

/** What a condition on builds can name. */
export const BUILD_FIELDS = {
  repository: 'word',
  branch: 'text',
  commit: 'text',
  failed: 'number',
  started: 'age',
} as const satisfies Record<string, FieldKind>
/** A field of builds. */
export type BuildField = keyof typeof BUILD_FIELDS
/** What is true or false of a build. */
export const BUILD_FLAGS = ['passed', 'broke', 'running', 'main'] as const
/** A word of those. */
export type BuildFlag = (typeof BUILD_FLAGS)[number]
/** The grammar of items with the words of builds; words alone are looked for in its name and its branch. */
export const BUILD_VOCABULARY: FilterVocabulary<BuildField, BuildFlag> = { fields: BUILD_FIELDS, flags: BUILD_FLAGS, bare: new Map() }
/** A condition on builds as a tree. */
export type BuildFilter = Filter<BuildField, BuildFlag>

/** What a condition on branches can name. */
export const BRANCH_FIELDS = { repository: 'word', item: 'key', moved: 'age' } as const satisfies Record<string, FieldKind>
/** A field of branches. */
export type BranchField = keyof typeof BRANCH_FIELDS
/** What is true or false of a branch. */
export const BRANCH_FLAGS = ['tied', 'untied', 'rewritten', 'main'] as const
/** A word of those. */
export type BranchFlag = (typeof BRANCH_FLAGS)[number]
/** The grammar of items with the words of branches; words alone are looked for in the name. */
export const BRANCH_VOCABULARY: FilterVocabulary<BranchField, BranchFlag> = { fields: BRANCH_FIELDS, flags: BRANCH_FLAGS, bare: new Map() }
/** A condition on branches as a tree. */
export type BranchFilter = Filter<BranchField, BranchFlag>
