import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { z } from 'zod'

/** A release on its way to an environment or there. */
export const zDeployment = z.object({
  deploymentId: z.string(),
  service: z.string(),
  release: z.string(),
  environment: z.string(),
  state: z.enum(['asked', 'approved', 'running', 'failed', 'replaced']),
  askedBy: z.string().nullable(),
  approvedBy: z.string().nullable(),
  atMs: zAtMs,
  /** When it began to run; null where it never did. */
  runningAtMs: zAtMs.nullable(),
  /** Why it failed, in the deployer's words. */
  why: z.string().nullable(),
  /** What has to hold before it goes out, each with whether it does, while it waits. */
  gates: z.array(z.object({ code: z.string(), isMet: z.boolean(), words: z.string() })),
  /** Who agreed that it goes out, where its place asks for several. */
  agreedBy: z.array(z.string()),
  /** Why it went out though gates did not hold, and by whom. */
  passedOver: z.object({ why: z.string(), by: z.string(), unmet: z.array(z.string()) }).nullable(),
})
export type Deployment = z.infer<typeof zDeployment>
/** A release of a service and what it holds first. */
export const zRelease = z.object({
  service: z.string(),
  release: z.string(),
  repository: z.string(),
  tag: z.string(),
  sha: z.string(),
  atMs: zAtMs,
  isRewritten: z.boolean(),
  /** Why it is not to be brought anywhere any more; null while it stands. */
  withdrawn: z.object({ why: z.string(), by: z.string(), atMs: zAtMs }).nullable(),
  runsIn: z.array(z.string()),
  items: z.array(zItemSummary),
})
export type Release = z.infer<typeof zRelease>
/** Withdraws a release, with the reason, or lets it stand again. */
export const zWithdrawRelease = z.strictObject({ isWithdrawn: z.boolean(), why: z.string().trim().max(1000).default('') })
export type WithdrawRelease = z.output<typeof zWithdrawRelease>
/** A place where releases run. */
export const zEnvironment = z.object({
  environment: z.string(),
  kind: z.enum(['production', 'staging', 'test']),
  needsApproval: z.boolean(),
  position: z.number().int(),
})
/** The kinds of environments; what runs in production counts as released, and silence there as proof. */
export const ENVIRONMENT_KINDS = ['production', 'staging', 'test'] as const
/** The name of an environment, as deployments and telemetry say it (`deployment.environment.name`). */
export const zEnvironmentName = z
  .string()
  .trim()
  .regex(/^[a-z0-9][a-z0-9._-]{0,49}$/i, 'Letters, digits, dots and hyphens')
/** An environment as it is set up; where it stands decides the order in which releases go through. */
export const zSetEnvironment = z.strictObject({
  kind: z.enum(ENVIRONMENT_KINDS),
  needsApproval: z.boolean().default(false),
  position: z.number().int().min(1).max(1000),
})
/** An environment to set up, with nothing left open. */
export type SetEnvironment = z.output<typeof zSetEnvironment>
/** A place where programs say that they are another release than the one that was told to run there. */
export const zPlaceDrift = z.object({
  environment: z.string(),
  release: z.string(),
  lastAtMs: zAtMs,
  /** What was told to run there; null where nobody told anything. */
  told: z.string().nullable(),
  /** Whether the release that was told is heard there, too: it came to some of its machines. */
  isPartly: z.boolean(),
})
export type PlaceDrift = z.infer<typeof zPlaceDrift>
/** What runs where, and which releases there are. */
export const zReleaseBoard = z.object({
  environments: z.array(zEnvironment),
  /** Whether a deployer is connected; without one people and scripts say what runs where. */
  hasDeployer: z.boolean(),
  services: z.array(
    z.object({
      service: z.string(),
      repository: z.string(),
      releases: z.array(zRelease.omit({ items: true }).extend({ fixes: z.number().int() })),
      deployments: z.array(zDeployment),
      /** What ran when in each environment, the oldest first. */
      runs: z.array(
        z.object({
          environment: z.string(),
          deploymentId: z.string(),
          release: z.string(),
          fromMs: zAtMs,
          toMs: zAtMs.nullable(),
          isTakenBack: z.boolean(),
        }),
      ),
      lastHeardAtMs: zAtMs.nullable(),
      /** Where its programs say that they are another release than was told, within the last hour. */
      drift: z.array(zPlaceDrift),
    }),
  ),
})
export type ReleaseBoard = z.infer<typeof zReleaseBoard>
/** Asks for a release of a service to be brought to an environment. */
export const zAskDeployment = z.strictObject({ service: z.string(), release: z.string(), environment: z.string() })

