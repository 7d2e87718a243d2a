import { zAtMs } from '#basics/wire'
import { operation, outsidePath } from '#people/operation'
import { z } from 'zod'
import { zBuildPlan } from './description.js'

const zSha = z.string().regex(/^[0-9a-f]{40,64}$/, 'The whole hash of a commit, 40 or 64 digits')

/** A build that a person or a push wants of a build machine. */
export const zWantedBuild = z.object({
  wantedId: z.string(),
  repository: z.string(),
  branch: z.string(),
  sha: z.string(),
  state: z.enum(['waiting', 'running', 'stopping', 'ended']),
  outcome: z.enum(['passed', 'broke', 'stopped', 'lost', 'replaced']).nullable(),
  /** Who wants it; null for a push. */
  by: z.string().nullable(),
  wantedAtMs: zAtMs,
  takenAtMs: zAtMs.nullable(),
  endedAtMs: zAtMs.nullable(),
  machine: z.string().nullable(),
  /** The build that it became, or is a further attempt of. */
  number: z.number().int().nullable(),
  isAgain: z.boolean(),
})
export type WantedBuild = z.infer<typeof zWantedBuild>
/** A machine that has asked for builds since the server started. */
export const zBuildMachine = z.object({
  name: z.string(),
  lastSeenAtMs: zAtMs,
  /** Whether it was heard of within the last minute. */
  isHere: z.boolean(),
  /** What it builds; empty for whatever its token may send. */
  repositories: z.array(z.string()),
  /** What it is at. */
  wantedId: z.string().nullable(),
})
export type BuildMachine = z.infer<typeof zBuildMachine>

const zDescriptionProblem = z.object({ line: z.number().int().nullable(), text: z.string() })
/** How a repository is built, by the file that it keeps at a commit. */
export const zBuildDescription = z.object({
  path: z.string(),
  branch: z.string(),
  sha: z.string().nullable(),
  /** Null where there is no such file. */
  text: z.string().nullable(),
  problems: z.array(zDescriptionProblem),
  /** What a machine would do; null where there is no file, or something is wrong with it. */
  plan: zBuildPlan.nullable(),
  /** What starts a build by itself, in words; null where only people do. */
  starts: z.object({ branches: z.array(z.string()), paths: z.array(z.string()) }).nullable(),
  /** What the files of the repository suggest, where it has none. */
  suggestion: z
    .object({
      text: z.string(),
      found: z.array(z.object({ what: z.string(), by: z.string() })),
      notes: z.array(z.string()),
    })
    .nullable(),
})
export type BuildDescription = z.infer<typeof zBuildDescription>

const zText = z.string().min(1).max(50_000)

/** What can be asked of how builds are described and who runs them. */
export const buildMachinesOperations = {
  listWantedBuilds: operation({
    method: 'get',
    path: '/wanted-builds',
    summary:
      'Builds that wait for a machine or run on one, and those that ended last, at most twenty; and the machines that ask for builds',
    may: 'member-of-any',
    about: 'nothing',
    query: z.object({ repository: z.string().max(100).optional() }),
    answer: z.object({ rows: z.array(zWantedBuild), machines: z.array(zBuildMachine) }),
  }),
  wantBuild: operation({
    status: 201,
    method: 'post',
    path: '/repositories/:repository/wanted-builds',
    summary: 'Want a build of a branch or a commit, or one of a known build again; a build machine takes it',
    may: 'code.contribute',
    about: 'repository',
    body: z
      .strictObject({
        branch: z.string().trim().min(1).max(250).optional(),
        commit: zSha.optional(),
        /** The number of a build: a further attempt of it. */
        again: z.number().int().min(1).optional(),
      })
      .refine(({ branch, commit, again }) => again !== undefined || branch !== undefined || commit !== undefined, {
        path: ['branch'],
        message: 'Name a branch, a commit, or the build to repeat',
      }),
    answer: zWantedBuild,
  }),
  stopWantedBuild: operation({
    method: 'post',
    path: '/repositories/:repository/wanted-builds/:wantedId/stop',
    summary: 'Stop a build that waits or runs; its machine ends it within some seconds',
    may: 'code.contribute',
    about: 'repository',
    answer: zWantedBuild,
  }),
  readBuildDescription: operation({
    method: 'get',
    path: '/repositories/:repository/build-description',
    summary: 'How a repository is built by the file in its code; where it has none, one that its files suggest',
    may: 'project.read',
    about: 'repository',
    query: z.object({ branch: z.string().max(250).optional() }),
    answer: zBuildDescription,
  }),
  tryBuildDescription: operation({
    method: 'post',
    path: '/repositories/:repository/build-description/trial',
    summary: 'What a machine would do by a description, or what is wrong with it; nothing is kept',
    may: 'project.read',
    about: 'repository',
    body: z.strictObject({ text: zText }),
    answer: z.object({ problems: z.array(zDescriptionProblem), plan: zBuildPlan.nullable() }),
  }),
  proposeBuildDescription: operation({
    status: 201,
    method: 'post',
    path: '/repositories/:repository/build-description',
    summary: 'Commit a description to a branch of its own and open a pull request for it',
    may: 'code.contribute',
    about: 'repository',
    isPersonal: true,
    body: z.strictObject({ text: zText }),
    answer: z.object({ branch: z.string(), number: z.number().int() }),
  }),
}

