import { Problem } from '@dystracer/core/basics/problem'
import { STRANGER, type Who } from '@dystracer/core/people/who'
import { isReady } from '@dystracer/core/trains/standing'
import type { PlanTrain, Train, TrainDone } from '@dystracer/core/trains/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { archivedProjects } from '#subjects/people/index'
import { askDeployment, makeRelease, placesOf, readNextRelease, releaseNamesOf, tellDeployment } from '#subjects/releases/index'
import { requireProject } from '#subjects/setup/index'
import { LIST_SERVICE_OF_PROJECT } from './trains.queries.js'
import { openTrains, readTrain, requireTrain, type TrainRow, waitsOf } from './trains.views.js'

interface Of {
  project: string
  trainId: string
}
type Cars = Train['cars']

const LOOK_EVERY_MS = 60_000

/** Plans a train and gives its id. Throws `invalid-input` for a service or a release that is not there, or a filter that says nothing. */
export function planTrain(ctx: ServiceContext, who: Who, project: string, input: PlanTrain): string {
  requireProject(ctx.db, project)
  requireKnown(ctx, who, project, input)
  const trainId = ctx.newId()
  write(ctx, who.actor, { project, trainId }, input)
  return trainId
}

/** Changes what a train is to be. Throws `not-found`, `conflict` for one that was called off, `invalid-input`. */
export function changeTrain(ctx: ServiceContext, who: Who, of: Of, input: PlanTrain): void {
  requireGoing(ctx, of)
  requireKnown(ctx, who, of.project, input)
  write(ctx, who.actor, of, input)
}

/** Calls a train off, or lets it go after all. Throws `not-found`, `conflict` where it is so already. */
export function callTrainOff(ctx: ServiceContext, who: Who, of: Of, { isCalledOff, words }: { isCalledOff: boolean; words: string }): void {
  const row = requireTrain(ctx, of.project, of.trainId)
  if ((row.called_off_at_ms !== null) === isCalledOff)
    throw new Problem('conflict', { detail: isCalledOff ? 'It was called off already.' : 'It goes already.' })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'train-called-off', actor: who.actor, subjects: [`project:${of.project}`], body: { ...of, isCalledOff, words } })
  })
}

/**
 * Makes the releases that are missing, each of what its main line holds now; a service in which nothing changed goes with its newest. What
 * one service is refused for does not keep the others back.
 */
export async function makeTrainReleases(ctx: ServiceContext, who: Who, of: Of): Promise<TrainDone> {
  const row = requireGoing(ctx, of)
  const { cars, refused } = await makeMissing(ctx, who, JSON.parse(row.cars) as Cars)
  keepCars(ctx, who.actor, of, cars)
  return { train: readTrain(ctx, who, of.project, of.trainId), refused }
}

/**
 * Asks for each of its releases in an environment, in their order, or (`isTold`) says that they run there. What one is refused for does not
 * keep the others back.
 */
export async function sendTrain(
  ctx: ServiceContext,
  who: Who,
  of: Of,
  { environment, isTold }: { environment: string; isTold: boolean },
): Promise<TrainDone> {
  const row = requireGoing(ctx, of)
  const refused: TrainDone['refused'] = []
  for (const { service, release } of JSON.parse(row.cars) as Cars) {
    if (release === null) refused.push({ service, why: 'It has no release yet.' })
    else if (!placesOf(ctx, service, release).includes(environment))
      await orTold(refused, service, async () =>
        isTold ? tellDeployment(ctx, who, { service, release, environment }) : askDeployment(ctx, who, { service, release, environment }),
      )
  }
  return { train: readTrain(ctx, who, of.project, of.trainId), refused }
}

/** Looks at trains whose items must be merged first, for as long as the server runs. */
export function startLookingAtTrains(ctx: ServiceContext): void {
  ctx.jobs.every({ name: 'looking at trains', everyMs: LOOK_EVERY_MS, run: () => lookAtTrains(ctx) })
}

/**
 * Notes which trains are ready since all that they wait for is merged; of those that ask for it, makes the releases that are missing,
 * once.
 */
export async function lookAtTrains(ctx: ServiceContext): Promise<void> {
  const archived = archivedProjects(ctx.db)
  for (const row of openTrains(ctx).filter(({ project, ready_at_ms: readyAtMs }) => readyAtMs === null && !archived.includes(project))) {
    const { project, train_id: trainId, name } = row
    const waits = waitsOf(ctx, everything(project), row)
    if (!waits || !isReady({ waitsFor: row.waits_for, ...waits })) continue
    ctx.journal.write((writer) => {
      writer.append({
        kind: 'train-ready',
        actor: 'system',
        subjects: [`project:${project}`],
        body: { project, trainId, name, items: waits.total },
      })
    })
    if (row.makes === 1) await makeByItself(ctx, row)
  }
}