/** That a release runs somewhere, as somebody knows who brought it there; left out, since now. */
export const zTellDeployment = zAskDeployment.extend({ atMs: zAtMs.optional() })

/** What can be asked of releases. */
export const releasesOperations = {
  readReleaseBoard: operation({
    method: 'get',
    path: '/releases',
    summary: 'Releases and where they run',
    may: 'member-of-any',
    about: 'nothing',
    answer: zReleaseBoard,
  }),
  readRelease: operation({
    method: 'get',
    path: '/releases/:release',
    summary: 'One release, as service@version',
    may: 'project.read',
    about: 'release',
    answer: zRelease,
  }),
  withdrawRelease: operation({
    method: 'put',
    path: '/releases/:release/withdrawn',
    summary: 'Withdraw a release, so that it is brought nowhere any more, or let it stand again',
    may: 'releases.make',
    about: 'release',
    body: zWithdrawRelease,
    answer: zRelease,
  }),
  askDeployment: operation({
    method: 'post',
    path: '/deployments',
    summary: 'Ask for a release in an environment',
    may: 'releases.deploy',
    about: 'nothing',
    body: zAskDeployment,
    answer: zReleaseBoard,
    problems: ['outside-unreachable', 'gate-closed'],
  }),
  tellDeployment: operation({
    method: 'post',
    path: '/deployments/told',
    summary: 'Say that a release runs in an environment, and since when: for whoever brings it there without a deployer',
    may: 'releases.deploy',
    about: 'nothing',
    body: zTellDeployment,
    answer: zReleaseBoard,
  }),
  takeDeploymentBack: operation({
    method: 'delete',
    path: '/deployments/:id',
    summary: 'Take back that a release runs, where people say what does: it was asked for or approved as before, or never was',
    may: 'releases.deploy',
    about: 'deployment',
    answer: zReleaseBoard,
  }),
  approveDeployment: operation({
    method: 'post',
    path: '/deployments/:id/approve',
    summary: 'Approve a waiting deployment',
    may: 'releases.approve',
    about: 'deployment',
    answer: zReleaseBoard,
  }),
  checkDeployment: operation({
    method: 'put',
    path: '/deployments/:id/checks',
    summary: 'Say that a check of its place was made by hand for a waiting deployment, or take that back',
    may: 'releases.deploy',
    about: 'deployment',
    body: z.strictObject({ words: z.string().max(200), isOn: z.boolean() }),
    answer: zReleaseBoard,
    problems: ['conflict'],
  }),
  takeAgreementBack: operation({
    method: 'delete',
    path: '/deployments/:id/agreement',
    summary: 'Take back that one agreed to a deployment that still waits',
    may: 'releases.approve',
    about: 'deployment',
    answer: zReleaseBoard,
    problems: ['conflict'],
  }),
  passOverGates: operation({
    method: 'post',
    path: '/deployments/:id/pass-over',
    summary: 'Let a waiting deployment go out though gates of its place do not hold, for a reason',
    may: 'gates.pass-over',
    about: 'deployment',
    body: z.strictObject({ why: z.string().trim().min(1, 'Say why').max(1000) }),
    answer: zReleaseBoard,
    problems: ['conflict', 'gate-closed', 'outside-unreachable'],
  }),
  setEnvironment: operation({
    method: 'put',
    path: '/environments/:environment',
    summary: 'Set up an environment, or change it',
    may: 'environments.set-up',
    about: 'nothing',
    body: zSetEnvironment,
    answer: zReleaseBoard,
  }),
  removeEnvironment: operation({
    method: 'delete',
    path: '/environments/:environment',
    summary: 'Remove an environment that nothing was brought to',
    may: 'environments.set-up',
    about: 'nothing',
    answer: zReleaseBoard,
  }),
}
