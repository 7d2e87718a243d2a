import { zAtMs, zDay, zEmpty, zPage, zPageQuery } from '#basics/wire'
import { zBuild, zSuspect } from '#code/wire'
import { zBrought, zFoundHere } from '#findings/wire'
import { operation, outsidePath } from '#people/operation'
import { zRealDay } from '#setup/own-field'
import { z } from 'zod'
import { CONDITIONS } from './test-record.js'

/** One test's outcome in one build, with the requirement that it proves if it names one. */
export const zTestResult = z.object({
  suite: z.string(),
  name: z.string(),
  outcome: z.enum(['passed', 'failed', 'skipped', 'flaky']),
  durationMs: z.number(),
  message: z.string(),
  verifies: z.array(z.string()),
})
export type TestResult = z.infer<typeof zTestResult>
/** A part of a build that its service ran by itself. */
export const zBuildStep = z.object({
  /** How the build's service calls it. */
  step: z.string(),
  name: z.string(),
  /** The step that it is a part of. */
  parent: z.string().nullable(),
  startedAtMs: zAtMs.nullable(),
  finishedAtMs: zAtMs.nullable(),
  outcome: z.enum(['passed', 'broke', 'stopped']).nullable(),
})
/** A file of which a build's tests ran some lines; lines as ranges (`1-5 8`). */
export const zFileCoverage = z.object({
  path: z.string(),
  covered: z.number().int(),
  missed: z.number().int(),
  missedLines: z.string(),
})
/** A build with its tests. */
export const zBuildDetail = zBuild.extend({
  tests: z.array(zTestResult),
  steps: z.array(zBuildStep),
  coverage: z.array(zFileCoverage),
  items: z.array(z.string()),
  pullRequest: z.number().int().nullable(),
  passedBefore: z.number().int(),
})
export type BuildDetail = z.infer<typeof zBuildDetail>
const zOutcome = z.enum(['passed', 'failed', 'skipped', 'flaky'])
/** What a test did in the builds of a branch, oldest first. */
export const zStrip = z.array(z.object({ number: z.number().int(), name: z.string(), outcome: zOutcome }))
/** Tests of a build that fail for one cause, likely. */
export const zFailureGroup = z.object({
  tests: z.array(z.object({ suite: z.string(), name: z.string(), message: z.string(), verifies: z.array(z.string()) })),
  /** Where they fail, in code that is no test. */
  place: z.object({ function: z.string().nullable(), file: z.string(), line: z.number().int().nullable() }).nullable(),
  /** The build in which the first of them began to fail, and how many passed before it without a break. */
  since: z.object({ number: z.number().int(), name: z.string(), atMs: zAtMs, passedBefore: z.number().int() }),
  strip: zStrip,
  /** Commits that may have brought it in, likeliest first; none where nobody knows when it was well. */
  suspects: z.array(zSuspect),
  /** Whether the commit can be found by building: a commit is known at which the first of them passed. */
  canBisect: z.boolean(),
  /** Whether one of those is the asker's. */
  isMine: z.boolean(),
  onIt: z.object({ personId: z.string(), note: z.string(), atMs: zAtMs }).nullable(),
})
export type FailureGroup = z.infer<typeof zFailureGroup>
/** That a test is set aside: until when, why and by whom. */
export const zAside = z.object({ suite: z.string(), name: z.string(), until: zDay, why: z.string(), by: z.string(), atMs: zAtMs })
export type Aside = z.infer<typeof zAside>
/** What broke in a build, told by cause, and the tests of it that both passed and failed. */
export const zFailures = z.object({
  groups: z.array(zFailureGroup),
  flaky: z.array(z.object({ suite: z.string(), name: z.string(), message: z.string(), strip: zStrip })),
  /** Tests that fail and are set aside: they hold no merge up. */
  aside: z.array(zAside.extend({ message: z.string() })),
})
export type Failures = z.infer<typeof zFailures>
const zCodeLines = z.object({ from: z.number().int(), lines: z.array(z.string()) })
/** One failed test read closely: what it expected, where it failed, its own code, and what became of it in other builds of the commit. */
export const zFailureDetail = z.object({
  expected: z.string().nullable(),
  actual: z.string().nullable(),
  /** Places of the repository's own code, innermost first, with the lines around at the build's commit. */
  frames: z.array(z.object({ function: z.string().nullable(), path: z.string(), line: z.number().int(), source: zCodeLines })),
  code: zCodeLines.extend({ path: z.string() }).nullable(),
  attempts: z.array(z.object({ number: z.number().int(), name: z.string(), outcome: zOutcome })),
})
export type FailureDetail = z.infer<typeof zFailureDetail>
/** A test as its build knows it. */
export const zTestOf = z.strictObject({ suite: z.string().max(500), name: z.string().max(500) })
const zShare = z.object({ count: z.number().int(), of: z.number().int(), share: z.number(), from: z.number(), to: z.number() })
/** The past of one test: its newest outcomes, how often it is flaky, what it said when it failed, and its pace. */
export const zTestRecord = z.object({
  repository: z.string(),
  suite: z.string(),
  name: z.string(),
  verifies: z.array(z.string()),
  /** The newest first. */
  outcomes: z.array(
    z.object({
      number: z.number().int(),
      build: z.string(),
      branch: z.string(),
      atMs: zAtMs,
      outcome: z.enum(['passed', 'failed', 'skipped', 'flaky']),
      durationMs: z.number(),
    }),
  ),
  flaky: zShare.nullable(),
  /** How many passes in a row would show that it is mended, and how many it has; null where it never was flaky. */
  mending: z.object({ needs: z.number().int(), has: z.number().int() }).nullable(),
  aside: zAside.nullable(),
  failures: z.array(z.object({ message: z.string(), count: z.number().int(), newest: z.number().int(), newestBuild: z.string() })),
  /** The file that it stands in, as far as reports say, and who looks after that by the owners file. */
  file: z.string().nullable(),
  ownerIds: z.array(z.string()),
  /** How often it did not simply pass, by what it may hang on. */
  conditions: z.array(z.object({ by: z.enum(CONDITIONS), value: z.string(), share: zShare, standsOut: z.boolean() })),
  /** What it was called before it was moved or renamed, the newest first; the outcomes of then are among its own. */
  formerly: z.array(z.object({ suite: z.string(), name: z.string(), until: z.number().int(), untilBuild: z.string() })),
  medianMs: z.number().nullable(),
  /** Since which build it takes another time; null where its pace is steady. */
  change: z.object({ number: z.number().int(), build: z.string(), beforeMs: z.number(), afterMs: z.number() }).nullable(),
})
export type TestRecord = z.infer<typeof zTestRecord>
/** Which builds: of one repository, or of all that the asker sees. */
export const zBuildQuery = zPageQuery.extend({
  repository: z.string().optional(),
  /** In the grammar of items' filters, with the words of builds. */
  filter: z.string().max(1000).optional(),
})
/** How the main line of a repository stands by its newest builds. */
export const zMainLine = z.object({
  repository: z.string(),
  branch: z.string(),
  /** The newest build that has ended; null while none was told. */
  newest: zBuild.nullable(),
  /** The first that broke since one passed; null while it passes. */
  brokenSince: zBuild.nullable(),
  /** Authors of the commits that came between the last that passed and that first one, at most five. */
  brokenBy: z.array(z.string()),
  /** Whoever is on one of its failures. */
  takenBy: z.array(z.string()),
})
export type MainLine = z.infer<typeof zMainLine>
/** Something that was built, by its package URL (purl-spec), as build services told of it. */
export const zArtefact = z.object({
  purl: z.string(),
  name: z.string(),
  version: z.string().nullable(),
  /** What was told of it last: `packaged`, `signed`, `published`, `downloaded`, `deleted` (CDEvents). */
  state: z.string(),
  /** Where its bill of materials lies; null where none was told, or where it is no web address. */
  sbomUrl: z.string().nullable(),
  atMs: zAtMs,
})
export type Artefact = z.infer<typeof zArtefact>

