import { Problem } from '@dystracer/core/basics/problem'
import type { Filter } from '@dystracer/core/filter/filter'
import { parseFilter } from '@dystracer/core/filter/parse-filter'
import { mayIn } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import { trainStanding } from '@dystracer/core/trains/standing'
import type { Train, TrainCar, TrainDetail } from '@dystracer/core/trains/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { listItems } from '#subjects/looking/index'
import { holdAgainst, placesOf, readNextRelease, releaseBefore } from '#subjects/releases/index'
import {
  GET_RELEASE_IN_PRODUCTION,
  GET_RELEASE_OF_CAR,
  GET_TRAIN,
  LIST_OPEN_TRAIN,
  LIST_TRAIN,
  WAS_IN_PRODUCTION,
} from './trains.queries.js'

/** A train as it is stored. */
export interface TrainRow {
  project: string
  train_id: string
  name: string
  words: string
  leaves_on: string | null
  waits_for: string
  makes: number
  cars: string
  by: string
  at_ms: number
  ready_at_ms: number | null
  held_why: string | null
  called_off_words: string | null
  called_off_by: string | null
  called_off_at_ms: number | null
}

/** So many items of a service stand in the view; the rest is counted. */
const ITEMS_SHOWN = 100
/** So many items that are not merged yet are named. */
const OPEN_SHOWN = 50

/** Trains of a project, the newest plan first. */
export function listTrains(ctx: ServiceContext, project: string): Train[] {
  return sql(ctx.db, LIST_TRAIN)
    .all<TrainRow>({ project })
    .map((row) => toTrain(ctx, row))
}

/** One train with what each service brings and what it waits for. Throws `not-found`. */
export function readTrain(ctx: ServiceContext, who: Who, project: string, trainId: string): TrainDetail {
  const row = requireTrain(ctx, project, trainId)
  const train = toTrain(ctx, row)
  return { ...train, cars: train.cars.map((car) => carOf(ctx, who, car)), waits: waitsOf(ctx, who, row) }
}

/** Throws `not-found`. */
export function requireTrain(ctx: Pick<ServiceContext, 'db'>, project: string, trainId: string): TrainRow {
  const row = sql(ctx.db, GET_TRAIN).get<TrainRow>({ project, trainId })
  if (!row) throw new Problem('not-found', { detail: 'This train is not there.' })
  return row
}

/** Trains that wait for something and were not called off. */
export function openTrains(ctx: Pick<ServiceContext, 'db'>): TrainRow[] {
  return sql(ctx.db, LIST_OPEN_TRAIN).all<TrainRow>({})
}

/** Trains whose releases the asker may make, and whose time has come: what they wait for is merged, and releases are missing. */
export function trainsWaitingFor(ctx: ServiceContext, who: Who): { train: Train; missing: number }[] {
  return openTrains(ctx)
    .filter(({ project, ready_at_ms: readyAtMs }) => readyAtMs !== null && mayIn(who, 'releases.make', project))
    .map((row) => toTrain(ctx, row))
    .map((train) => ({ train, missing: train.cars.filter(({ release }) => release === null).length }))
    .filter(({ missing }) => missing > 0)
}

/**
 * What the train waits for, as far as the asker may see it. An item counts as merged from that stage on, and is not waited for where it was
 * rejected or settled. Throws `invalid-input` for a filter that is not understood.
 */
export function waitsOf(
  ctx: ServiceContext,
  who: Who,
  { project, waits_for: text }: Pick<TrainRow, 'project' | 'waits_for'>,
): TrainDetail['waits'] {
  if (text === '') return null
  const all = wholeFilter(project, text)
  const open: Filter = {
    kind: 'and',
    parts: [
      all,
      { kind: 'compare', field: 'stage', comparison: '<', value: 'merged' },
      ...(['rejected', 'settled'] as const).map((flag): Filter => ({ kind: 'not', part: { kind: 'flag', flag } })),
    ],
  }
  const { rows, total = 0 } = listItems(ctx, who, { filter: open, sort: 'worst', limit: OPEN_SHOWN })
  return { total: listItems(ctx, who, { filter: all, sort: 'newest', limit: 1 }).total ?? 0, open: total, items: rows }
}

