import { zAtMs, zDay } from '#basics/wire'
import { operation } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { zReleaseName } from '#releases/contents-wire'
import { z } from 'zod'
import { TRAIN_STANDINGS } from './standing.js'

/** A train: releases of several services that go out together, and how far it is. */
export const zTrain = z.object({
  project: z.string(),
  trainId: z.string(),
  name: z.string(),
  words: z.string(),
  leavesOn: z.string().nullable(),
  waitsFor: z.string(),
  makes: z.boolean(),
  by: z.string(),
  atMs: zAtMs,
  cars: z.array(z.object({ service: z.string(), release: z.string().nullable() })),
  standing: z.enum(TRAIN_STANDINGS),
  /** When all that it waits for was merged. */
  readyAtMs: zAtMs.nullable(),
  /** Why its releases could not be made by themselves. */
  heldWhy: z.string().nullable(),
  calledOff: z.object({ words: z.string(), by: z.string(), atMs: zAtMs }).nullable(),
})
export type Train = z.infer<typeof zTrain>

/** What one service brings: its release, or what it could be made of. */
export const zTrainCar = z.object({
  service: z.string(),
  release: z.string().nullable(),
  /** False where the release is not there any more, by a tag that was deleted. */
  isThere: z.boolean(),
  withdrawnWhy: z.string().nullable(),
  /** What the next release of it could be called; null where there is one, or its code was not read yet. */
  proposed: z.string().nullable(),
  /** What it is held against: what runs in production, else the release before; null for the first. */
  against: z.string().nullable(),
  runsIn: z.array(z.string()),
  commits: z.number().int(),
  /** What it brings; the first hundred. */
  items: z.array(zItemSummary),
  more: z.number().int(),
})
export type TrainCar = z.infer<typeof zTrainCar>

/** One train with what each service brings and what it waits for. */
export const zTrainDetail = zTrain.omit({ cars: true }).extend({
  cars: z.array(zTrainCar),
  /** The items that it waits for, as far as the asker may see them: how many there are, and those that are not merged. */
  waits: z.object({ total: z.number().int(), open: z.number().int(), items: z.array(zItemSummary) }).nullable(),
})
export type TrainDetail = z.infer<typeof zTrainDetail>

/** A train as it is planned. */
export const zPlanTrain = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name').max(80),
  words: z.string().trim().max(4000).default(''),
  leavesOn: zDay.nullable().default(null),
  waitsFor: z.string().trim().max(1000).default(''),
  makes: z.boolean().default(false),
  cars: z
    .array(z.strictObject({ service: z.string().max(200), release: zReleaseName.nullable().default(null) }))
    .min(1, 'Choose a service')
    .max(50),
})
/** The same, with nothing left open. */
export type PlanTrain = z.output<typeof zPlanTrain>

/** What became of each service; `why` where it was refused. */
const zDone = z.object({ train: zTrainDetail, refused: z.array(z.object({ service: z.string(), why: z.string() })) })
export type TrainDone = z.infer<typeof zDone>

const PATH = '/projects/:project/trains'
const ONE = `${PATH}/:trainId`

/** What can be asked of trains. */
export const trainsOperations = {
  listTrains: operation({
    method: 'get',
    path: PATH,
    summary: 'Releases of several services that go out together, the newest plan first',
    may: 'project.read',
    about: 'project',
    answer: z.object({ rows: z.array(zTrain) }),
  }),
  readTrain: operation({
    method: 'get',
    path: ONE,
    summary: 'One train: what each service brings, where that runs, and what it waits for',
    may: 'project.read',
    about: 'project',
    answer: zTrainDetail,
  }),
  planTrain: operation({
    method: 'post',
    path: PATH,
    summary: 'Plan a train',
    may: 'releases.make',
    about: 'project',
    body: zPlanTrain,
    answer: zTrainDetail,
    status: 201,
  }),
  changeTrain: operation({
    method: 'put',
    path: ONE,
    summary: 'Change what a train is to be',
    may: 'releases.make',
    about: 'project',
    body: zPlanTrain,
    answer: zTrainDetail,
  }),
  callTrainOff: operation({
    method: 'put',
    path: `${ONE}/called-off`,
    summary: 'Call a train off, or let it go after all',
    may: 'releases.make',
    about: 'project',
    body: z.strictObject({ isCalledOff: z.boolean(), words: z.string().trim().max(1000).default('') }),
    answer: zTrainDetail,
  }),
  makeTrainReleases: operation({
    method: 'post',
    path: `${ONE}/releases`,
    summary: 'Make the releases that are missing, of what the main lines hold now; a service without changes goes with its newest',
    may: 'releases.make',
    about: 'project',
    answer: zDone,
  }),
  sendTrain: operation({
    method: 'post',
    path: `${ONE}/deployments`,
    summary: 'Ask for each of its releases in an environment, in their order, or say that they run there; one that does already is left',
    may: 'releases.deploy',
    about: 'project',
    body: z.strictObject({
      environment: z.string().max(100),
      /** They run there by now: for whoever brings them there without a deployer. */
      isTold: z.boolean().default(false),
    }),
    answer: zDone,
  }),
}