async function makeByItself(ctx: ServiceContext, { project, train_id: trainId, name, cars: text }: TrainRow): Promise<void> {
  const { cars, refused } = await makeMissing(ctx, everything(project), JSON.parse(text) as Cars)
  keepCars(ctx, 'system', { project, trainId }, cars)
  if (refused.length === 0) return
  const why = refused.map((one) => `${one.service}: ${one.why}`).join(' ')
  ctx.journal.write((writer) => {
    writer.append({ kind: 'train-held', actor: 'system', subjects: [`project:${project}`], body: { project, trainId, name, why } })
  })
}

/** Who sees all of a project, as the product itself does; it acts under its own name. */
function everything(project: string): Who {
  return { ...STRANGER, actor: 'system', roles: { [project]: 'lead' } }
}

async function makeMissing(ctx: ServiceContext, who: Who, cars: Cars): Promise<{ cars: Cars; refused: TrainDone['refused'] }> {
  const refused: TrainDone['refused'] = []
  const made: Cars = []
  for (const car of cars)
    made.push(
      car.release === null ? { ...car, release: (await orTold(refused, car.service, () => makeOne(ctx, who, car.service))) ?? null } : car,
    )
  return { cars: made, refused }
}

/** The release of a service that goes with a train: a new one of its main line, or its newest where nothing changed since. */
async function makeOne(ctx: ServiceContext, who: Who, service: string): Promise<string> {
  const next = readNextRelease(ctx, who, service)
  if (next.tip === null) throw new Problem('conflict', { detail: `The main line of ${next.repository} has not been read yet.` })
  if (next.latest !== null && next.commits === 0) return next.latest
  const name = next.names[0]
  if (name === undefined) throw new Problem('conflict', { detail: `No name follows from the releases of ${service}. Make it by hand.` })
  return (await makeRelease(ctx, who, service, { name, sha: next.tip.sha })).release
}

/** What an act gives; where it is refused, the words for it are noted instead. */
async function orTold<Result>(refused: TrainDone['refused'], service: string, act: () => Promise<Result>): Promise<Result | undefined> {
  try {
    return await act()
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    refused.push({ service, why: error.message })
    return undefined
  }
}

/** Keeps the releases that were made, beside whatever was changed of the train meanwhile. */
function keepCars(ctx: ServiceContext, actor: string, of: Of, cars: Cars): void {
  const row = requireTrain(ctx, of.project, of.trainId)
  const known = new Map(cars.map(({ service, release }) => [service, release]))
  const now = (JSON.parse(row.cars) as Cars).map((car) => ({ ...car, release: car.release ?? known.get(car.service) ?? null }))
  if (JSON.stringify(now) === row.cars) return
  write(ctx, actor, of, {
    name: row.name,
    words: row.words,
    leavesOn: row.leaves_on,
    waitsFor: row.waits_for,
    makes: row.makes === 1,
    cars: now,
  })
}

function write(ctx: ServiceContext, actor: string, of: Of, input: PlanTrain): void {
  ctx.journal.write((writer) => {
    writer.append({ kind: 'train-planned', actor, subjects: [`project:${of.project}`], body: { ...of, ...input } })
  })
}

function requireGoing(ctx: ServiceContext, { project, trainId }: Of): TrainRow {
  const row = requireTrain(ctx, project, trainId)
  if (row.called_off_at_ms !== null) throw new Problem('conflict', { detail: 'It was called off. Let it go first.' })
  return row
}

function requireKnown(ctx: ServiceContext, who: Who, project: string, { cars, waitsFor }: PlanTrain): void {
  const wrong = (words: string) => new Problem('invalid-input', { fields: { cars: words } })
  const own = new Set(
    sql(ctx.db, LIST_SERVICE_OF_PROJECT)
      .all<{ name: string }>({ project })
      .map(({ name }) => name),
  )
  for (const [at, { service, release }] of cars.entries()) {
    if (!own.has(service)) throw wrong(`${service} is no service of this project`)
    if (cars.findIndex((car) => car.service === service) < at) throw wrong(`${service} stands in it twice`)
    if (release !== null && !releaseNamesOf(ctx, service).includes(release)) throw wrong(`${service} has no release ${release}`)
  }
  waitsOf(ctx, who, { project, waits_for: waitsFor })
}
