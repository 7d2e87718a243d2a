import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { sql } from '@dystracer/server/platform/db/statements'
import { setPlaceGates } from '@dystracer/server/subjects/places/places.commands'
import { planTrain } from '@dystracer/server/subjects/trains/trains.commands'

const PROJECT = 'EMB'
const DAY_MS = 86_400_000
const dayOf = (atMs: number) => new Date(atMs).toISOString().slice(0, 10)
const monthOf = (atMs: number) => new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' }).format(atMs)

/** The train that went out last, the one that waits until its milestone is merged, and the freeze behind it. */
export function layDownTrains(
  ctx: ServiceContext,
  memberOf: (personId: string) => Who,
  clock: { at(atMs: number, act: () => void): void },
): void {
  const ines = memberOf('ines')
  const newest = (service: string) =>
    sql(ctx.db, 'SELECT name, at_ms AS atMs FROM release WHERE service = @service ORDER BY at_ms DESC LIMIT 1').get<{
      name: string
      atMs: number
    }>({ service })
  const [planner, controller] = [newest('firing-planner'), newest('kiln-controller')]
  if (!planner || !controller) return
  clock.at(controller.atMs + 600_000, () =>
    planTrain(ctx, ines, PROJECT, {
      name: monthOf(controller.atMs),
      words: 'The planner goes first: the controller asks it for the schedule that it follows.',
      leavesOn: dayOf(controller.atMs + 2 * DAY_MS),
      waitsFor: '',
      makes: false,
      cars: [
        { service: 'firing-planner', release: planner.name },
        { service: 'kiln-controller', release: controller.name },
      ],
    }),
  )
  const nowMs = ctx.nowMs()
  clock.at(nowMs - 15 * DAY_MS, () =>
    setPlaceGates(ctx, ines, 'production', [
      {
        kind: 'freeze',
        from: dayOf(nowMs + 19 * DAY_MS),
        to: dayOf(nowMs + 33 * DAY_MS),
        why: 'studios fire without anybody there',
        timeZone: 'Europe/Copenhagen',
      },
    ]),
  )
  clock.at(nowMs - 14 * DAY_MS, () =>
    planTrain(ctx, ines, PROJECT, {
      name: 'Before the winter break',
      words: 'Studios close for two weeks; whoever fires then should have all of 4.2.',
      leavesOn: dayOf(nowMs + 15 * DAY_MS),
      waitsFor: 'milestone=4.2',
      makes: false,
      cars: ['firing-planner', 'kiln-controller', 'glaze-lab'].map((service) => ({ service, release: null })),
    }),
  )
}