/** The filter of a train, kept to its project. Throws `invalid-input`. */
function wholeFilter(project: string, text: string): Filter {
  const parsed = parseFilter(text)
  if ('error' in parsed)
    throw new Problem('invalid-input', {
      fields: { waitsFor: `Not understood from “${parsed.error.word}” on: ${text.slice(parsed.error.from)}` },
    })
  return { kind: 'and', parts: [parsed.filter, { kind: 'compare', field: 'project', comparison: '=', value: project }] }
}

function toTrain(ctx: Pick<ServiceContext, 'db'>, row: TrainRow): Train {
  const cars = JSON.parse(row.cars) as Train['cars']
  const wasInProduction = (service: string, release: string | null) =>
    release !== null && sql(ctx.db, WAS_IN_PRODUCTION).get({ service, release }) !== undefined
  return {
    project: row.project,
    trainId: row.train_id,
    name: row.name,
    words: row.words,
    leavesOn: row.leaves_on,
    waitsFor: row.waits_for,
    makes: row.makes === 1,
    by: row.by,
    atMs: row.at_ms,
    cars,
    standing: trainStanding(
      cars.map(({ service, release }) => ({ release, wasInProduction: wasInProduction(service, release) })),
      row.called_off_at_ms !== null,
    ),
    readyAtMs: row.ready_at_ms,
    heldWhy: row.held_why,
    calledOff:
      row.called_off_at_ms === null ? null : { words: row.called_off_words ?? '', by: row.called_off_by ?? '', atMs: row.called_off_at_ms },
  }
}

/** What a service brings: its release against what runs in production, or what the next one would hold. */
function carOf(ctx: ServiceContext, who: Who, { service, release }: Train['cars'][number]): TrainCar {
  const inProduction = sql(ctx.db, GET_RELEASE_IN_PRODUCTION).get<{ name: string; sha: string }>({ service }) ?? null
  const nothing: TrainCar = {
    service,
    release,
    isThere: false,
    withdrawnWhy: null,
    proposed: null,
    against: inProduction?.name ?? null,
    runsIn: [],
    commits: 0,
    items: [],
    more: 0,
  }
  if (release === null) {
    const next = nextOf(ctx, who, service)
    if (next === null) return nothing
    return {
      ...nothing,
      proposed: next.tip === null ? null : (next.names[0] ?? null),
      against: next.latest,
      commits: next.commits,
      items: next.items.slice(0, ITEMS_SHOWN),
      more: Math.max(0, next.items.length - ITEMS_SHOWN),
    }
  }
  const row = sql(ctx.db, GET_RELEASE_OF_CAR).get<{ sha: string; repository: string; withdrawnWhy: string | null }>({ service, release })
  if (!row) return nothing
  const { sha, repository, withdrawnWhy } = row
  const runsThere = inProduction?.name === release
  const against = runsThere || inProduction === null ? releaseBefore(ctx, { repository, service, name: release, sha }) : inProduction
  const { items, counts } = holdAgainst(ctx, who, { service, release, repository, sha }, against && { ...against, runsIn: null }, {
    shownMax: 0,
  })
  return {
    ...nothing,
    isThere: true,
    withdrawnWhy,
    against: against?.name ?? null,
    runsIn: placesOf(ctx, service, release),
    commits: counts.added,
    items: items.slice(0, ITEMS_SHOWN),
    more: Math.max(0, items.length - ITEMS_SHOWN),
  }
}

/** What the next release of a service would hold; null where its code is not connected. */
function nextOf(ctx: ServiceContext, who: Who, service: string): ReturnType<typeof readNextRelease> | null {
  try {
    return readNextRelease(ctx, who, service)
  } catch (error) {
    if (error instanceof Problem && error.code === 'not-found') return null
    throw error
  }
}