/** A finding with those who look after its file by the owners file of the main line. */
const zOwnedFinding = zFoundHere.extend({ ownerIds: z.array(z.string()) })
/** What analysers found at a commit, held against another by what each finding is, whatever line it has moved to. */
export const zBuildFindings = z.object({
  /** Whether any report of findings came of its commit. */
  isAnalysed: z.boolean(),
  /** The nearest analysed commit before it: of the main line for a branch beside it; null where there is none. */
  against: z.string().nullable(),
  /** What it brings, in numbers; what is set aside does not count. */
  brought: zBrought,
  fresh: z.array(zOwnedFinding),
  gone: z.array(zOwnedFinding),
  /** How many stayed. */
  stayed: z.number().int(),
  /** New or gone ones beyond those that are listed. */
  more: z.number().int(),
})
export type BuildFindings = z.infer<typeof zBuildFindings>

/** What can be asked of builds. */
export const buildsOperations = {
  listArtefacts: operation({
    method: 'get',
    path: '/releases/:release/artefacts',
    summary: 'What a release was built into, newest first, at most a hundred; `total` counts all',
    may: 'project.read',
    about: 'release',
    answer: z.object({ rows: z.array(zArtefact), total: z.number().int() }),
  }),
  listBuilds: operation({
    method: 'get',
    path: '/builds',
    summary: 'Builds, newest first, by a filter',
    may: 'member-of-any',
    about: 'nothing',
    query: zBuildQuery,
    answer: zPage(zBuild),
  }),
  listMainLines: operation({
    method: 'get',
    path: '/main-lines',
    summary: 'How the main line of each repository stands: since when it is broken, by whose commits, and who is on it',
    may: 'member-of-any',
    about: 'nothing',
    answer: z.object({ rows: z.array(zMainLine) }),
  }),
  readFailures: operation({
    method: 'get',
    path: '/builds/:repository/:number/failures',
    summary: 'What broke in a build, by likely cause: since when, perhaps by which commit, and who is on it',
    may: 'project.read',
    about: 'repository',
    answer: zFailures,
  }),
  readBuildFindings: operation({
    method: 'get',
    path: '/builds/:repository/:number/findings',
    summary: 'What analysers found at its commit: what is new, and what is gone, against the nearest analysed commit before it',
    may: 'project.read',
    about: 'repository',
    answer: zBuildFindings,
  }),
  readFailure: operation({
    method: 'get',
    path: '/builds/:repository/:number/failures/detail',
    summary: 'One failed test read closely: expected and actual, own code on the way, the code of the test, other builds of the commit',
    may: 'project.read',
    about: 'repository',
    query: z.object({ suite: z.string().max(500), name: z.string().min(1).max(1000) }),
    answer: zFailureDetail,
  }),
  takeFailure: operation({
    method: 'post',
    path: '/builds/:repository/:number/failures/taking',
    summary: 'Say that one sees to a failing test, or does not any more',
    may: 'items.change',
    about: 'repository',
    isPersonal: true,
    body: zTestOf.extend({ isOn: z.boolean().default(true), note: z.string().trim().max(500).default('') }),
    answer: zFailures,
  }),
  logFailure: operation({
    status: 201,
    method: 'post',
    path: '/builds/:repository/:number/failures/item',
    summary: 'Log an item for a failing test',
    may: 'items.log',
    about: 'repository',
    body: zTestOf,
    answer: z.object({ key: z.string() }),
  }),
  readBadgeLink: operation({
    method: 'get',
    path: '/repositories/:repository/badge',
    summary: 'The private link to a small picture that says how the main line of a repository stands',
    may: 'project.read',
    about: 'repository',
    isOfNow: true,
    answer: z.object({ address: z.string() }),
  }),
  listAside: operation({
    method: 'get',
    path: '/set-aside-tests',
    summary: 'Tests that are set aside, those first whose day is nearest',
    may: 'member-of-any',
    about: 'nothing',
    answer: z.object({ rows: z.array(zAside.extend({ repository: z.string() })) }),
  }),
  setAside: operation({
    method: 'put',
    path: '/test-records/:repository/aside',
    summary: 'Set a test aside until a day, with the reason: it holds no merge up meanwhile; or (until null) count it again',
    may: 'code.contribute',
    about: 'repository',
    body: zTestOf
      .extend({ until: zRealDay.nullable(), why: z.string().trim().max(500).default('') })
      .refine(({ until, why }) => until === null || why !== '', {
        path: ['why'],
        message: 'Say why it does not count',
      }),
    answer: zEmpty,
  }),
  readTestRecord: operation({
    method: 'get',
    path: '/test-records/:repository',
    summary: 'The past of one test over the newest builds that ran it',
    may: 'project.read',
    about: 'repository',
    query: z.object({ suite: z.string().max(500), name: z.string().min(1).max(1000) }),
    answer: zTestRecord,
  }),
  readBuild: operation({
    method: 'get',
    path: '/builds/:repository/:number',
    summary: 'A build with its tests',
    may: 'project.read',
    about: 'repository',
    answer: zBuildDetail,
  }),
}

/** What pages elsewhere show of builds. */
export const buildsPaths = {
  readBadge: outsidePath({
    method: 'get',
    path: '/badges/:name',
    summary: 'How the main line of a repository stands, as a small picture (SVG), by private link; it tells nothing but that',
    proof: 'private-link',
    gives: { media: ['image/svg+xml'], status: 200 },
    refusesAs: 'problem',
  }),
}