const zMachineName = z.string().trim().min(1).max(100)
const json = { media: ['application/json'] }
const LIMIT_BYTES = 64 * 1024

/** What a build machine is given: the commit, where it lies, and what to do there. */
export const zTakenBuild = z.object({
  wantedId: z.string(),
  repository: z.string(),
  url: z.string(),
  sha: z.string(),
  branch: z.string(),
  /** What the build is called in everything that is told of it. */
  build: z.string(),
  /** Null where the commit holds no description that can be followed; `problems` says why. */
  plan: zBuildPlan.nullable(),
  problems: z.array(zDescriptionProblem),
})
export type TakenBuild = z.infer<typeof zTakenBuild>

/** What a machine sends when it asks for a build. */
export const zAskForBuild = z.strictObject({
  machine: zMachineName,
  repositories: z.array(z.string().min(1).max(100)).max(200).default([]),
  /** How long the answer may wait for a build to be wanted. */
  patienceMs: z.number().int().min(0).max(25_000).default(0),
})
/** What a machine sends while it builds. */
export const zAtBuild = z.strictObject({ machine: zMachineName, wantedId: z.string().min(1).max(100) })
/** What a machine sends at the end of a build. */
export const zBuildEnd = zAtBuild.extend({ outcome: z.enum(['passed', 'broke', 'stopped']) })

/** Where build machines ask for builds; each needs a token of scope evidence. */
export const buildMachinesPaths = {
  takeWantedBuild: outsidePath({
    method: 'post',
    path: '/receive/machines/take',
    summary: 'A build machine asks for the next build that is wanted; null where none is',
    proof: 'evidence',
    takes: { ...json, limitBytes: LIMIT_BYTES, json: zAskForBuild },
    gives: { ...json, json: z.object({ wanted: zTakenBuild.nullable() }), status: 200 },
    refusesAs: 'problem',
  }),
  beatOfBuild: outsidePath({
    method: 'post',
    path: '/receive/machines/beat',
    summary: 'A build machine says that it is at its build still, at least every thirty seconds, and hears whether to stop',
    proof: 'evidence',
    takes: { ...json, limitBytes: LIMIT_BYTES, json: zAtBuild },
    gives: { ...json, json: z.object({ isStopWanted: z.boolean() }), status: 200 },
    refusesAs: 'problem',
    problems: ['not-found'],
  }),
  endWantedBuild: outsidePath({
    method: 'post',
    path: '/receive/machines/end',
    summary: 'A build machine says how its build ended',
    proof: 'evidence',
    takes: { ...json, limitBytes: LIMIT_BYTES, json: zBuildEnd },
    gives: { ...json, json: z.object({}), status: 200 },
    refusesAs: 'problem',
    problems: ['not-found'],
  }),
}
