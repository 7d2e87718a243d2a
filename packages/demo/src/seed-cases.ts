import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { beginCase, doCase, planCases, signPlan } from '@dystracer/server/subjects/cases/cases.commands'

const PROJECT = 'EMB'
const DAY_MS = 86_400_000

/** What Emberwick's people do by hand before a release, and what they found. */
export function layDownCases(
  ctx: ServiceContext,
  memberOf: (personId: string) => Who,
  clock: { at(atMs: number, act: () => void): void; todayMs: number },
): void {
  const [mara, noor, rafe, ines] = ['mara', 'noor', 'rafe', 'ines'].map(memberOf) as [Who, Who, Who, Who]
  const write = (title: string, verifies: string[], text: string, ...steps: [done: string, expected: string][]) =>
    beginCase(ctx, mara, PROJECT, { title, text, verifies, steps: steps.map(([done, expect]) => ({ do: done, expect })) })
  let lid = 0
  let limiter = 0
  let stop = 0
  let panel = 0
  let pass = 0
  clock.at(clock.todayMs - 40 * DAY_MS, () => {
    lid = write(
      'Open the lid while it fires',
      ['SAF-7'],
      'A kiln with a lid, **empty**, at room temperature.',
      ['Start a schedule to 300 °C', 'It heats'],
      ['Open the lid by a hand’s breadth', 'Elements are without power within a second; the panel says “paused”'],
      ['Close the lid', 'The firing goes on by itself in the same segment'],
    )
    limiter = write(
      'The limiter opens by itself',
      ['SAF-2'],
      'The test kiln with the heated probe. Nobody leaves the room.',
      ['Hang the schedule with the service key', 'The panel stops counting'],
      ['Heat the probe to 15 °C above the rated limit', 'The contactor opens within 5 s, heard as a click'],
      ['Let the probe cool', 'The contactor stays open until the panel is acknowledged'],
    )
    stop = write(
      'Stop at the panel',
      ['SAF-9'],
      '',
      ['Fire to 200 °C', ''],
      ['Press stop', 'Heat is off within 2 s'],
      ['Press start', 'It asks for confirmation'],
    )
    panel = write('Read the panel from two metres', ['SAF-11'], 'Daylight, and once at dusk.', [
      'Stand two metres away',
      'Temperature, target, segment and remaining time are legible',
    ])
    pass = write(
      'A guest on a pass',
      ['BKG-10'],
      '',
      ['Add a guest to a reservation', 'The session has one place less'],
      ['Cancel the guest', 'The place is offered again'],
    )
  })
  let september = ''
  clock.at(clock.todayMs - 38 * DAY_MS, () => {
    september = planCases(ctx, mara, PROJECT, {
      name: 'Before 4.1.3 goes out',
      release: 'kiln-controller@4.1.3',
      environments: ['workshop kiln', 'Quayside kiln 2'],
      cases: [lid, limiter, stop],
    })
  })
  const done = (planId: string, who: Who, number: number, environment: string, more: Partial<Parameters<typeof doCase>[4]> = {}) =>
    doCase(ctx, who, PROJECT, planId, {
      number,
      environment,
      revision: 1,
      outcome: 'passed',
      step: null,
      words: '',
      item: null,
      logsDefect: false,
      ...more,
    })
  clock.at(clock.todayMs - 37 * DAY_MS, () => {
    for (const number of [lid, limiter, stop]) done(september, noor, number, 'workshop kiln')
    done(september, rafe, lid, 'Quayside kiln 2')
    done(september, rafe, limiter, 'Quayside kiln 2', {
      outcome: 'skipped',
      words: 'No heated probe there; the workshop’s result stands for it.',
    })
    done(september, rafe, stop, 'Quayside kiln 2')
  })
  clock.at(clock.todayMs - 36 * DAY_MS, () => {
    signPlan(ctx, ines, { project: PROJECT, planId: september }, { isSigned: true, words: 'Seen at both kilns.' })
  })
  let now = ''
  clock.at(clock.todayMs - 2 * DAY_MS, () => {
    now = planCases(ctx, mara, PROJECT, {
      name: 'Panel and passes',
      release: null,
      environments: ['workshop kiln', 'studio phone'],
      cases: [lid, stop, panel, pass],
    })
    done(now, noor, lid, 'workshop kiln')
    done(now, noor, panel, 'workshop kiln', {
      outcome: 'failed',
      step: 1,
      words: 'The remaining time cannot be read at dusk: grey on grey.',
      item: null,
    })
    done(now, rafe, pass, 'studio phone', { outcome: 'blocked', words: 'The test account holds no reservation this week.' })
  })
}
